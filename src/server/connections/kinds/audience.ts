import type { Given, Kind, Sent } from './kind';
import { neverSent } from './kind';
import { askMembers, emailHash, takeOut } from './members';

const call = ({ settings: { url, audience, allowPrivate }, ...rest }: Given<'audience'> | Sent<'audience'>, path = '') => ({
  ...rest,
  url: `${url.replace(/\/$/, '')}/audiences/${encodeURIComponent(audience)}${path}`,
  allowPrivate,
});
const person = (email: string): string => `/people/${emailHash(email)}`;

/** Only hashes go there. */
export const audienceKind: Kind<'audience'> = {
  check: (given) => askMembers('GET', call(given)),
  lead: async ({ email }, given) => (email ? askMembers('PUT', call(given, person(email)), {}) : neverSent('the lead has no email')),
  joined: ({ email }, given) => askMembers('PUT', call(given, person(email)), {}),
  left: ({ email }, given) => takeOut(call(given, person(email))),
  erased: (email, given) => takeOut(call(given, person(email))),
};
