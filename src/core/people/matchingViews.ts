import type { View } from '../history/visitor';
import type { Page } from '../pages/address';
import type { PagePattern } from '../pages/pattern';
import { anyPatternHolds } from '../pages/pages';
import type { Subject, Within } from './subject';
import { inWindow, visitsIn } from './subject';

/**
 * Sums `weigh` over the views in the window that match a pattern (no patterns: any page). The sum lies from `low` to
 * `high`: views whose match is unknown count for the upper bound only. The current view's measures are still 0.
 */
export function sumMatchingViews(
  subject: Subject,
  { pages, within }: { pages?: readonly PagePattern[] | undefined; within?: Within },
  weigh: (view: Pick<View, 'engaged' | 'scroll'>) => number,
): { low: number; high: number } {
  const current = subject.visitor.visits.at(-1)?.views.at(-1);
  const matches = subject.matches ?? ((patterns: readonly PagePattern[], page: Page) => anyPatternHolds(patterns, page, subject.sets));
  let low = 0;
  let high = 0;
  for (const visit of visitsIn(within, subject)) {
    for (const view of visit.views) {
      if (!inWindow(view.at, within, subject)) continue;
      const weight = weigh(view === current ? { engaged: 0, scroll: 0 } : view);
      if (weight === 0) continue;
      const holds = pages?.length ? matches(pages, view) : true;
      if (holds === true) low += weight;
      if (holds !== false) high += weight;
    }
  }
  return { low, high };
}
