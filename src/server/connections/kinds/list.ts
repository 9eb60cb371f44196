import { createHash } from 'node:crypto';
import { exchange } from './http';
import type { Given, Kind } from './kind';

const at = ({ url, list }: Given<'list'>['settings'], rest = ''): string =>
  `${url.replace(/\/$/, '')}/lists/${encodeURIComponent(list)}${rest}`;
const headers = (secret = ''): Record<string, string> => ({ authorization: `Bearer ${secret}`, 'content-type': 'application/json' });

/** Members stand under the hash of their email: putting one there twice is once. */
export const listKind: Kind<'list'> = {
  check: ({ settings, secret, now }) =>
    exchange({ url: at(settings), method: 'GET', headers: headers(secret), allowPrivate: settings.allowPrivate ?? false }, now, isJson),
  send: async ({ email, fields, tags, campaign }, { settings, secret, now, delivery }) => {
    if (!email) return { verdict: { is: 'never', reason: 'the lead has no email' }, status: null, note: 'the lead has no email' };
    const member = createHash('sha256').update(email.trim().toLowerCase()).digest('hex');
    return exchange(
      {
        url: at(settings, `/members/${member}`),
        method: 'PUT',
        headers: { ...headers(secret), 'idempotency-key': delivery },
        body: JSON.stringify({ email, fields, tags: [...tags, ...(campaign.name ? [campaign.name] : [])] }),
        allowPrivate: settings.allowPrivate ?? false,
      },
      now,
      isJson,
    );
  },
};

function isJson(body: string): boolean {
  try {
    return typeof JSON.parse(body) === 'object';
  } catch {
    return false;
  }
}
