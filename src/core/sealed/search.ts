// Of one visitor after another what they first did, straight in the columns. Instants are UTC ms, both ends inclusive.
import type { SiteEvent } from '../history/visitor';
import type { Page } from '../pages/address';
import type { Dictionaries } from './chunk';
import type { People } from './people';

interface Over {
  readonly people: People;
  readonly known: Dictionaries;
}
type Search<T> = (visitor: number, from: number, to: number) => T | undefined;

/** When a visitor first opened such a page; each page is asked once. */
export function firstView({ people, known }: Over, holds: (page: Page) => boolean): Search<number> {
  const flags = Uint8Array.from(known.pages.list, (page) => Number(holds(page)));
  return (visitor, from, to) => {
    let first = Infinity;
    people.eachRow(visitor, (chunk, row) => {
      const [begin, end] = [chunk.firstVisit[row] as number, chunk.firstVisit[row + 1] as number];
      for (let view = chunk.firstView[begin] as number; view < (chunk.firstView[end] as number); view++) {
        const at = chunk.viewAt[view] as number;
        if (at >= from && at <= to && at < first && flags[chunk.page[view] as number] === 1) first = at;
      }
      return false;
    });
    return first === Infinity ? undefined : first;
  };
}

/** The first event of that name, as it was reported. */
export function firstEvent(
  { people, known }: Over,
  name: string,
  holds: (event: Omit<SiteEvent, 'at'>, at: number) => boolean,
): Search<SiteEvent> {
  const flags = Uint8Array.from(known.events.list, (event) => Number(event.name === name));
  return (visitor, from, to) => {
    let first: SiteEvent | undefined;
    people.eachRow(visitor, (chunk, row) => {
      const [begin, end] = [chunk.firstVisit[row] as number, chunk.firstVisit[row + 1] as number];
      for (let nth = chunk.firstEvent[begin] as number; nth < (chunk.firstEvent[end] as number); nth++) {
        const at = chunk.eventAt[nth] as number;
        if (at < from || at > to || (first && at >= first.at) || flags[chunk.event[nth] as number] !== 1) continue;
        const event = known.events.list[chunk.event[nth] as number] as Omit<SiteEvent, 'at'>;
        if (holds(event, at)) first = { ...event, at };
      }
      return false;
    });
    return first;
  };
}

const firstVisits = new WeakMap<People, Float64Array>();

/** By visitor number when their first visit on record began; Infinity without one. Worked out once for the same people. */
export function firstVisitAt(people: People): Float64Array {
  let kept = firstVisits.get(people);
  if (kept) return kept;
  kept = new Float64Array(people.most + 1).fill(Infinity);
  const { visitors, starts } = people.visits;
  for (let nth = 0; nth < visitors.length; nth++) {
    const visitor = visitors[nth] as number;
    if ((starts[nth] as number) < (kept[visitor] as number)) kept[visitor] = starts[nth] as number;
  }
  firstVisits.set(people, kept);
  return kept;
}

const knownSinces = new WeakMap<People, Float64Array>();

/** By visitor number since when it is known who they are; Infinity where it is not. Worked out once for the same people. */
export function knownSince(people: People, known: Dictionaries): Float64Array {
  let kept = knownSinces.get(people);
  if (kept) return kept;
  const flags = Uint8Array.from(known.changes.list, ({ kind, value }) => Number(kind === 'identity' && value !== null));
  const since = (kept = new Float64Array(people.most + 1).fill(Infinity));
  for (let visitor = 0; visitor <= people.most; visitor++)
    people.eachRow(visitor, (chunk, row) => {
      for (let nth = chunk.firstChange[row] as number; nth < (chunk.firstChange[row + 1] as number); nth++)
        if (flags[chunk.change[nth] as number] === 1 && (chunk.changeAt[nth] as number) < (since[visitor] as number))
          since[visitor] = chunk.changeAt[nth] as number;
      return false;
    });
  knownSinces.set(people, since);
  return since;
}
