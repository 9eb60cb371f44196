import { createHmac } from 'node:crypto';
import { exchange } from './http';
import type { Kind } from './kind';

/** Signed by the Standard Webhooks scheme (standardwebhooks.com, v1): HMAC-SHA-256 of id, time and body. `key`: `whsec_` and base64. */
export function signatureOf({ id, timestamp, body, key }: { id: string; timestamp: number; body: string; key: string }): string {
  const bytes = Buffer.from(key.replace(/^whsec_/, ''), 'base64');
  return `v1,${createHmac('sha256', bytes).update(`${id}.${timestamp}.${body}`).digest('base64')}`;
}

const post = (
  { id, type, data }: { id: string; type: string; data: unknown },
  { settings: { url, allowPrivate = false }, secret = '', now }: Parameters<Kind<'hook'>['check']>[0],
) => {
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
  );
};

export const hookKind: Kind<'hook'> = {
  check: (given) => post({ id: `check_${given.now}`, type: 'check', data: {} }, given),
  send: (lead, given) => post({ id: given.delivery, type: 'lead', data: lead }, given),
};
