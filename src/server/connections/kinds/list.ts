import type { Given, Kind, Sent } from './kind';
import { neverSent } from './kind';
import { askMembers, emailHash, takeOut } from './members';

const call = ({ settings: { url, list, allowPrivate }, ...rest }: Given<'list'> | Sent<'list'>, path = '') => ({
  ...rest,
  url: `${url.replace(/\/$/, '')}/lists/${encodeURIComponent(list)}${path}`,
  allowPrivate,
});
const member = (email: string, tag?: string): string =>
  `/members/${emailHash(email)}${tag === undefined ? '' : `/tags/${encodeURIComponent(tag)}`}`;

/** Members stand under the hash of their email: putting one there twice is once. A segment is a tag; whoever has none left is no member. */
export const listKind: Kind<'list'> = {
  check: (given) => askMembers('GET', call(given)),
  lead: async ({ email, fields, tags }, given) =>
    email ? askMembers('PUT', call(given, member(email)), { email, fields, tags }) : neverSent('the lead has no email'),
  joined: ({ email, segment }, given) => askMembers('PUT', call(given, member(email, segment.name)), { email }),
  left: ({ email, segment }, given) => takeOut(call(given, member(email, segment.name))),
  erased: (email, given) => takeOut(call(given, member(email))),
};
