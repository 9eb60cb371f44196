import type { Signing } from './signature';
import { isbot } from 'isbot';
import { LRUCache } from 'lru-cache';
import { parseWith, issueWords } from '@/core/parsing/parse';
import type { BatchAnswer, ItemAnswer } from '@/core/wire/items';
import { batchSchema, itemSchema } from '@/core/wire/items';
import { DAY_MS } from '@/core/time/day';
import { storable } from './storable';
import type { Services } from '../connections/siteServices';
import type { Directory } from '../db/directory';
import type { ServedRelease } from '../db/releases';
import { findServedRelease } from '../db/releases';
import type { Site } from '../db/sites';
import { findSite, findSigning, findSiteByKey, noteRefusal, noteUnknownKey } from '../db/sites';
import { deviceOf } from './device';
import type { Metrics } from './metrics';
import { findVisitor, loadDecisionContext } from './decisionContext';
import type { Pace } from './pace';
import { MOST_OPENS } from './pace';
import type { Entry, Writer } from './writer';

/** A clock that seems behind by less is taken at its word: a request that has travelled for long looks the same. */
const TRAVEL_MS = 30_000;
/** One that is ahead by less is, too. */
const AHEAD_MS = 5000;
/** What is said to have happened longer ago has happened so long ago. */
const OLDEST_MS = 30 * DAY_MS;

/** What a page sent, whatever carried it. Header values are as they came. */
export interface IncomingRequest {
  readonly body: unknown;
  /** Serves to look the place up and to give senders their turns, and goes no further. */
  readonly ip: string;
  readonly userAgent: string;
  readonly origin: string | undefined;
  readonly doNotTrack: string | undefined;
  readonly globalPrivacyControl: string | undefined;
}

export interface CollectTools {
  readonly directory: Directory;
  readonly known: (key: string) => Promise<KnownSite | undefined>;
  readonly servicesOf: (siteId: number) => Promise<Services>;
  readonly writer: Writer;
  readonly metrics: Metrics;
  readonly pace: Pace;
  readonly clock: () => number;
}

export interface KnownSite {
  readonly site: Site;
  readonly current: ServedRelease | undefined;
  readonly signing: Signing;
}

/** Nothing of the request was kept. */
export class RequestRejected extends Error {
  constructor(
    readonly status: 400 | 403 | 404,
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

export async function loadKnown(directory: Directory, key: string): Promise<KnownSite | undefined> {
  const named = await findSiteByKey(directory.home, key);
  const pool = named && directory.of(named.id);
  // What stands at home of a site that is elsewhere is as old as its move.
  const site = pool && (await findSite(pool, named.id));
  if (!site) return undefined;
  const [current, signing] = await Promise.all([findServedRelease(pool, site.id), findSigning(pool, site.id)]);
  return { site, current, signing };
}

/** Takes a batch of items; resolves once what it answers for is committed. Throws `Turned`, `Busy`, and what the database throws. */
export async function collect(sent: IncomingRequest, tools: CollectTools): Promise<BatchAnswer> {
  const { directory, known, servicesOf, writer, metrics, clock, pace } = tools;
  const body = parseBody(sent.body);
  if (body === undefined) throw new RequestRejected(400, 'body.notJson', 'The body is not JSON');
  const batch = parseWith(batchSchema, body);
  if (!batch.ok) throw new RequestRejected(400, 'body.shape', batch.issues.map(issueWords).join('; '));
  const { key, browser, now: theirNow, items, has, consent = false } = batch.value;
  const found = await known(key);
  const host = originHost(sent.origin);
  if (!found) {
    if (host) await noteUnknownKey(directory.home, (id) => directory.of(id), { host, key });
    throw new RequestRejected(404, 'site.unknown', `No site has the key ${key}`);
  }
  const { site, current } = found;
  const pool = directory.of(site.id);
  if (isRobot(sent.userAgent)) {
    await noteRefusal(pool, site.id, 'robot', sent.userAgent);
    return { items: items.map(() => ({ ok: true })), now: clock() };
  }
  if (!host || !site.addresses.includes(host)) {
    await noteRefusal(pool, site.id, 'address', host ?? 'no origin');
    throw new RequestRejected(403, 'site.address', `${host ?? 'A page without an origin'} is not one of the addresses of ${site.name}`);
  }
  const objection = consent ? undefined : objectionTo(sent, site);
  if (objection) {
    await noteRefusal(pool, site.id, 'consent', objection);
    const answer: ItemAnswer = { ok: false, code: 'consent.missing', message: `Nothing was kept: ${objection}` };
    return { items: items.map(() => answer), now: clock() };
  }
  const now = clock();
  const behind = now - theirNow;
  const skew = behind > TRAVEL_MS || behind < -AHEAD_MS ? behind : 0;
  const instant = (at: number): number => Math.max(now - OLDEST_MS, Math.min(now + AHEAD_MS, at + skew));
  const parsed = items.map((unknown) => parseWith(itemSchema, unknown));
  const open = parsed.flatMap((item) => (item.ok && item.value.kind === 'open' ? [item.value] : [])).at(-1);
  const { locate, askWeather } = await servicesOf(site.id);
  const location = open && (await locate(sent.ip));
  const sender = {
    site,
    browser,
    instant,
    location,
    signing: found.signing,
    device: open ? deviceOf(sent.userAgent, open.touchPoints) : {},
  };
  const opens = parsed.filter((item) => item.ok && item.value.kind === 'open').length;
  if (opens > 0 && !pace.mayOpen(`${site.id} ${browser}`, opens, now)) {
    await noteRefusal(pool, site.id, 'robot', { words: `one browser that opens more than ${MOST_OPENS} pages an hour` });
    const answer: ItemAnswer = { ok: false, code: 'browser.tooFast', message: 'More pages in an hour than anybody reads' };
    return { items: items.map(() => answer), now };
  }
  const entries = parsed.flatMap((item): Entry[] => (item.ok ? [{ item: item.value, sender, current }] : []));
  const written = await writer.write(`${site.id} ${sent.ip}`, entries);
  const left = written[Symbol.iterator]();
  const answers = parsed.map((item): ItemAnswer => {
    if (!item.ok) return { ok: false, code: 'item.shape', message: item.issues.map(issueWords).join('; ') };
    return (left.next().value as (typeof written)[number]).answer;
  });
  entries.forEach(({ item }, index) => metrics.items.inc({ kind: item.kind, outcome: written[index]?.answer.ok ? 'written' : 'refused' }));
  if (parsed.length > entries.length) metrics.items.inc({ kind: 'unknown', outcome: 'refused' }, parsed.length - entries.length);

  const asks = items.length === 0 || entries.some(({ item }) => WORTH_TELLING.includes(item.kind));
  const visitorId =
    written.findLast((one) => one.visitorId !== undefined)?.visitorId ?? (asks ? await findVisitor(pool, site.id, browser) : undefined);
  const context =
    asks && visitorId !== undefined
      ? await loadDecisionContext(pool, { siteId: site.id, visitorId, current, now: clock(), askWeather, skew, has, opens: opens > 0 })
      : undefined;
  return { items: answers, now: clock(), release: current?.hash ?? null, ...(context ? { context } : {}) };
}

const robots = new LRUCache<string, { is: boolean }>({ max: 5000 });

/** The pattern that tells robots is long, and browsers are few. */
function isRobot(userAgent: string): boolean {
  const known = robots.get(userAgent);
  if (known) return known.is;
  const is = isbot(userAgent);
  if (userAgent.length < 500) robots.set(userAgent, { is });
  return is;
}

/** After these a rule may hold that did not before. */
const WORTH_TELLING: readonly string[] = ['open', 'event', 'person', 'mark', 'form'];

/** Why nothing of this visitor may be kept; undefined if it may. */
function objectionTo({ globalPrivacyControl, doNotTrack }: IncomingRequest, site: Site): string | undefined {
  if (globalPrivacyControl === '1' || doNotTrack === '1') return 'the browser asks for privacy and nobody has agreed';
  return site.consent === 'asked' ? 'this site records only those who have agreed' : undefined;
}

export function parseBody(body: unknown): unknown {
  try {
    if (typeof body !== 'string') return undefined;
    return storable(JSON.parse(body), body);
  } catch {
    return undefined; // The caller answers 400.
  }
}

export function originHost(origin: string | undefined): string | undefined {
  return origin !== undefined && URL.canParse(origin) ? new URL(origin).host : undefined;
}
