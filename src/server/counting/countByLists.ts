import type { CountingInput } from '@/core/counting/countPeople';
import { judgeEveryone } from '@/core/counting/countPeople';
import type { CountingNeeds } from '@/core/counting/needs';
import { countingNeeds, everything, pagesNeeded } from '@/core/counting/needs';
import type { VisitorRecord } from '@/core/history/record';
import type { SegmentBody } from '@/core/people/subject';
import type { Database } from '../db/directory';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { eachChunk } from '../db/visitors';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';
import { loadDays, loadPages, loadSomeOfDays } from './lists';

export interface Count {
  readonly people: number;
  readonly unknown: number;
}

/** What a count at an instant needs, in memory. With the needs of `everything` it serves any number of segments. */
export async function loadCounting(db: Database, siteId: number, now: number, needs: CountingNeeds = everything): Promise<CountingInput> {
  const known = {
    sets: await loadPageSets(db, siteId),
    segments: await segmentBodies(db, siteId),
    places: needs.histories === 'none' ? {} : await loadPlaces(db, siteId),
  };
  const { patterns } = needs;
  const records = needs.histories === 'none' ? undefined : await loadRecords(db, siteId, { withViews: needs.histories === 'whole' });
  const days = patterns
    ? await loadSomeOfDays(db, siteId, now, (pages) => pagesNeeded(patterns, pages, known.sets))
    : await loadDays(db, siteId, now);
  return {
    days,
    pages: await loadPages(db, siteId),
    visits: await loadVisitStarts(db, siteId),
    histories: records && { record: (visitor) => records[visitor] },
    now,
    known,
  };
}

async function loadRecords(db: Queryable, siteId: number, { withViews }: { withViews: boolean }): Promise<(VisitorRecord | undefined)[]> {
  const records: (VisitorRecord | undefined)[] = [undefined];
  for await (const chunk of eachChunk(db, siteId, { withViews, size: 5000 })) for (const { id, record } of chunk) records[id] = record;
  return Array.from({ length: records.length }, (_, id) => records[id]);
}

async function loadVisitStarts(db: Queryable, siteId: number): Promise<CountingInput['visits']> {
  const rows = await many<{ visitor: number; at: number }>(
    db,
    `select visitor_id as visitor, ms(started_at)::float8 as at from visit where site_id = $1`,
    [siteId],
  );
  return { visitors: Uint32Array.from(rows, ({ visitor }) => visitor), starts: Float64Array.from(rows, ({ at }) => at) };
}

/** How many visitors a segment holds at an instant (UTC ms), from posting lists. Exact. */
export async function countByLists(db: Database, siteId: number, segment: SegmentBody, now: number): Promise<Count> {
  const needs = countingNeeds(segment, await segmentBodies(db, siteId));
  return tally(judgeEveryone(segment, await loadCounting(db, siteId, now, needs)));
}

export function tally(values: Uint8Array): Count {
  let [people, unknown] = [0, 0];
  for (const value of values) {
    if (value === 1) people++;
    else if (value === 2) unknown++;
  }
  return { people, unknown };
}
