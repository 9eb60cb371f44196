import type { RecordedVisit, VisitorRecord } from '../history/record';
import { profileAt, visitorAt } from '../history/record';
import type { Location, Source, Visitor, Weather } from '../history/visitor';
import { byteOf, NO } from '../logic/truth';
import type { PeopleCondition } from '../people/condition';
import { conditionHolds, kindOf } from '../people/condition';
import type { RecordEntry, RecordPart } from '../people/kind';
import type { Subject } from '../people/subject';
import type { ValidUntil } from '../rehearsal/validUntil';
import { compileValidUntil } from '../rehearsal/validUntil';

/** What most conditions ask of a visitor, as numbers and shared objects; the object is used again for the next visitor. */
export interface Glance {
  /** The same object for visitors who are alike. */
  attributes: object;
  source: Source | undefined;
  place: Location | undefined;
  weather: Weather | undefined;
  /** When the first and the last visit begun by then began, UTC ms; the first may be to come. */
  firstAt: number;
  lastAt: number;
  /** Is anything of this kind on record by then? */
  profile: boolean;
  events: boolean;
  responses: boolean;
  /** When something comes next. */
  next: number;
}

export type EntryPart = 'profile' | 'events' | 'responses';

/** Which entries a condition looks at; `flags` remembers it by their place in the dictionary, and is whoever's who has that. */
export interface LookedAt {
  readonly holds: (entry: RecordEntry) => boolean;
  flags: Uint8Array;
}

/** Where histories are read; nobody keeps what is read. */
export interface Histories {
  /** Somebody at an instant, without their history; undefined who is nobody. Left out where reading a history costs no more. */
  readonly glance?: (visitor: number, now: number) => Glance | undefined;
  /** What came on record of somebody by an instant that a condition looks at: equal texts for equal things in the same order, '' for nothing. */
  readonly entries?: (visitor: number, now: number, part: EntryPart, looked: LookedAt) => string;
  /** When the visits of somebody began, UTC ms, in order; in `into` where one is given, so that a million of them are one list. */
  readonly visitsOf?: (visitor: number, into?: number[]) => readonly number[];
  /** A visitor's history by their number, without its page views, or without visits at all, where they are not wanted; undefined for nobody. */
  readonly record: (visitor: number, wanted: { readonly withViews: boolean; readonly withVisits?: boolean }) => VisitorRecord | undefined;
}

export interface AskedOfHistory {
  readonly condition: PeopleCondition;
  readonly lookback: number;
  /** Segments being worked out, so that a circle ends as unknown. */
  readonly within: readonly string[];
}

/** What a condition said of everybody, for keeping it over a start. */
export interface KeptColumn extends AskedOfHistory {
  /** The instant that the values were worked out for, UTC ms. */
  readonly asOf: number;
  /** By visitor number. */
  readonly values: Uint8Array;
  /** How long they stand at least, by visitor number: whole hours since the hour of `asOf`; 0: to be looked at again, 0xffff: for ever. */
  readonly hours: Uint16Array;
}

interface Everybody {
  /** UTC ms. */
  readonly now: number;
  readonly known: Pick<Subject, 'sets' | 'segments' | 'places'>;
  readonly histories: Histories;
  /** One more than the largest visitor number. */
  readonly size: number;
  /** Did they have a visit by `now`? */
  readonly exists: (visitor: number) => boolean;
}

interface Column extends AskedOfHistory {
  readonly withViews: boolean;
  readonly part: RecordPart | undefined;
  readonly looked: LookedAt | undefined;
  /** What was said of those who are alike, at `asOf`. */
  readonly alike: Map<unknown, number>;
  readonly validUntil: ValidUntil;
  values: Uint8Array;
  /** In whole seconds, rounded down; 0 where nothing is known. */
  until: Uint32Array;
  /** The instant that the values were last worked out for, UTC ms. */
  asOf: number;
  /** All of them stand up to this second. */
  stands: number;
}

/** Columns kept at a time, at five bytes a visitor each. */
const MOST_KEPT = 60;
const FOR_EVER = 0xffffffff;
const HOUR_S = 3600;
const HOURS_FOR_EVER = 0xffff;

/**
 * What conditions say of each visitor by their history, kept for as long as it surely stands: a later question looks only at those of whom
 * something has changed. Time goes forwards; a question about an earlier instant begins anew.
 */
export class Standing {
  readonly #columns = new Map<string, Column>();

  /** Something of these visitors has come on record, or gone. */
  touch(visitors: Iterable<number>): void {
    const list = [...visitors];
    for (const column of this.#columns.values()) {
      for (const visitor of list) if (visitor < column.until.length) column.until[visitor] = 0;
      column.stands = 0;
    }
  }

  /** What it knows, a condition at a time, each as it is by then. */
  *kept(): Generator<KeptColumn> {
    for (const { condition, lookback, within, asOf, values, until } of [...this.#columns.values()]) {
      const base = Math.floor(asOf / 1000 / HOUR_S);
      const hours = new Uint16Array(until.length);
      for (let visitor = 0; visitor < hours.length; visitor++) {
        const second = until[visitor] as number;
        const hour = Math.floor(second / HOUR_S) - base;
        hours[visitor] = second === FOR_EVER ? HOURS_FOR_EVER : Math.max(0, Math.min(HOURS_FOR_EVER - 1, hour));
      }
      yield { condition, lookback, within, asOf, values: values.slice(), hours };
    }
  }

  /** Takes up what was kept. Whose record has changed since has to be told by `touch`; segments, page sets and places have to be the same. */
  takeUp({ condition, lookback, within, asOf, values, hours }: KeptColumn, known: Everybody['known']): void {
    const base = Math.floor(asOf / 1000 / HOUR_S);
    const until = new Uint32Array(hours.length);
    for (let visitor = 0; visitor < until.length; visitor++) {
      const hour = hours[visitor] as number;
      until[visitor] = hour === HOURS_FOR_EVER ? FOR_EVER : hour === 0 ? 0 : (base + hour) * HOUR_S;
    }
    this.#columns.set(keyOf({ condition, lookback, within }), {
      ...blankColumn({ condition, lookback, within }, known),
      values,
      until,
      asOf,
      stands: 0,
    });
  }

  /** Of each condition its value (0, 1, 2) by visitor number. The arrays are this object's own: the next question changes them. */
  judge(asked: readonly AskedOfHistory[], everybody: Everybody): Uint8Array[] {
    const columns = asked.map((one) => this.#column(one, everybody));
    const second = everybody.now / 1000;
    const stale = [...new Set(columns)].filter(({ stands }) => stands <= second);
    for (let from = 0; from < stale.length; from += BITS) judgeDue(stale.slice(from, from + BITS), everybody);
    for (const column of stale) {
      column.asOf = everybody.now;
      column.stands = least(column.until);
    }
    while (this.#columns.size > Math.max(MOST_KEPT, asked.length)) this.#columns.delete(this.#columns.keys().next().value as string);
    return columns.map(({ values }) => values);
  }

  #column(asked: AskedOfHistory, { now, known, size }: Everybody): Column {
    const key = keyOf(asked);
    let column = this.#columns.get(key);
    // The one asked for last is the last to be forgotten.
    this.#columns.delete(key);
    if (column && now < column.asOf) column = undefined;
    column ??= {
      ...blankColumn(asked, known),
      values: new Uint8Array(size),
      until: new Uint32Array(size),
      asOf: -Infinity,
      stands: 0,
    };
    if (column.values.length !== size) {
      column.values = resized(column.values, new Uint8Array(size));
      column.until = resized(column.until, new Uint32Array(size));
      column.stands = 0;
    }
    this.#columns.set(key, column);
    return column;
  }
}

const keyOf = ({ condition, lookback, within }: AskedOfHistory): string => JSON.stringify([condition, lookback, within]);

/** A column without what it says. */
const blankColumn = (asked: AskedOfHistory, known: Everybody['known']): Omit<Column, 'values' | 'until' | 'asOf' | 'stands'> => ({
  ...asked,
  withViews: kindOf(asked.condition).counting.by === 'history',
  part: partOf(asked.condition),
  looked: lookedAt(asked.condition),
  alike: new Map(),
  validUntil: compileValidUntil(asked.condition, known.segments, asked.lookback),
});

/** Where something changes at instants that nobody can foretell, or by the clock, those who are alike now need not be so later. */
function partOf(condition: PeopleCondition): RecordPart | undefined {
  const { counting, changes } = kindOf(condition);
  if (counting.by !== 'record' || changes.clock || changes.unforeseen?.(condition)) return undefined;
  return counting.of?.(condition);
}

/** Columns that one number has bits for. */
const BITS = 30;

/** Looks anew at whoever is due in some of these columns: at each once. */
function judgeDue(columns: readonly Column[], everybody: Everybody): void {
  const { now, size, histories } = everybody;
  const second = now / 1000;
  const due = new Uint32Array(size);
  columns.forEach(({ until, alike }, nth) => {
    alike.clear();
    const bit = 1 << nth;
    for (let visitor = 0; visitor < size; visitor++)
      if ((until[visitor] as number) <= second) due[visitor] = (due[visitor] as number) | bit;
  });
  const glanced = columns.map(({ part }) => part !== undefined);
  const byVisits = histories.visitsOf && columns.reduce((bits, { part }, nth) => (part === 'visits' ? bits | (1 << nth) : bits), 0);
  const scratch = new VisitsOfOne();
  const left: Column[] = [];
  for (let visitor = 0; visitor < size; visitor++) {
    const bits = due[visitor] as number;
    if (bits === 0) continue;
    if (byVisits !== undefined && (bits & ~byVisits) === 0) {
      const next = scratch.read(visitor, everybody);
      for (let nth = 0; nth < columns.length; nth++)
        if (bits & (1 << nth)) scratch.judge(columns[nth] as Column, visitor, { everybody, next });
      continue;
    }
    const glance = histories.glance?.(visitor, now);
    if (histories.glance && (!glance || glance.firstAt > now)) {
      const until = glance ? whole(glance.next) : FOR_EVER;
      for (let nth = 0; nth < columns.length; nth++) if (bits & (1 << nth)) set(columns[nth] as Column, visitor, NO, until);
      continue;
    }
    for (let nth = 0; nth < columns.length; nth++) {
      if (!(bits & (1 << nth))) continue;
      const column = columns[nth] as Column;
      if (glance && byVisits !== undefined && byVisits & (1 << nth)) {
        scratch.read(visitor, everybody);
        scratch.judge(column, visitor, { everybody, next: glance.next });
      } else if (!glance || !glanced[nth] || !glanceAt(column, visitor, glance, everybody)) left.push(column);
    }
    if (left.length > 0) look(visitor, left, everybody);
    left.length = 0;
  }
}

const whole = (until: number): number => Math.min(FOR_EVER, Math.floor(until / 1000));

function set({ values, until }: Column, visitor: number, value: number, upTo: number): void {
  values[visitor] = value;
  until[visitor] = upTo;
}

function least(values: Uint32Array): number {
  let so = FOR_EVER;
  for (let index = 0; index < values.length; index++) if ((values[index] as number) < so) so = values[index] as number;
  return so;
}

/** Judges by a glance where that is enough; says whether it was. */
function glanceAt(column: Column, visitor: number, glance: Glance, everybody: Everybody): boolean {
  const { part, alike } = column;
  if (part === undefined || part === 'visits') return false;
  const entries =
    part === 'profile' || part === 'events' || part === 'responses' ? entriesOf(column, visitor, glance, part, everybody) : undefined;
  // What is on record of events and responses counts by its instants.
  if (entries !== undefined && entries !== '' && part !== 'profile') return false;
  const key = entries ?? glance[part as Exclude<RecordPart, EntryPart | 'visits'>];
  let value = alike.get(key);
  if (value === undefined) {
    const visits = [{ at: glance.lastAt, source: glance.source, views: NOTHING, events: NOTHING }];
    const blank = { ...BLANK, ...glance.attributes, location: glance.place, weather: glance.weather, visits };
    const record = entries ? everybody.histories.record(visitor, { withViews: false, withVisits: false }) : undefined;
    value = judgeBlank(column, record ? { ...blank, ...profileAt(record.changes, everybody.now) } : blank, everybody);
    alike.set(key, value);
  }
  set(column, visitor, value, whole(glance.next));
  return true;
}

/** When one visitor came, by an instant: for conditions that look at nothing else. The same objects serve the next visitor. */
class VisitsOfOne {
  readonly #starts: number[] = [];
  readonly #made: { at: number; readonly views: readonly never[]; readonly events: readonly never[] }[] = [];
  readonly #visits: RecordedVisit[] = [];
  readonly #visitor: Visitor = { ...BLANK, visits: this.#visits };
  readonly #record: VisitorRecord = { visits: this.#visits, changes: NOTHING, responses: NOTHING };

  /** Gives when the next visit begins (UTC ms). */
  read(visitor: number, { now, histories }: Everybody): number {
    this.#visits.length = 0;
    let next = Infinity;
    for (const at of histories.visitsOf?.(visitor, this.#starts) ?? []) {
      if (at > now) {
        if (at < next) next = at;
        continue;
      }
      const visit = (this.#made[this.#visits.length] ??= { at, views: NOTHING, events: NOTHING });
      visit.at = at;
      this.#visits.push(visit);
    }
    return next;
  }

  judge(column: Column, visitor: number, { everybody, next }: { everybody: Everybody; next: number }): void {
    if (this.#visits.length === 0) return set(column, visitor, NO, whole(next));
    const until = column.validUntil(everybody.now, this.#record);
    set(column, visitor, judgeBlank(column, this.#visitor, everybody), whole(Math.min(next, until)));
  }
}

/** '' where nothing of the kind is on record that the condition looks at. */
function entriesOf({ looked }: Column, visitor: number, glance: Glance, part: EntryPart, { now, histories }: Everybody): string {
  if (!glance[part]) return '';
  return looked && histories.entries ? histories.entries(visitor, now, part, looked) : String(visitor);
}

function lookedAt(condition: PeopleCondition): LookedAt | undefined {
  const { counting } = kindOf(condition);
  const looksAt = counting.by === 'record' ? counting.looksAt : undefined;
  return looksAt && { holds: (entry) => looksAt(condition, entry), flags: new Uint8Array(0) };
}

const judgeBlank = ({ condition, lookback, within }: Column, visitor: Visitor, { now, known }: Everybody): number =>
  byteOf(conditionHolds(condition, { visitor, now, lookback, within, sets: known.sets, segments: known.segments, places: known.places }));

const NOTHING: readonly never[] = [];
const BLANK = { known: false, traits: {}, tags: [], score: 0, responses: [] } as const;

function look(visitor: number, due: readonly Column[], { now, known, histories, exists }: Everybody): void {
  const withViews = due.some((column) => column.withViews);
  const withVisits = due.some(({ part }) => part !== 'profile');
  const record = exists(visitor) ? histories.record(visitor, { withViews, withVisits }) : undefined;
  if (!record) {
    // Who is not there yet is looked at again.
    for (const { values } of due) values[visitor] = NO;
    return;
  }
  const subject = { visitor: visitorAt(record, now), now, ...known };
  const next = withVisits ? nextArrival(record, now) : (histories.glance?.(visitor, now)?.next ?? now);
  for (const column of due) {
    const { condition, lookback, within, validUntil } = column;
    const value = byteOf(conditionHolds(condition, { ...subject, lookback, within }));
    set(column, visitor, value, whole(Math.min(next, validUntil(now, record))));
  }
}

/** When the next visit begins or the next page opens: until then what is on record is what it is. */
function nextArrival(record: VisitorRecord, now: number): number {
  let next = Infinity;
  for (const { at, views } of record.visits) {
    if (at > now) return Math.min(next, at);
    for (const view of views) if (view.at > now && view.at < next) next = view.at;
  }
  return next;
}

function resized<T extends Uint8Array | Uint32Array>(from: T, to: T): T {
  to.set(from.length > to.length ? from.subarray(0, to.length) : from);
  return to;
}
