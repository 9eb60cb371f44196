import type { Columns, Origin } from '@/core/rehearsal/columns';
import { buildColumns } from '@/core/rehearsal/columns';
import type { Judge } from '@/core/rehearsal/judge';
import { judgeByRecords } from '@/core/rehearsal/judge';
import type { RecordedVisitor } from '@/core/rehearsal/recorded';
import type { PageSets } from '@/core/pages/pattern';
import type { Queryable } from '../db/queryable';
import { eachChunk, withTimelines } from '../db/visitors';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';

/** Everything a rehearsal over the visits that began from `since` to `until` (UTC ms) needs, in memory. */
export async function loadRehearsal(
  db: Queryable,
  siteId: number,
  { since, until }: { since: number; until: number },
): Promise<{ columns: Columns; origin: Origin; judge: Judge; sets: PageSets }> {
  const [sets, places, segments] = [await loadPageSets(db, siteId), await loadPlaces(db, siteId), await segmentBodies(db, siteId)];
  const visitors: RecordedVisitor[] = [];
  for await (const chunk of eachChunk(db, siteId, { since })) {
    const recorded = await withTimelines(db, siteId, chunk, since);
    visitors.push(
      ...recorded.map((visitor) => upTo(visitor, until)).filter(({ timelines }) => timelines.some((played) => played !== undefined)),
    );
  }
  const { columns, origin } = buildColumns(visitors);
  return { columns, origin, judge: judgeByRecords(origin, { sets, segments, places }), sets };
}

/** Visits that began later did not happen yet. */
function upTo(visitor: RecordedVisitor, until: number): RecordedVisitor {
  return {
    ...visitor,
    timelines: visitor.timelines.map((played, visit) => ((visitor.record.visits[visit]?.at ?? 0) <= until ? played : undefined)),
  };
}
