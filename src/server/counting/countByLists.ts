import type { CountingInput } from '@/core/counting/countPeople';
import { judgeEveryone } from '@/core/counting/countPeople';
import type { VisitorRecord } from '@/core/history/record';
import type { SegmentBody } from '@/core/people/subject';
import type { Queryable } from '../db/queryable';
import { eachChunk } from '../db/visitors';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { segmentBodies } from '../segments/count';
import { loadDays, loadPages } from './lists';

export interface Count {
  readonly people: number;
  readonly unknown: number;
}

/** Everything a count at an instant needs, in memory; serves any number of segments. */
export async function loadCounting(db: Queryable, siteId: number, now: number): Promise<CountingInput> {
  const days = await loadDays(db, siteId, Date.now());
  const records: (VisitorRecord | undefined)[] = [undefined];
  for await (const chunk of eachChunk(db, siteId, { withViews: false, size: 5000 }))
    for (const { id, record } of chunk) records[id] = record;
  return {
    days,
    pages: await loadPages(db, siteId),
    records: Array.from({ length: records.length }, (_, id) => records[id]),
    now,
    known: { sets: await loadPageSets(db, siteId), segments: await segmentBodies(db, siteId), places: await loadPlaces(db, siteId) },
  };
}

/** How many visitors a segment holds at an instant (UTC ms), from posting lists. Exact. */
export async function countByLists(db: Queryable, siteId: number, segment: SegmentBody, now: number): Promise<Count> {
  return tally(judgeEveryone(segment, await loadCounting(db, siteId, now)));
}

export function tally(values: Uint8Array): Count {
  let [people, unknown] = [0, 0];
  for (const value of values) {
    if (value === 1) people++;
    else if (value === 2) unknown++;
  }
  return { people, unknown };
}
