// Of one visitor after another what they first did, straight in the columns. Instants are UTC ms, both ends inclusive.
import type { SiteGoal } from '../campaigns/campaign';
import { reachesGoal } from '../campaigns/goals';
import type { SiteEvent } from '../history/visitor';
import type { Page } from '../pages/address';
import type { PageSets } from '../pages/pattern';
import { DAY_MS } from '../time/day';
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

/** When anybody but the team reached a goal since an instant, by quarter of an hour (its number since 1970, and how often); and how many visitors did. */
export function reachedSince(
  { people, known }: Over,
  goal: SiteGoal,
  { since, now, sets }: { since: number; now: number; sets: PageSets },
): { readonly quarters: [quarter: number, times: number][]; readonly visitors: number } {
  const quarters = new Map<number, number>();
  let visitors = 0;
  const isOfIt =
    goal.kind === 'page'
      ? Uint8Array.from(known.pages.list, (page) => Number(reachesGoal(goal, { kind: 'open', ...page }, 0, sets)))
      : Uint8Array.from(known.events.list, ({ name }) => Number(name === goal.event));
  for (let visitor = 0; visitor <= people.most; visitor++) {
    let has = false;
    const note = (at: number): void => {
      has = true;
      const quarter = Math.floor(at / QUARTER_MS);
      quarters.set(quarter, (quarters.get(quarter) ?? 0) + 1);
    };
    if (people.attributesOf(visitor)?.team) continue;
    people.eachRow(visitor, (chunk, row) => {
      if (chunk.dayStart + 2 * DAY_MS < since) return false;
      const [begin, end] = [chunk.firstVisit[row] as number, chunk.firstVisit[row + 1] as number];
      if (goal.kind === 'page') {
        for (let view = chunk.firstView[begin] as number; view < (chunk.firstView[end] as number); view++) {
          const at = chunk.viewAt[view] as number;
          if (isOfIt[chunk.page[view] as number] === 1 && at >= since && at <= now) note(at);
        }
        return false;
      }
      for (let nth = chunk.firstEvent[begin] as number; nth < (chunk.firstEvent[end] as number); nth++) {
        const at = chunk.eventAt[nth] as number;
        if (isOfIt[chunk.event[nth] as number] !== 1 || at < since || at > now) continue;
        if (reachesGoal(goal, { kind: 'event', ...(known.events.list[chunk.event[nth] as number] as Omit<SiteEvent, 'at'>) }, at)) note(at);
      }
      return false;
    });
    if (has) visitors++;
  }
  return { quarters: [...quarters].sort(([a], [b]) => a - b), visitors };
}

export const QUARTER_MS = 900_000;

export interface Persons {
  /** By visitor number the first visitor with the same email; themselves where there is no other. */
  readonly of: Uint32Array;
  /** All visitors of those persons who are several. */
  readonly several: ReadonlyMap<number, readonly number[]>;
}

const persons = new WeakMap<People, Persons>();

/** Visitors who have said the same email are one person. Worked out once for the same people. */
export function personsOf(people: People, known: Dictionaries): Persons {
  const kept = persons.get(people);
  if (kept) return kept;
  const isEmail = Uint8Array.from(known.changes.list, ({ kind, key }) => Number(kind === 'identity' && key === 'email'));
  const of = Uint32Array.from({ length: people.most + 1 }, (_, visitor) => visitor);
  const byEmail = new Map<string, number[]>();
  for (let visitor = 0; visitor <= people.most; visitor++) {
    let [email, saidAt]: [unknown, number] = [undefined, -Infinity];
    people.eachRow(visitor, (chunk, row) => {
      for (let nth = chunk.firstChange[row] as number; nth < (chunk.firstChange[row + 1] as number); nth++) {
        if (isEmail[chunk.change[nth] as number] !== 1 || (chunk.changeAt[nth] as number) < saidAt) continue;
        [email, saidAt] = [known.changes.list[chunk.change[nth] as number]?.value, chunk.changeAt[nth] as number];
      }
      return false;
    });
    if (typeof email !== 'string') continue;
    const same = byEmail.get(email.toLowerCase());
    if (same) same.push(visitor);
    else byEmail.set(email.toLowerCase(), [visitor]);
  }
  const several = new Map<number, number[]>();
  for (const same of byEmail.values()) {
    const [first, ...more] = same;
    if (first === undefined || more.length === 0) continue;
    several.set(first, same);
    for (const visitor of more) of[visitor] = first;
  }
  const found = { of, several };
  persons.set(people, found);
  return found;
}
