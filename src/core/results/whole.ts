import type { Goal } from '../campaigns/campaign';
import { isOwnGoal } from '../campaigns/campaign';
import type { KnownBy, StillNeeded } from './course';
import { courseOf, stillNeeded } from './course';
import type { Dimension, Exposure, Report, ReportOptions, ResultRow } from './report';
import { reportOn, rowsBy } from './report';

/** Everything that is said of the visitors of a period. */
export interface WholeReport extends Report {
  readonly course: readonly KnownBy[];
  readonly isOwnGoal: boolean;
  /** Until the difference that was asked about would be clear. */
  readonly needed: StillNeeded | null;
  /** Tables besides that of the variants. */
  readonly by: readonly { readonly by: Dimension; readonly rows: readonly ResultRow[] }[];
}

/** A difference of one of a hundred. */
export const A_POINT = 0.01;

/** How the visitors of a campaign are reported on. `variants`: their names, in their order. */
export const optionsFor = (
  { goal, variants }: { readonly goal: Goal; readonly variants: readonly string[] },
  given: Pick<ReportOptions, 'now' | 'zone' | 'splits' | 'planned' | 'looks'>,
): ReportOptions => ({ days: 'days' in goal ? goal.days : Infinity, isOwnGoal: isOwnGoal(goal), variants, ...given });

/** `tables`: what visitors are told apart by besides the variants; `to` UTC ms, until when they are; `points`: the difference to tell, 0.01 is one of a hundred. */
export function wholeReport(
  visitors: readonly Exposure[],
  options: ReportOptions,
  { tables, to, points = A_POINT }: { tables: readonly Dimension[]; to: number; points?: number },
): WholeReport {
  return {
    ...reportOn(visitors, options),
    course: courseOf(visitors, options),
    isOwnGoal: options.isOwnGoal,
    needed: stillNeeded(visitors, options, { points, to: Math.min(to, options.now) }) ?? null,
    by: tables.map((by) => ({ by, rows: rowsBy(visitors, by, options) })),
  };
}
