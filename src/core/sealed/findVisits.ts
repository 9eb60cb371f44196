import type { Subject } from '../people/subject';
import type { RecordedVisitor } from '../rehearsal/recorded';
import type { VisitTerm } from '../visits/filter';
import { compileTerms } from '../visits/filter';
import type { Dictionaries } from './chunk';
import type { People } from './people';
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

/** Day by day, because most pairs are told apart by that. */
function newestFirst(visits: readonly number[], people: People): Uint32Array {
  const { starts } = people.visits;
  const days = new Map<number, number[]>();
  for (const visit of visits) {
    const day = startOfDay(starts[visit] as number);
    const own = days.get(day);
    if (own) own.push(visit);
    else days.set(day, [visit]);
  }
  const order = (a: number, b: number): number =>
    (starts[b] as number) - (starts[a] as number) || (people.visitId(a) < people.visitId(b) ? -1 : 1);
  const out = new Uint32Array(visits.length);
  let from = 0;
  for (const [, own] of [...days].sort(([a], [b]) => b - a)) {
    out.set(own.sort(order), from);
    from += own.length;
  }
  return out;
}
