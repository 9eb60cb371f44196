import type { Change } from '../history/record';
import type { Location, SiteEvent, Source, Weather } from '../history/visitor';
import { Interner } from '../interner';
import type { Page } from '../pages/address';
import type { Argument, Summaries, TimelineColumns } from '../rehearsal/columns';
import { pushTimeline, summarize } from '../rehearsal/columns';
import type { Response, Slice } from './slice';

type ColumnKinds = Record<string, readonly ['u8' | 'u16' | 'u32' | 'f64', 'rising' | 'any']>;

/** Of each column the type of its numbers, and whether each is near the one before it. */
export const HISTORY_COLUMNS = {
  /** One of each visitor, by number; their visits, changes and responses stand from `first…[n]` to `first…[n + 1]`. */
  visitor: ['u32', 'rising'],
  firstVisit: ['u32', 'rising'],
  firstChange: ['u32', 'rising'],
  firstResponse: ['u32', 'rising'],
  visitAt: ['f64', 'any'],
  /** 16 bytes each. */
  visitId: ['u8', 'any'],
  source: ['u32', 'any'],
  place: ['u32', 'any'],
  weather: ['u32', 'any'],
  firstView: ['u32', 'rising'],
  firstEvent: ['u32', 'rising'],
  viewAt: ['f64', 'any'],
  page: ['u32', 'any'],
  /** As the page view's row has it, in ms; `scroll` in percent. What the signals come to stands with the timelines. */
  engaged: ['u32', 'any'],
  scroll: ['u8', 'any'],
  leave: ['u32', 'any'],
  eventAt: ['f64', 'any'],
  event: ['u32', 'any'],
  changeAt: ['f64', 'any'],
  change: ['u32', 'any'],
  responseAt: ['f64', 'any'],
  response: ['u32', 'any'],
} as const satisfies ColumnKinds;

/** By page view, in step with `viewAt`, and by signal: most of what there is, and only rehearsed. */
export const TIMELINE_COLUMNS = {
  flags: ['u8', 'any'],
  watched: ['u32', 'any'],
  kinds: ['u16', 'any'],
  depth: ['u8', 'any'],
  engagedMs: ['u32', 'any'],
  clicks: ['u16', 'any'],
  firstSignal: ['u32', 'rising'],
  t: ['u32', 'rising'],
  kind: ['u8', 'any'],
  argument: ['u32', 'any'],
} as const satisfies ColumnKinds;

interface Arrays {
  u8: Uint8Array;
  u16: Uint16Array;
  u32: Uint32Array;
  f64: Float64Array;
}
type Columns<Kinds extends ColumnKinds> = { readonly [K in keyof Kinds]: Arrays[Kinds[K][0]] };
export type HistoryColumns = Columns<typeof HISTORY_COLUMNS>;
export type Timelines = Columns<typeof TIMELINE_COLUMNS>;

/**
 * The visits that began in one day (UTC) of a site, visitor by visitor and in time order, and what came on record of visitors in it. Pages,
 * sources and the like are indices into dictionaries that all chunks of a site share.
 */
export interface Chunk extends HistoryColumns {
  /** UTC ms. */
  readonly dayStart: number;
  /** How its page views went; undefined where that has not been read. */
  timelines: Timelines | undefined;
}

/** What chunks refer to, each kept once. */
export class Dictionaries {
  readonly pages = new Interner<Page>();
  readonly watched = new Interner<readonly string[] | undefined>();
  readonly arguments = new Interner<Argument>();
  readonly sources = new Interner<Source | undefined>();
  readonly places = new Interner<Location | undefined>();
  readonly weathers = new Interner<Weather | undefined>();
  readonly events = new Interner<Omit<SiteEvent, 'at'>>();
  readonly changes = new Interner<Omit<Change, 'at'>>();
  readonly responses = new Interner<Omit<Response, 'at'>>();
}
export type DictionaryName = keyof Dictionaries;

/** The key of an entry: what is equal as JSON is the same. */
export const keyOf = (value: unknown): string => JSON.stringify(value) ?? 'null';

const entry = <T>(list: Interner<T>, value: T): number => list.indexOf(keyOf(value), () => value);

/** A page has its own order of fields, so that the same page is the same however it came. */
export function pageEntry({ pages }: Dictionaries, { url, title, labels }: Page): number {
  return pages.indexOf(JSON.stringify([url, title, labels]), () => ({ url, title, labels }));
}

type Lists = { [K in Exclude<keyof HistoryColumns | keyof Timelines, keyof Summaries>]: number[] };

/** `slices` by visitor, one of each. */
export function buildChunk(dayStart: number, slices: readonly Slice[], known: Dictionaries): Chunk {
  const { kinds: _kinds, depth: _depth, engagedMs: _engaged, clicks: _clicks, ...played } = TIMELINE_COLUMNS;
  const kinds: ColumnKinds = { ...HISTORY_COLUMNS, ...played };
  const out = Object.fromEntries(Object.keys(kinds).map((name) => [name, name.startsWith('first') ? [0] : []])) as unknown as Lists;
  for (const { visitor, visits, changes, responses } of slices) {
    for (const { id, visit, timelines } of visits) {
      visit.views.forEach((view, index) => {
        out.viewAt.push(view.at);
        out.page.push(pageEntry(known, view));
        out.engaged.push(Math.round(view.engaged * 1000));
        out.scroll.push(view.scroll);
        pushTimeline(timelines[index] ?? { signals: [], leave: 0 }, out satisfies TimelineColumns, known);
      });
      for (const { at, name, props } of visit.events) {
        out.eventAt.push(at);
        out.event.push(entry(known.events, { name, props }));
      }
      out.visitAt.push(visit.at);
      pushId(out.visitId, id);
      out.source.push(entry(known.sources, visit.source));
      out.place.push(entry(known.places, visit.location));
      out.weather.push(entry(known.weathers, visit.weather));
      out.firstView.push(out.viewAt.length);
      out.firstEvent.push(out.eventAt.length);
    }
    for (const { at, kind, key, value } of changes) {
      out.changeAt.push(at);
      out.change.push(entry(known.changes, { kind, key, value }));
    }
    for (const { at, campaign, outcome } of responses) {
      out.responseAt.push(at);
      out.response.push(entry(known.responses, { campaign, outcome }));
    }
    out.visitor.push(visitor);
    out.firstVisit.push(out.visitAt.length);
    out.firstChange.push(out.changeAt.length);
    out.firstResponse.push(out.responseAt.length);
  }
  const arrays = Object.fromEntries(
    Object.entries(out).map(([name, values]) => [name, ARRAYS[kinds[name]?.[0] ?? 'u32'].from(values)]),
  ) as unknown as HistoryColumns & Omit<Timelines, keyof Summaries>;
  const { flags, watched, firstSignal, t, kind, argument, ...history } = arrays;
  const summaries = summarize({ ...arrays, arguments: known.arguments.list });
  return { dayStart, ...history, timelines: { flags, watched, ...summaries, firstSignal, t, kind, argument } };
}

export const ARRAYS = { u8: Uint8Array, u16: Uint16Array, u32: Uint32Array, f64: Float64Array } as const;

const HEX = /^[0-9a-f]{32}$/;

/** @throws Error for what is no UUID. */
function pushId(bytes: number[], id: string): void {
  const digits = id.replaceAll('-', '').toLowerCase();
  if (!HEX.test(digits)) throw new Error(`id: met "${id}", expected a UUID`);
  for (let index = 0; index < 32; index += 2) bytes.push(parseInt(digits.slice(index, index + 2), 16));
}

const BYTES = Array.from({ length: 256 }, (_, byte) => byte.toString(16).padStart(2, '0'));

/** The UUID of a visit of the chunk. */
export function visitIdOf({ visitId }: Pick<Chunk, 'visitId'>, visit: number): string {
  let id = '';
  for (let index = 0; index < 16; index++)
    id += (index === 4 || index === 6 || index === 8 || index === 10 ? '-' : '') + (BYTES[visitId[visit * 16 + index] as number] as string);
  return id;
}

/** As the ids of two visits would be compared as text: below 0 where the first comes first. */
export function compareVisitIds(ids: Chunk['visitId'], visit: number, others: Chunk['visitId'], other: number): number {
  for (let index = 0; index < 16; index++) {
    const difference = (ids[visit * 16 + index] as number) - (others[other * 16 + index] as number);
    if (difference !== 0) return difference;
  }
  return 0;
}

/** @throws Error where they have not been read */
export function timelinesOf({ timelines, dayStart }: Chunk): Timelines {
  if (!timelines) throw new Error(`The timelines of ${new Date(dayStart).toISOString().slice(0, 10)} have not been read`);
  return timelines;
}
