import type { PeopleCondition } from '@/core/people/condition';
import type { Expr } from '@/core/rules/expr';
import { Refused } from '@/server/api';
import { pool } from '@/server/pool';
import { circleThrough, segmentBodies } from '@/server/segments/bodies';

export async function refuseCircle(siteId: number, id: string, people: Expr<PeopleCondition>): Promise<void> {
  const circle = circleThrough(id, people, await segmentBodies(pool(), siteId));
  if (circle)
    throw new Refused(422, 'segment.circle', `people: met a segment that refers back to itself (${circle.join(' → ')}), expected none`);
}
