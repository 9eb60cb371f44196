import type { Expr } from '../rules/expr';
import { mapLeaves } from '../rules/expr';
import type { PeopleCondition } from './condition';
import type { SegmentBody } from './subject';

/** Puts segments in the place of their names. One that is gone, or would refer to itself, stays: it is unknown. */
export function writeOut(
  people: Expr<PeopleCondition>,
  segments: Readonly<Record<string, SegmentBody>>,
  within: readonly string[],
): Expr<PeopleCondition> {
  return mapLeaves(people, (leaf): Expr<PeopleCondition> => {
    const segment = leaf.kind === 'segment' && Object.hasOwn(segments, leaf.id) ? segments[leaf.id] : undefined;
    if (leaf.kind !== 'segment' || !segment || within.includes(leaf.id)) return leaf;
    return writeOut(
      mapLeaves(segment.people, (inner) => withLookback(inner, segment.lookback)),
      segments,
      [...within, leaf.id],
    );
  });
}

function withLookback(condition: PeopleCondition, days: number): PeopleCondition {
  switch (condition.kind) {
    case 'viewed':
    case 'did':
    case 'engaged':
    case 'read':
    case 'visits':
    case 'response':
      return { ...condition, within: condition.within ?? days };
    default:
      return condition;
  }
}
