import { isStaffed } from '../db/colleagues';
import type { VisitorRecord } from '@/core/history/record';
import { visitorAt } from '@/core/history/record';
import type { Weather } from '@/core/history/visitor';
import { readsOfValues, valuesOf } from '@/core/messages/values';
import type { Reads } from '@/core/people/reads';
import { readsOf } from '@/core/people/reads';
import { conditionHolds } from '@/core/people/condition';
import { LONGEST_LOOKBACK_DAYS } from '@/core/history/visitor';
import type { DecisionContext } from '@/core/wire/items';
import type { CurrentRelease } from '../db/releases';
import type { Queryable } from '../db/queryable';
import { maybeOne } from '../db/queryable';
import type { AskWeather } from '../connections/services';
import type { StoredVisitor } from '../db/visitors';
import { loadVisitors } from '../db/visitors';
import { pacingOf } from '../db/showings';

/** A page waits for its facts: of a history that is longer than any person's the newest counts. */
const MOST_JUDGED = 2000;
/** In letters: a longer release is worth a request of its own, which caches between answer. */
const LONGEST_IN_ANSWER = 24_000;

/** What the page must know to decide: the release, the facts over the history on record by now, and what was shown before. */
export async function loadDecisionContext(
  db: Queryable,
  {
    siteId,
    visitorId,
    current,
    now,
    askWeather,
    skew = 0,
    has,
    opens = true,
  }: {
    siteId: number;
    visitorId: number;
    current: CurrentRelease | undefined;
    now: number;
    askWeather: AskWeather;
    /** What the browser's clock is behind, in ms: instants are told by its own clock. */
    skew?: number;
    /** The hash of the release that the page has got. */
    has?: string | undefined;
    /** Is it asked because a page opened? */
    opens?: boolean;
  },
): Promise<DecisionContext> {
  if (!current) return { release: null, facts: [], pacing: { campaigns: {} } };
  const wanted = current.document.values ?? [];
  const stored =
    current.facts.length || wanted.length
      ? (await loadVisitors(db, siteId, [visitorId], { most: MOST_JUDGED, reads: readsFor(current, wanted) }))[0]
      : undefined;
  const record = stored?.record;
  // A clock that is a little ahead must not hide the very page view that asks.
  const judgedAt = Math.max(now, record?.visits.at(-1)?.views.at(-1)?.at ?? 0);
  const asksWeather = current.facts.some(({ kind }) => kind === 'weather');
  const weather = stored && asksWeather ? await weatherOf(db, { siteId, stored, at: judgedAt, askWeather }) : undefined;
  const visitor = record && { ...visitorAt(record, judgedAt), ...(weather ? { weather } : {}) };
  const { sets, places } = current;
  const staffed = current.facts.some(({ kind }) => kind === 'staffed') ? await isStaffed(db, siteId, now) : undefined;
  if (record && staffed !== undefined && visitor?.staffed !== staffed)
    await noteStaffed(db, {
      siteId,
      visitorId,
      record,
      staffed,
      at: opens ? (record.visits.at(-1)?.views.at(-1)?.at ?? judgedAt) : judgedAt,
    });
  const facts = current.facts.map((condition) =>
    visitor
      ? conditionHolds(condition, { visitor, now: judgedAt, lookback: LONGEST_LOOKBACK_DAYS, sets, places, segments: {}, staffed })
      : null,
  );
  return {
    release: { number: current.number, hash: current.hash },
    ...(has !== current.hash && current.length <= LONGEST_IN_ANSWER ? { document: current.document } : {}),
    facts,
    pacing: await loadPacing(db, { siteId, visitorId, skew }),
    ...(visitor && wanted.length ? { values: valuesOf(visitor, { wanted, now: judgedAt, sets }) } : {}),
  };
}

/** What the release asks of a history, for its conditions and for the values that its messages put in. */
function readsFor({ facts }: CurrentRelease, wanted: readonly string[]): Reads {
  const [reads, also] = [readsOf(facts), readsOfValues(wanted)];
  return {
    views: reads.views || also.views,
    events: reads.events || also.events,
    profile: reads.profile || also.profile,
    responses: reads.responses,
  };
}

export async function findVisitor(db: Queryable, siteId: number, browser: string): Promise<number | undefined> {
  return (await maybeOne<{ id: number }>(db, `select id from visitor where site_id = $1 and browser_id = $2`, [siteId, browser]))?.id;
}

/** The weather where the visitor is, asked once a visit and put on record with it. */
async function weatherOf(
  db: Queryable,
  { siteId, stored, at, askWeather }: { siteId: number; stored: StoredVisitor; at: number; askWeather: AskWeather },
): Promise<Weather | undefined> {
  const visit = stored.record.visits.at(-1);
  if (!visit || visit.weather) return visit?.weather;
  const { lat, lon } = visit.location ?? {};
  if (lat === undefined || lon === undefined) return undefined;
  const weather = await askWeather({ lat, lon }, at);
  if (weather)
    await db.query(`update visit set weather = $3 where site_id = $1 and id = $2 and weather is null`, [
      siteId,
      stored.visitIds.at(-1),
      weather,
    ]);
  return weather;
}

/**
 * Puts on record whether somebody is there to chat, as of the page view that asks or of what happened in it: that is when a rehearsal will ask
 * it of the visit.
 */
async function noteStaffed(
  db: Queryable,
  { siteId, visitorId, record, staffed, at }: { siteId: number; visitorId: number; record: VisitorRecord; staffed: boolean; at: number },
): Promise<void> {
  // A page that opened earlier may ask later, in another tab: what was found last stands.
  const before = record.changes.findLast(({ kind }) => kind === 'staffed')?.at ?? -Infinity;
  await db.query(
    `with noted as (
       insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values ($1, $2, at_ms($3), 'staffed', '', $4, gen_random_uuid()))
     update visitor set touched_at = clock_timestamp() where site_id = $1 and id = $2`,
    [siteId, visitorId, Math.max(at, before + 1), JSON.stringify(staffed)],
  );
}

async function loadPacing(
  db: Queryable,
  { siteId, visitorId, skew }: { siteId: number; visitorId: number; skew: number },
): Promise<DecisionContext['pacing']> {
  const rows = await pacingOf(db, siteId, visitorId);
  const campaigns = Object.fromEntries(rows.map(({ campaign, lastAt, ...counts }) => [campaign, { ...counts, lastAt: lastAt - skew }]));
  const latest = Math.max(...rows.map(({ lastAt }) => lastAt));
  return { campaigns, ...(rows.length ? { lastAt: latest - skew } : {}) };
}
