import { createHmac } from 'node:crypto';
import { exchange } from './http';
import type { Exchanged, Given, Kind, Member, Sent } from './kind';

/** Signed by the Standard Webhooks scheme (standardwebhooks.com, v1): HMAC-SHA-256 of id, time and body. `key`: `whsec_` and base64. */
export function signatureOf({ id, timestamp, body, key }: { id: string; timestamp: number; body: string; key: string }): string {
  const bytes = Buffer.from(key.replace(/^whsec_/, ''), 'base64');
  return `v1,${createHmac('sha256', bytes).update(`${id}.${timestamp}.${body}`).digest('base64')}`;
}

function post(
  { id, type, data }: { id: string; type: string; data: unknown },
  { settings: { url, allowPrivate = false }, secret = '', now }: Given<'hook'>,
): Promise<Exchanged> {
  const timestamp = Math.floor(now / 1000);
  const body = JSON.stringify({ type, timestamp: new Date(now).toISOString(), data });
  return exchange(
    {
      url,
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        'webhook-id': id,
        'webhook-timestamp': String(timestamp),
        'webhook-signature': signatureOf({ id, timestamp, body, key: secret }),
      },
      body,
      allowPrivate,
    },
    now,
    // Any answer will do but a page for people: whoever says that they are at work on the server has taken nothing, whatever the status.
    (answer) => !/^\s*<(!doctype html|html|head|body|p|div|h\d)\b/i.test(answer),
  );
}

const changed = (type: string) => (member: Member, given: Sent<'hook'>) => post({ id: given.delivery, type, data: member }, given);

export const hookKind: Kind<'hook'> = {
  check: (given) => post({ id: `check_${given.now}`, type: 'check', data: {} }, given),
  lead: (lead, given) => post({ id: given.delivery, type: 'lead', data: lead }, given),
  joined: changed('segment.joined'),
  left: changed('segment.left'),
  erased: (email, given) => post({ id: given.delivery, type: 'erased', data: { email } }, given),
  told: (what, data, given) => post({ id: given.delivery, type: what, data }, given),
};
