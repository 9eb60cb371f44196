import { createHash } from 'node:crypto';
import { buildChunk, Dictionaries } from '@/core/sealed/chunk';
import { packChunk, packResults } from '@/core/sealed/pack';
import { buildResultsDay, ResultNames } from '@/core/sealed/resultsDay';
import { DAY_MS } from '@/core/time/day';
import type pg from 'pg';
import { steps } from '../db/failedTasks';
import { withTransaction } from '../db/pool';
import { many } from '../db/queryable';
import type { ReadSide } from '../db/readSide';
import { isoDay, recordedDays } from './days';
import { loadResultRows } from './rawResults';
import { loadSlices } from './rawSlices';

/** A day is sealed this long after its end: tabs left open overnight have gone quiet by then. */
export const GRACE_MS = 2 * 3_600_000;
/** A sealed day that something came for is sealed anew this long after. */
export const QUIET_MS = 10 * 60_000;

export const digestOf = (bytes: Uint8Array): Buffer => createHash('sha256').update(bytes).digest();

/**
 * Seals the days of a site that ended at least `graceMs` before `now` (UTC ms) and are not sealed (wholly), or for which something came at least
 * `quietMs` ago; of certain days only, where `only` names some (ISO). Gives how many. May run twice at once: a day is then written by the one who read it later.
 */
export async function sealVisits(
  reading: ReadSide,
  siteId: number,
  {
    now,
    graceMs = GRACE_MS,
    quietMs = QUIET_MS,
    only,
  }: { now: number; graceMs?: number; quietMs?: number; only?: readonly string[] | undefined },
): Promise<number> {
  const due = (await recordedDays(reading.primary, siteId)).filter(({ dayStart, sealed, lateSince, isWhole }) => {
    if (dayStart + DAY_MS + graceMs > now || (only && !only.includes(isoDay(dayStart)))) return false;
    return sealed === undefined || !isWhole || (lateSince !== undefined && lateSince + quietMs <= now);
  });
  const failures: unknown[] = [];
  // A day that cannot be put in columns does not keep those after it from theirs.
  for (const { dayStart } of due)
    await sealDay(reading, siteId, dayStart).catch((cause: unknown) =>
      failures.push(new Error(`${isoDay(dayStart)}: ${cause instanceof Error ? cause.message : String(cause)}`, { cause })),
    );
  if (failures.length > 0) throw new AggregateError(failures, failures.slice(0, 3).map(String).join('; '));
  return due.length;
}

async function sealDay(reading: ReadSide, siteId: number, dayStart: number): Promise<void> {
  const attempt = await beginSealing(reading.primary, siteId, dayStart);
  const known = new Dictionaries();
  const db = await reading.caughtUp();
  const chunk = buildChunk(dayStart, await loadSlices(db, siteId, dayStart), known);
  const { history, timelines } = await packChunk(chunk, known);
  const names = new ResultNames();
  const results = await packResults(buildResultsDay(dayStart, await loadResultRows(db, siteId, dayStart), names), names);
  await reading.primary.query(
    `update sealed_visits set visits = $4, history = $5, timelines = $6, results = $7, digests = $8, sealed_at = clock_timestamp()
      where site_id = $1 and day = $2 and attempt = $3`,
    [siteId, isoDay(dayStart), attempt, chunk.visitAt.length, history, timelines, results, [history, timelines, results].map(digestOf)],
  );
}

/** From here on whatever comes for the day is noted as late: what came before has been committed, and is read. */
function beginSealing(db: pg.Pool, siteId: number, dayStart: number): Promise<number> {
  return withTransaction(db, async (tx) => {
    const day = isoDay(dayStart);
    await tx.query(`select pg_advisory_xact_lock($1, $2::date - date '2000-01-01')`, [siteId, day]);
    await tx.query(`delete from late_day where site_id = $1 and day = $2`, [siteId, day]);
    const [row] = await many<{ attempt: number }>(
      tx,
      `insert into sealed_visits (site_id, day, attempt) values ($1, $2, 1)
       on conflict (site_id, day) do update set attempt = sealed_visits.attempt + 1, history = null, timelines = null, results = null, digests = null, sealed_at = null
       returning attempt`,
      [siteId, day],
    );
    return row?.attempt ?? 0;
  });
}

/** Seals what is due of the sites; one that fails does not take the others along. @throws AggregateError of what failed. */
export async function sealSites(
  reading: ReadSide,
  sites: readonly number[],
  { now, log }: { now: number; log: (text: string) => void },
): Promise<void> {
  const { step, failures } = await steps(reading.primary, 'seal', { now });
  for (const site of sites)
    await step({ site, subject: 'days', name: 'Days of visits' }, async () => {
      const days = await sealVisits(reading, site, { now });
      if (days > 0) log(`site ${site}: sealed ${days} days`);
    });
  if (failures.length > 0) throw new AggregateError(failures, `${failures.length} sites were not sealed`);
}
