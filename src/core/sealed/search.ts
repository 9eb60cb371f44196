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
    });
    return first;
  };
}

/** Infinity for whoever has none on record. */
export function firstVisitAt(people: People, visitor: number): number {
  let first = Infinity;
  people.eachRow(visitor, (chunk, row) => {
    for (let visit = chunk.firstVisit[row] as number; visit < (chunk.firstVisit[row + 1] as number); visit++)
      first = Math.min(first, chunk.visitAt[visit] as number);
  });
  return first;
}

/** Whether it was known who a visitor is by an instant. */
export function knownBy(people: People, known: Dictionaries): (visitor: number, at: number) => boolean {
  const flags = Uint8Array.from(known.changes.list, ({ kind, value }) => Number(kind === 'identity' && value !== null));
  return (visitor, at) => {
    let is = false;
    people.eachRow(visitor, (chunk, row) => {
      for (let nth = chunk.firstChange[row] as number; nth < (chunk.firstChange[row + 1] as number); nth++)
        if (flags[chunk.change[nth] as number] === 1 && (chunk.changeAt[nth] as number) <= at) is = true;
    });
    return is;
  };
}
