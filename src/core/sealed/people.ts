import type { FactValues } from '../facts/facts';
import type { CountingInput } from '../counting/countPeople';
import type { EntryPart, Glance, LookedAt } from '../counting/standing';
import type { RecordedVisit, VisitorRecord } from '../history/record';
import type { SiteEvent, View } from '../history/visitor';
import type { Page } from '../pages/address';
import type { RecordEntry } from '../people/kind';
import type { Columns, Origin } from '../rehearsal/columns';
import type { RecordedVisitor } from '../rehearsal/recorded';
import type { Chunk, Dictionaries } from './chunk';
import { compareVisitIds, timelinesOf, visitIdOf } from './chunk';
import type { ChosenVisits } from './fillColumns';
import { fillColumns } from './fillColumns';
import { RecordedInChunks } from './recordedInChunks';

/** What stands of a visitor as such, whatever they did. */
export type Attributes = FactValues;

export interface ChunkInUse {
  readonly chunk: Chunk;
  /** Visitors whose rows another chunk of the same day has anew. */
  readonly without?: ReadonlySet<number> | undefined;
}

/**
 * Everybody of a site, over chunks: a visitor's history is put together where somebody asks for it, and kept by nobody. Chunks by day.
 * A visitor without attributes is not on record (any more).
 */
export class People {
  /** The largest visitor number. */
  readonly most: number;
  readonly #chunks: readonly Chunk[];
  readonly #known: Dictionaries;
  readonly #attributesOf: (visitor: number) => Attributes | undefined;
  /** The rows of visitor v stand from `#first[v]` to `#first[v + 1]`, by day. */
  readonly #first: Uint32Array;
  readonly #chunkOf: Uint16Array;
  readonly #rowOf: Uint32Array;
  readonly #glance: Glance = {
    attributes: {},
    source: undefined,
    place: undefined,
    weather: undefined,
    firstAt: 0,
    lastAt: 0,
    profile: false,
    events: false,
    responses: false,
    next: 0,
  };
  #visits: (CountingInput['visits'] & { readonly chunks: Uint16Array; readonly rows: Uint32Array }) | undefined;

  constructor(used: readonly ChunkInUse[], known: Dictionaries, attributesOf: (visitor: number) => Attributes | undefined) {
    this.#chunks = used.map(({ chunk }) => chunk);
    this.#known = known;
    this.#attributesOf = attributesOf;
    const most = used.reduce((so, { chunk }) => Math.max(so, chunk.visitor.at(-1) ?? 0), 0);
    this.most = most;
    const first = new Uint32Array(most + 2);
    const isIn = (visitor: number, { without }: ChunkInUse): boolean => !without?.has(visitor) && attributesOf(visitor) !== undefined;
    for (const one of used)
      for (const visitor of one.chunk.visitor) if (isIn(visitor, one)) first[visitor + 1] = (first[visitor + 1] as number) + 1;
    for (let visitor = 1; visitor < first.length; visitor++) first[visitor] = (first[visitor] as number) + (first[visitor - 1] as number);
    const next = first.slice();
    const rows = first.at(-1) ?? 0;
    this.#first = first;
    this.#chunkOf = new Uint16Array(rows);
    this.#rowOf = new Uint32Array(rows);
    used.forEach((one, nth) => {
      one.chunk.visitor.forEach((visitor, row) => {
        if (!isIn(visitor, one)) return;
        const place = next[visitor] as number;
        next[visitor] = place + 1;
        this.#chunkOf[place] = nth;
        this.#rowOf[place] = row;
      });
    });
  }

  attributesOf(visitor: number): Attributes | undefined {
    return this.#attributesOf(visitor);
  }

  isOnRecord(visitor: number): boolean {
    return visitor >= 0 && visitor <= this.most && (this.#first[visitor] as number) < (this.#first[visitor + 1] as number);
  }

  /** On how many days something of each visitor is on record, by visitor number. */
  daysOf(): Uint16Array {
    const days = new Uint16Array(this.most + 1);
    for (let visitor = 0; visitor < days.length; visitor++)
      days[visitor] = (this.#first[visitor + 1] as number) - (this.#first[visitor] as number);
    return days;
  }

  /** Whom something is on record of, by the day (UTC ms of its beginning) on which the first of it stands; by number. */
  byFirstDay(): Map<number, number[]> {
    const days = new Map<number, number[]>();
    for (let visitor = 0; visitor <= this.most; visitor++) {
      const place = this.#first[visitor] as number;
      if (place === this.#first[visitor + 1]) continue;
      const { dayStart } = this.#at(place)[0];
      const met = days.get(dayStart);
      if (met) met.push(visitor);
      else days.set(dayStart, [visitor]);
    }
    return days;
  }

  /** When each visit began (UTC ms), and whose it was; by visitor and time. */
  get visits(): CountingInput['visits'] {
    if (this.#visits) return this.#visits;
    let count = 0;
    this.#eachVisit(() => count++);
    const made = {
      visitors: new Uint32Array(count),
      starts: new Float64Array(count),
      chunks: new Uint16Array(count),
      rows: new Uint32Array(count),
    };
    this.#eachVisit((nthChunk, visit, visitor, nth) => {
      made.visitors[nth] = visitor;
      made.starts[nth] = this.#chunks[nthChunk]?.visitAt[visit] as number;
      made.chunks[nth] = nthChunk;
      made.rows[nth] = visit;
    });
    return (this.#visits = made);
  }

  /** Where a visit stands in the chunks, by its place in `visits`. */
  visitAt(nth: number): [chunk: Chunk, visit: number] {
    void this.visits;
    const { chunks, rows } = this.#visits as { chunks: Uint16Array; rows: Uint32Array };
    return [this.#chunks[chunks[nth] as number] as Chunk, rows[nth] as number];
  }

  /** The id of a visit, by its place in `visits`. */
  visitId(nth: number): string {
    return visitIdOf(...this.visitAt(nth));
  }

  /** Which of two visits, by their places in `visits`, comes first by its id: below 0 where it is the first. */
  compareIds(nth: number, other: number): number {
    const [chunk, visit] = this.visitAt(nth);
    const [otherChunk, otherVisit] = this.visitAt(other);
    return compareVisitIds(chunk.visitId, visit, otherChunk.visitId, otherVisit);
  }

  /** By visitor and time. */
  #eachVisit(work: (nthChunk: number, visit: number, visitor: number, nth: number) => void): void {
    let nth = 0;
    for (let visitor = 0; visitor <= this.most; visitor++) {
      for (let place = this.#first[visitor] as number; place < (this.#first[visitor + 1] as number); place++) {
        const [chunk, row] = this.#at(place);
        for (let visit = chunk.firstVisit[row] as number; visit < (chunk.firstVisit[row + 1] as number); visit++)
          work(this.#chunkOf[place] as number, visit, visitor, nth++);
      }
    }
  }

  #at(place: number): [Chunk, number] {
    return [this.#chunks[this.#chunkOf[place] as number] as Chunk, this.#rowOf[place] as number];
  }

  /** What chunks hold of a visitor, by day: one row in each, until `work` gives true. */
  eachRow(visitor: number, work: (chunk: Chunk, row: number) => boolean): void {
    if (visitor > this.most) return;
    const end = this.#first[visitor + 1] as number;
    for (let place = this.#first[visitor] as number; place < end; place++)
      if (work(this.#chunks[this.#chunkOf[place] as number] as Chunk, this.#rowOf[place] as number)) return;
  }

  /** See `Histories`. */
  glance(visitor: number, now: number): Glance | undefined {
    const attributes = this.#attributesOf(visitor);
    if (!attributes || !this.isOnRecord(visitor)) return undefined;
    let [next, firstAt, lastAt] = [Infinity, Infinity, -Infinity];
    let [profile, events, responses] = [false, false, false];
    let [lastChunk, lastVisit]: [Chunk | undefined, number] = [undefined, 0];
    const end = this.#first[visitor + 1] as number;
    for (let place = this.#first[visitor] as number; place < end; place++) {
      const chunk = this.#chunks[this.#chunkOf[place] as number] as Chunk;
      const row = this.#rowOf[place] as number;
      for (let visit = chunk.firstVisit[row] as number; visit < (chunk.firstVisit[row + 1] as number); visit++) {
        const at = chunk.visitAt[visit] as number;
        if (at < firstAt) firstAt = at;
        if (at > now) {
          if (at < next) next = at;
          continue;
        }
        [lastAt, lastChunk, lastVisit] = [at, chunk, visit];
        for (let nth = chunk.firstEvent[visit] as number; nth < (chunk.firstEvent[visit + 1] as number); nth++) {
          const then = chunk.eventAt[nth] as number;
          if (then <= now) events = true;
          else if (then < next) next = then;
        }
      }
      for (let nth = chunk.firstChange[row] as number; nth < (chunk.firstChange[row + 1] as number); nth++) {
        const then = chunk.changeAt[nth] as number;
        if (then <= now) profile = true;
        else if (then < next) next = then;
      }
      for (let nth = chunk.firstResponse[row] as number; nth < (chunk.firstResponse[row + 1] as number); nth++) {
        const then = chunk.responseAt[nth] as number;
        if (then <= now) responses = true;
        else if (then < next) next = then;
      }
    }
    const out = this.#glance;
    out.attributes = attributes;
    out.source = lastChunk && this.#known.sources.list[lastChunk.source[lastVisit] as number];
    out.place = lastChunk && this.#known.places.list[lastChunk.place[lastVisit] as number];
    out.weather = lastChunk && this.#known.weathers.list[lastChunk.weather[lastVisit] as number];
    [out.firstAt, out.lastAt, out.next] = [firstAt, lastAt, next];
    [out.profile, out.events, out.responses] = [profile, events, responses];
    return out;
  }

  /** See `Histories`. */
  entries(visitor: number, now: number, part: EntryPart, looked: LookedAt): string {
    const list: readonly RecordEntry[] = this.#known[part === 'profile' ? 'changes' : part].list;
    if (looked.flags.length < list.length) looked.flags = Uint8Array.from(list, (entry) => Number(looked.holds(entry)));
    const { flags } = looked;
    let key = '';
    const take = (at: Float64Array, entries: Uint32Array, from: number, to: number): void => {
      for (let nth = from; nth < to; nth++)
        if (flags[entries[nth] as number] === 1 && (at[nth] as number) <= now) key += `${entries[nth]} `;
    };
    for (let place = this.#first[visitor] as number; place < (this.#first[visitor + 1] as number); place++) {
      const [chunk, row] = this.#at(place);
      if (part === 'profile') take(chunk.changeAt, chunk.change, chunk.firstChange[row] as number, chunk.firstChange[row + 1] as number);
      else if (part === 'responses')
        take(chunk.responseAt, chunk.response, chunk.firstResponse[row] as number, chunk.firstResponse[row + 1] as number);
      else {
        const [first, end] = [chunk.firstVisit[row] as number, chunk.firstVisit[row + 1] as number];
        take(chunk.eventAt, chunk.event, chunk.firstEvent[first] as number, chunk.firstEvent[end] as number);
      }
    }
    return key;
  }

  /** See `Histories`. */
  visitsOf(visitor: number, visits: number[] = []): number[] {
    visits.length = 0;
    if (visitor > this.most) return visits;
    for (let place = this.#first[visitor] as number; place < (this.#first[visitor + 1] as number); place++) {
      const [chunk, row] = this.#at(place);
      for (let visit = chunk.firstVisit[row] as number; visit < (chunk.firstVisit[row + 1] as number); visit++)
        visits.push(chunk.visitAt[visit] as number);
    }
    return visits;
  }

  /** A visitor's history; without page views, or without visits, where they are not asked for. */
  record(visitor: number, { withViews, withVisits = true }: { withViews: boolean; withVisits?: boolean }): VisitorRecord | undefined {
    if (!this.isOnRecord(visitor)) return undefined;
    const { changes, responses } = this.#known;
    const visits: RecordedVisit[] = [];
    const record = { visits, changes: [] as VisitorRecord['changes'][0][], responses: [] as VisitorRecord['responses'][0][] };
    for (let place = this.#first[visitor] as number; place < (this.#first[visitor + 1] as number); place++) {
      const [chunk, row] = this.#at(place);
      if (withVisits)
        for (let visit = chunk.firstVisit[row] as number; visit < (chunk.firstVisit[row + 1] as number); visit++)
          visits.push(this.#visit(chunk, visit, withViews));
      for (let nth = chunk.firstChange[row] as number; nth < (chunk.firstChange[row + 1] as number); nth++) {
        const { kind, key, value } = changes.list[chunk.change[nth] as number] as (typeof changes.list)[0];
        record.changes.push({ at: chunk.changeAt[nth] as number, kind, key, value });
      }
      for (let nth = chunk.firstResponse[row] as number; nth < (chunk.firstResponse[row + 1] as number); nth++) {
        const { campaign, outcome } = responses.list[chunk.response[nth] as number] as (typeof responses.list)[0];
        record.responses.push({ at: chunk.responseAt[nth] as number, campaign, outcome });
      }
    }
    return { ...record, ...this.#attributesOf(visitor) };
  }

  #visit(chunk: Chunk, visit: number, withViews: boolean): RecordedVisit {
    const { sources, places, weathers, pages, events: known } = this.#known;
    const views: View[] = [];
    if (withViews)
      for (let view = chunk.firstView[visit] as number; view < (chunk.firstView[visit + 1] as number); view++) {
        const { url, title, labels } = pages.list[chunk.page[view] as number] as Page;
        const [at, engaged, scroll] = [chunk.viewAt[view] as number, (chunk.engaged[view] as number) / 1000, chunk.scroll[view] as number];
        views.push({ at, url, title, labels, engaged, scroll });
      }
    const events: SiteEvent[] = [];
    for (let nth = chunk.firstEvent[visit] as number; nth < (chunk.firstEvent[visit + 1] as number); nth++) {
      const { name, props } = known.list[chunk.event[nth] as number] as (typeof known.list)[0];
      events.push({ at: chunk.eventAt[nth] as number, name, props });
    }
    return {
      at: chunk.visitAt[visit] as number,
      source: sources.list[chunk.source[visit] as number],
      location: places.list[chunk.place[visit] as number],
      weather: weathers.list[chunk.weather[visit] as number],
      views,
      events,
    };
  }

  /** A visitor with their timelines, which are put together as they are asked for. */
  recorded(visitor: number): RecordedVisitor | undefined {
    const record = this.record(visitor, { withViews: true });
    return record && new RecordedInChunks(visitor, record, () => this.#visitsOf(visitor), this.#known);
  }

  #visitsOf(visitor: number): (readonly [Chunk, number])[] {
    const visits: [Chunk, number][] = [];
    for (let place = this.#first[visitor] as number; place < (this.#first[visitor + 1] as number); place++) {
      const [chunk, row] = this.#at(place);
      for (let visit = chunk.firstVisit[row] as number; visit < (chunk.firstVisit[row + 1] as number); visit++) visits.push([chunk, visit]);
    }
    return visits;
  }

  /** How many visitors there are with visits that began since (UTC ms), and how many of their visits and page views have been recorded. */
  sizeSince(since: number): { visitors: number; visits: number; views: number } {
    const { visitor, visits, views } = this.#chooseVisits(since, everybody, { withSignals: false });
    return { visitors: visitor.length, visits, views };
  }

  /**
   * Columns to rehearse over: the visits of these visitors that began since (UTC ms), whole. What `buildColumns` gives of the same visitors.
   * @throws where the timelines of those days have not been read
   */
  columns({ since, of = everybody }: { since: number; of?: (visitor: number) => boolean }): { columns: Columns; origin: Origin } {
    const chosen = this.#chooseVisits(since, of, { withSignals: true });
    const { columns, view } = fillColumns(chosen, { chunks: this.#chunks, known: this.#known, attributesOf: this.#attributesOf });
    return {
      columns,
      origin: {
        visitors: this.#lastMet(columns.visitor),
        visitor: chosen.nthVisitor,
        visit: chosen.nthVisit,
        view,
        viewAt: columns.viewAt,
      },
    };
  }

  /** Which visits are rehearsed, by visitor and time: of a visitor who has some in the days, those that have page views. */
  #chooseVisits(since: number, of: (visitor: number) => boolean, { withSignals }: { withSignals: boolean }): ChosenVisits {
    const out = { chunk: [] as number[], row: [] as number[], nthVisitor: [] as number[], nthVisit: [] as number[] };
    const visitors: number[] = [];
    const firstVisit = [0];
    let [views, signals] = [0, 0];
    for (let visitor = 0; visitor <= this.most; visitor++) {
      if (!of(visitor)) continue;
      let [nth, isIn] = [0, false];
      for (let place = this.#first[visitor] as number; place < (this.#first[visitor + 1] as number); place++) {
        const [chunk, row] = this.#at(place);
        for (let visit = chunk.firstVisit[row] as number; visit < (chunk.firstVisit[row + 1] as number); visit++, nth++) {
          const at = chunk.visitAt[visit] as number;
          if (at < since) continue;
          isIn = true;
          const [first, end] = [chunk.firstView[visit] as number, chunk.firstView[visit + 1] as number];
          if (first === end) continue;
          out.chunk.push(this.#chunkOf[place] as number);
          out.row.push(visit);
          out.nthVisitor.push(visitors.length);
          out.nthVisit.push(nth);
          views += end - first;
          if (withSignals) {
            const { firstSignal } = timelinesOf(chunk);
            signals += (firstSignal[end] as number) - (firstSignal[first] as number);
          }
        }
      }
      if (!isIn) continue;
      visitors.push(visitor);
      firstVisit.push(out.row.length);
    }
    return {
      chunk: Uint16Array.from(out.chunk),
      row: Uint32Array.from(out.row),
      nthVisitor: Uint32Array.from(out.nthVisitor),
      nthVisit: Uint32Array.from(out.nthVisit),
      visitor: visitors,
      firstVisit,
      visits: out.row.length,
      views,
      signals,
    };
  }

  /** Whoever goes through the columns asks for one visitor after another, and for each many times. */
  #lastMet(visitors: Uint32Array): Origin['visitors'] {
    let last = -1;
    let met: RecordedVisitor | undefined;
    return {
      at: (nth) => {
        if (nth !== last) [last, met] = [nth, nth < visitors.length ? this.recorded(visitors[nth] as number) : undefined];
        return met;
      },
    };
  }
}

const everybody = (): boolean => true;
