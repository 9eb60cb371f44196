import type { Expr } from '../logic/expr';
import { mapLeaves } from '../logic/expr';
import type { PeopleCondition } from './condition';
import { kindOf } from './condition';
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

/**
 * A segment's conditions as they read in a document that looks back `lookback` days itself: the same people, with the segment's own
 * lookback written where a condition leaves its window open. Segments that it asks for stay as they are.
 */
export function openOut(segment: SegmentBody, lookback: number): Expr<PeopleCondition> {
  return segment.lookback === lookback ? segment.people : mapLeaves(segment.people, (leaf) => withLookback(leaf, segment.lookback));
}

/** A window that a condition leaves open is its segment's lookback. */
function withLookback(condition: PeopleCondition, days: number): PeopleCondition {
  const { window } = kindOf(condition).changes;
  return window && window(condition) === undefined ? ({ ...condition, within: days } as PeopleCondition) : condition;
}
