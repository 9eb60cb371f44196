import type { Subject } from '../people/subject';
import type { RecordedVisitor } from '../rehearsal/recorded';
import type { VisitTerm } from '../visits/filter';
import { compileTerms } from '../visits/filter';
import type { Dictionaries } from './chunk';
import type { People } from './people';
import { DAY_MS } from '../time/day';
import { startOfDay } from './slice';
import { compileColumnTerms } from './visitTerms';

export interface FoundVisits {
  /** Places in `people.visits`, newest first. */
  readonly visits: Uint32Array;
  readonly visitors: number;
  readonly people: People;
}

/** Visits begun by `asOf` (UTC ms), newest first, that meet the terms. A visitor is put together only where the columns do not tell. */
export function findVisits(
  people: People,
  dictionaries: Dictionaries,
  {
    terms,
    asOf,
    isIn,
    known,
  }: {
    terms: readonly VisitTerm[];
    asOf: number;
    isIn: (segment: string, visitor: number) => boolean;
    known: Pick<Subject, 'sets' | 'segments' | 'places'>;
  },
): FoundVisits {
  const { test, rest } = compileColumnTerms(terms, { known: dictionaries, isIn, attributesOf: (visitor) => people.attributesOf(visitor) });
  const meets = rest.length > 0 ? compileTerms(rest, isIn, known) : undefined;
  const { visitors, starts } = people.visits;
  const found: number[] = [];
  let [count, last, first] = [0, -1, 0];
  let recorded: RecordedVisitor | undefined;
  for (let visit = 0; visit < starts.length; visit++) {
    const visitor = visitors[visit] as number;
    if (visit === 0 || visitor !== visitors[visit - 1]) [recorded, first] = [undefined, visit];
    if ((starts[visit] as number) > asOf) continue;
    if (terms.length > 0 && !test(...people.visitAt(visit), visitor)) continue;
    if (meets) {
      recorded ??= people.recorded(visitor);
      if (!recorded || !meets(recorded, visit - first)) continue;
    }
    found.push(visit);
    if (visitor !== last) count++;
    last = visitor;
  }
  return { visits: newestFirst(found, people), visitors: count, people };
}

/** A day has fewer visits than this. */
const MOST_A_DAY = 2 ** 26;

/** Day by day, so that when a visit began and its place among the day's are one number each: a million of them are sorted by the platform. */
function newestFirst(visits: readonly number[], people: People): Uint32Array {
  const { starts } = people.visits;
  const counts = new Map<number, number>();
  for (const visit of visits) {
    const day = startOfDay(starts[visit] as number);
    counts.set(day, (counts.get(day) ?? 0) + 1);
  }
  const days = [...counts].sort(([a], [b]) => b - a).map(([day, count]) => ({ day, own: new Uint32Array(count), filled: 0 }));
  const byStart = new Map(days.map((day) => [day.day, day]));
  for (const visit of visits) {
    const day = byStart.get(startOfDay(starts[visit] as number));
    if (day) day.own[day.filled++] = visit;
  }
  const out = new Uint32Array(visits.length);
  let from = 0;
  for (const { day, own } of days) {
    const keys = new Float64Array(own.length);
    for (let nth = 0; nth < own.length; nth++) keys[nth] = (day + DAY_MS - (starts[own[nth] as number] as number)) * MOST_A_DAY + nth;
    keys.sort();
    for (let nth = 0; nth < own.length; nth++) {
      const key = keys[nth] as number;
      out[from + nth] = own[key - Math.floor(key / MOST_A_DAY) * MOST_A_DAY] as number;
    }
    orderTies(out.subarray(from, from + own.length), people);
    from += own.length;
  }
  return out;
}

/** Visits of one instant stand by their ids. */
function orderTies(sorted: Uint32Array, people: People): void {
  const { starts } = people.visits;
  for (let first = 0; first < sorted.length;) {
    let end = first + 1;
    while (end < sorted.length && starts[sorted[end] as number] === starts[sorted[first] as number]) end++;
    if (end > first + 1) sorted.subarray(first, end).sort((a, b) => people.compareIds(a, b));
    first = end;
  }
}
