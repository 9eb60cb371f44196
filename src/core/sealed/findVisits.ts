import type { Subject } from '../people/subject';
import type { RecordedVisitor } from '../rehearsal/recorded';
import type { VisitTerm } from '../visits/filter';
import { compileTerms } from '../visits/filter';
import type { Dictionaries } from './chunk';
import type { People } from './people';
import { DAY_MS } from '../time/day';
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
  const found = new Uint32Array(starts.length);
  let [met, count, last, first] = [0, 0, -1, 0];
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
    found[met++] = visit;
    if (visitor !== last) count++;
    last = visitor;
  }
  return { visits: newestFirst(found.subarray(0, met), people), visitors: count, people };
}

/** A day has fewer visits than this. */
const MOST_A_DAY = 2 ** 26;

/** Day by day, so that when a visit began and its place among the day's are one number each: a million of them are sorted by the platform. */
function newestFirst(visits: Uint32Array, people: People): Uint32Array {
  const { starts } = people.visits;
  let [oldest, newest] = [Infinity, -Infinity];
  for (const visit of visits) {
    const at = starts[visit] as number;
    if (at < oldest) oldest = at;
    if (at > newest) newest = at;
  }
  const first = Math.floor(oldest / DAY_MS);
  const nthDay = (visit: number): number => Math.floor((starts[visit] as number) / DAY_MS) - first;
  const counts = new Uint32Array(visits.length > 0 ? Math.floor(newest / DAY_MS) - first + 1 : 0);
  for (const visit of visits) counts[nthDay(visit)] = (counts[nthDay(visit)] as number) + 1;
  const days = new Map<number, { own: Uint32Array; filled: number }>();
  counts.forEach((count, day) => count && days.set(day, { own: new Uint32Array(count), filled: 0 }));
  for (const visit of visits) {
    const day = days.get(nthDay(visit));
    if (day) day.own[day.filled++] = visit;
  }
  const out = new Uint32Array(visits.length);
  let from = 0;
  for (const [day, { own }] of [...days].reverse()) {
    const end = (first + day + 1) * DAY_MS;
    const keys = new Float64Array(own.length);
    for (let nth = 0; nth < own.length; nth++) keys[nth] = (end - (starts[own[nth] as number] as number)) * MOST_A_DAY + nth;
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
