import type { PeopleCondition } from '@/core/people/condition';
import type { SegmentBody } from '@/core/people/subject';
import type { Expr } from '@/core/logic/expr';
import { leavesOf } from '@/core/logic/expr';
import type { Queryable } from '../db/queryable';
import { listSegments } from '../db/segments';

export async function segmentBodies(db: Queryable, siteId: number): Promise<Record<string, SegmentBody>> {
  return Object.fromEntries((await listSegments(db, siteId)).map(({ id, lookback, people }) => [id, { lookback, people }]));
}

export const segmentsNamedIn = (people: Expr<PeopleCondition> | undefined): string[] =>
  leavesOf(people).flatMap(({ leaf }) => (leaf.kind === 'segment' ? [leaf.id] : []));

/** The chain of segments by which `id` would come to refer to itself; undefined if it does not. */
export function circleThrough(
  id: string,
  people: Expr<PeopleCondition>,
  segments: Readonly<Record<string, SegmentBody>>,
): string[] | undefined {
  const follow = (expr: Expr<PeopleCondition>, chain: string[]): string[] | undefined => {
    for (const next of segmentsNamedIn(expr)) {
      if (next === id) return [...chain, next];
      const body = chain.includes(next) ? undefined : segments[next];
      const found = body && follow(body.people, [...chain, next]);
      if (found) return found;
    }
    return undefined;
  };
  return follow(people, [id]);
}
