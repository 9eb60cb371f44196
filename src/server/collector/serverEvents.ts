import { createHash, timingSafeEqual } from 'node:crypto';
import { issueWords, parseWith } from '@/core/parsing/parse';
import { serverEventSchema, serverEventsSchema } from '@/core/wire/serverEvents';
import type { Directory } from '../db/directory';
import { withTransaction } from '../db/pool';
import { findServedRelease } from '../db/releases';
import { findEventsSecret, findSiteByKey } from '../db/sites';
import type { EventAnswer } from '../exchange/importEvents';
import { importEvent } from '../exchange/importEvents';
import { storable } from './storable';

export type EventsAnswer =
  | { readonly status: 200; readonly events: readonly EventAnswer[] }
  | { readonly status: 400 | 403; readonly code: string; readonly message: string };

/** Takes events from a site's own server, which knows the site's secret; each is answered for itself. */
export async function takeServerEvents(
  directory: Directory,
  { key, authorization, body, now }: { key: string; authorization: string; body: unknown; now: number },
): Promise<EventsAnswer> {
  const site = await findSiteByKey(directory.home, key);
  const pool = site && directory.of(site.id);
  const hash = pool && (await findEventsSecret(pool, site.id));
  // Whether there is such a site is nobody's business who does not know its secret.
  if (!site || !pool || !hash || !isSecret(authorization, hash))
    return {
      status: 403,
      code: 'events.secret',
      message: 'authorization: expected Bearer and the secret that Setup shows once, as it is made',
    };
  const text = typeof body === 'string' ? body : '';
  const parsed = parseWith(serverEventsSchema, parsedJson(text));
  if (!parsed.ok) return { status: 400, code: 'events.malformed', message: parsed.issues.slice(0, 5).map(issueWords).join('; ') };
  const release = (await findServedRelease(pool, site.id))?.published;
  const events: EventAnswer[] = [];
  for (const given of parsed.value.events) {
    const event = parseWith(serverEventSchema, given);
    if (!event.ok) events.push({ ok: false, code: 'event.malformed', message: event.issues.slice(0, 3).map(issueWords).join('; ') });
    else events.push(await withTransaction(pool, (tx) => importEvent(tx, site.id, event.value, { release, now })));
  }
  return { status: 200, events };
}

function isSecret(authorization: string, hash: Buffer): boolean {
  const met = createHash('sha256')
    .update(authorization.replace(/^Bearer /i, ''))
    .digest();
  return met.length === hash.length && timingSafeEqual(met, hash);
}

/** Undefined for what is none: the schema says so. */
function parsedJson(text: string): unknown {
  try {
    return storable(JSON.parse(text), text);
  } catch {
    return undefined;
  }
}
