import type { Change, RecordedVisit } from '../history/record';
import type { Visitor } from '../history/visitor';
import type { RecordedTimeline, RecordedVisitor } from '../rehearsal/recorded';
import { DAY_MS } from '../time/day';

export type Response = Visitor['responses'][number];

/** What one visitor did in one day (UTC): the visits that began in it, whole, and what came on record of them in it. */
export interface Slice {
  readonly visitor: number;
  /** By instant, then by id; `timelines` go in step with the views. */
  readonly visits: readonly { readonly id: string; readonly visit: RecordedVisit; readonly timelines: readonly RecordedTimeline[] }[];
  readonly changes: readonly Change[];
  readonly responses: readonly Response[];
}

export const startOfDay = (at: number): number => Math.floor(at / DAY_MS) * DAY_MS;

/** Recorded visitors cut into days: by the day's first instant (UTC ms) its slices, by visitor. Visits without timelines get empty ones. */
export function sliceByDay(visitors: readonly RecordedVisitor[]): Map<number, Slice[]> {
  const days = new Map<number, Slice[]>();
  for (const { id, record, visitIds, timelines } of [...visitors].sort((a, b) => a.id - b.id)) {
    const own = new Map<number, { visitor: number; visits: Slice['visits'][number][]; changes: Change[]; responses: Response[] }>();
    const of = (at: number) => {
      const day = startOfDay(at);
      const slice = own.get(day) ?? { visitor: id, visits: [], changes: [], responses: [] };
      own.set(day, slice);
      return slice;
    };
    record.visits.forEach((visit, nth) => {
      const played = timelines[nth];
      of(visit.at).visits.push({
        id: visitIds[nth] ?? '',
        visit,
        timelines: visit.views.map((_view, index) => played?.[index] ?? { signals: [], leave: 0 }),
      });
    });
    for (const change of record.changes) of(change.at).changes.push(change);
    for (const response of record.responses) of(response.at).responses.push(response);
    for (const [day, slice] of own) days.set(day, [...(days.get(day) ?? []), slice]);
  }
  return new Map([...days].sort(([a], [b]) => a - b));
}
