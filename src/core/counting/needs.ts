import { anyPatternHolds } from '../pages/pages';
import type { PagePattern } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import type { SegmentBody, Subject } from '../people/subject';
import { writeOut } from '../people/writeOut';
import { leavesOf } from '../rules/expr';
import type { Page } from '../pages/address';

/** What has to be at hand to count a segment; the rest may be left where it is. */
export interface CountingNeeds {
  /** Lists of patterns of which a page must match one to count; undefined where every view is looked at. */
  readonly patterns: readonly (readonly PagePattern[])[] | undefined;
  /** Are scroll depths and engaged times asked for? */
  readonly measures: boolean;
  /** Is anything asked for that the lists do not hold, so that histories are judged one by one? */
  readonly histories: boolean;
}

export const everything: CountingNeeds = { patterns: undefined, measures: true, histories: true };

export function countingNeeds(segment: SegmentBody, segments: Subject['segments']): CountingNeeds {
  const leaves = leavesOf<PeopleCondition>(writeOut(segment.people, segments, [])).map(({ leaf }) => leaf);
  const measures = leaves.some(({ kind }) => kind === 'read' || kind === 'engaged');
  const viewed = leaves.flatMap((leaf) => (leaf.kind === 'viewed' ? [leaf.pages ?? []] : []));
  return {
    // The current page is found among all views: its measures do not count yet.
    patterns: measures || viewed.some((patterns) => patterns.length === 0) ? undefined : viewed,
    measures,
    histories: leaves.some(({ kind }) => kind !== 'viewed' && kind !== 'read' && kind !== 'engaged'),
  };
}

/** By page number: may a view of the page count for anything that is asked? */
export function pagesNeeded(
  patterns: readonly (readonly PagePattern[])[],
  pages: readonly (Page | undefined)[],
  sets: Subject['sets'],
): boolean[] {
  return pages.map((page) => page !== undefined && patterns.some((list) => anyPatternHolds(list, page, sets) !== false));
}
