import type { VisitorRecord } from '../history/record';
import type { Signal } from '../moments/signal';

/** What was recorded of one page view besides its place in the history: views of a record and of its timelines go in step. */
export interface RecordedTimeline {
  readonly signals: readonly Signal[];
  /** The last instant, inclusive, in ms since the opening. */
  readonly leave: number;
  readonly hidden?: boolean | undefined;
  readonly cannotScroll?: boolean | undefined;
  /** Selectors that were watched; where missing, all that a rule asks for. */
  readonly watched?: readonly string[] | undefined;
}

/** One visitor with everything a rehearsal needs. `timelines[visit][view]`; undefined for visits before the days rehearsed. */
export interface RecordedVisitor {
  readonly id: number;
  readonly record: VisitorRecord;
  readonly visitIds: readonly string[];
  readonly viewIds: readonly (readonly string[])[];
  readonly timelines: readonly (readonly RecordedTimeline[] | undefined)[];
}
