import type { VisitTerm, TermKind } from '../visits/filter';
import { pageTest, placeIs, sourceIs } from '../visits/filter';
import type { Interner } from '../interner';
import type { Chunk, Dictionaries } from './chunk';
import type { Attributes } from './people';

export type ChunkVisitTest = (chunk: Chunk, visit: number, visitor: number) => boolean;

/**
 * Terms that are told by a visit's columns alone, and the `rest`, for which its visitor has to be put together. A term is worked out once for
 * each page, source and place that there is, not for each visit. What `compileTerms` says of the same visits.
 */
export function compileColumnTerms(
  terms: readonly VisitTerm[],
  {
    known,
    isIn,
    attributesOf,
  }: {
    known: Dictionaries;
    isIn: (segment: string, visitor: number) => boolean;
    attributesOf: (visitor: number) => Attributes | undefined;
  },
): { test: ChunkVisitTest; rest: VisitTerm[] } {
  const of = (kind: TermKind): string[] => terms.filter((term) => term.kind === kind).map(({ value }) => value);
  const entries = <T>(list: Interner<T>, holds: (entry: T) => boolean): Uint8Array =>
    Uint8Array.from(list.list, (entry) => Number(holds(entry)));
  const tests: ChunkVisitTest[] = [];
  /** One term of a kind is enough. */
  const any = (kind: TermKind, make: (values: readonly string[]) => ChunkVisitTest): void => {
    const values = of(kind);
    if (values.length > 0) tests.push(make(values));
  };
  any('segment', (values) => (_chunk, _visit, visitor) => values.some((segment) => isIn(segment, visitor)));
  any('device', (values) => (_chunk, _visit, visitor) => {
    const category = attributesOf(visitor)?.device?.category;
    return category !== undefined && values.includes(category);
  });
  any('source', (values) => {
    const holds = entries(known.sources, (source) => values.some((value) => sourceIs(value, source)));
    return (chunk, visit) => holds[chunk.source[visit] as number] === 1;
  });
  any('place', (values) => {
    const holds = entries(known.places, (place) => values.some((value) => placeIs(value, place)));
    return (chunk, visit) => holds[chunk.place[visit] as number] === 1;
  });
  any('longer', (values) => {
    const least = Math.min(...values.map(Number)) * 1000;
    return (chunk, visit) => lengthOf(chunk, visit) >= least;
  });
  any('shorter', (values) => {
    const most = Math.max(...values.map(Number)) * 1000;
    return (chunk, visit) => lengthOf(chunk, visit) <= most;
  });
  for (const value of of('page')) {
    const test = pageTest(value);
    const holds = entries(known.pages, ({ url }) => test(url));
    tests.push((chunk, visit) => {
      for (let view = chunk.firstView[visit] as number; view < (chunk.firstView[visit + 1] as number); view++)
        if (holds[chunk.page[view] as number] === 1) return true;
      return false;
    });
  }
  return {
    test: (chunk, visit, visitor) => tests.every((test) => test(chunk, visit, visitor)),
    rest: terms.filter(({ kind }) => kind === 'who' || kind === 'outcome'),
  };
}

/** From the beginning of a visit to the last thing known of it, in ms. */
function lengthOf(chunk: Chunk, visit: number): number {
  const at = chunk.visitAt[visit] as number;
  let length = 0;
  for (let view = chunk.firstView[visit] as number; view < (chunk.firstView[visit + 1] as number); view++)
    length = Math.max(length, (chunk.viewAt[view] as number) - at + (chunk.leave[view] as number));
  return length;
}
