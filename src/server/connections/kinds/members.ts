import { createHash } from 'node:crypto';
import { exchange } from './http';
import type { Exchanged } from './kind';

/** SHA-256 of the trimmed lower-case address, in hex. */
export const emailHash = (email: string): string => createHash('sha256').update(email.trim().toLowerCase()).digest('hex');

interface Call {
  readonly url: string;
  readonly allowPrivate: boolean | undefined;
  readonly secret: string | undefined;
  readonly now: number;
  readonly delivery?: string;
}

/** Asks a service that keeps members and knows its key; what answers in its place, and is no JSON, has not taken anything. */
export const askMembers = (
  method: 'GET' | 'PUT' | 'DELETE',
  { url, allowPrivate = false, secret = '', now, delivery }: Call,
  body?: unknown,
): Promise<Exchanged> =>
  exchange(
    {
      url,
      method,
      headers: {
        authorization: `Bearer ${secret}`,
        'content-type': 'application/json',
        ...(delivery === undefined ? {} : { 'idempotency-key': delivery }),
      },
      body: body === undefined ? undefined : JSON.stringify(body),
      allowPrivate,
    },
    now,
    isJson,
  );

/** Whoever is not there any more is out. */
export async function takeOut(call: Call): Promise<Exchanged> {
  const exchanged = await askMembers('DELETE', call);
  return exchanged.status === 404 ? { verdict: { is: 'sent' }, status: 404, note: '' } : exchanged;
}

function isJson(body: string): boolean {
  try {
    return typeof JSON.parse(body) === 'object';
  } catch {
    return false;
  }
}
