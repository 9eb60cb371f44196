import { anyPatternHolds } from '../pages/pages';
import type { PagePattern } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import { kindOf } from '../people/condition';
import type { Counting } from '../people/kind';
import type { SegmentBody, Subject } from '../people/subject';
import { writeOut } from '../people/writeOut';
import { leavesOf } from '../logic/expr';
import type { Page } from '../pages/address';

/** What has to be at hand to count a segment; the rest may be left where it is. */
export interface CountingNeeds {
  /** Lists of patterns of which a page must match one to count; undefined where every view is looked at. */
  readonly patterns: readonly (readonly PagePattern[])[] | undefined;
  /** Are scroll depths and engaged times asked for? */
  readonly measures: boolean;
  /** Which histories are judged one by one: none, those without their page views, or whole ones. */
  readonly histories: 'none' | 'record' | 'whole';
}

export const everything: CountingNeeds = { patterns: undefined, measures: true, histories: 'record' };

export function countingNeeds(segment: SegmentBody, segments: Subject['segments']): CountingNeeds {
  const leaves = leavesOf<PeopleCondition>(writeOut(segment.people, segments, [])).map(({ leaf }) => leaf);
  const sums = leaves.flatMap((leaf) => {
    const { counting } = kindOf(leaf);
    return counting.by === 'views' ? [counting.sum(leaf)] : [];
  });
  const asks = (by: Counting<PeopleCondition>['by']): boolean => leaves.some((leaf) => kindOf(leaf).counting.by === by);
  const measures = sums.some(({ weigh }) => weigh !== undefined);
  const patterns = sums.map(({ pages }) => pages ?? []);
  return {
    // The current page is found among all views: its measures do not count yet.
    patterns: measures || patterns.some((list) => list.length === 0) ? undefined : patterns,
    measures,
    // A segment that could not be written out is unknown, which needs no history.
    histories: asks('history') ? 'whole' : asks('record') ? 'record' : 'none',
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
