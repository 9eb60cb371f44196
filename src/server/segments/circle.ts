import type { SegmentBody } from '@/core/people/subject';
import type { PeopleCondition } from '@/core/people/condition';
import type { Expr } from '@/core/logic/expr';
import { Refused } from '../http/refused';
import type { Queryable } from '@/server/db/queryable';
import { circleThrough, segmentBodies } from '@/server/segments/bodies';

export async function refuseCircle(
  db: Queryable,
  siteId: number,
  { id, people }: { id: string; people: Expr<PeopleCondition> },
): Promise<void> {
  refuseCircleIn(await segmentBodies(db, siteId), id, people);
}

export function refuseCircleIn(bodies: Readonly<Record<string, SegmentBody>>, id: string, people: Expr<PeopleCondition>): void {
  const circle = circleThrough(id, people, bodies);
  if (circle)
    throw new Refused(422, 'segment.circle', `people: met a segment that refers back to itself (${circle.join(' → ')}), expected none`);
}
