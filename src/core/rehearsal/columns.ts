import type { Page } from '../pages/address';
import type { Signal } from '../moments/signal';
import { measureView } from '../pacing/replay';
import { Interner } from '../interner';
import type { RecordedTimeline, RecordedVisitor } from './recorded';

export const SIGNAL_KINDS = [
  'scroll',
  'click',
  'input',
  'exit',
  'seen',
  'event',
  'hide',
  'show',
  'whole',
] as const satisfies readonly Signal['s'][];
/** @throws Error where a recording holds a signal the columns have no number for: it is not taken for another. */
const NUMBERS = new Map<string, number>(SIGNAL_KINDS.map((kind, index) => [kind, index]));
function numberOf(kind: string): number {
  const number = NUMBERS.get(kind);
  if (number === undefined) throw new Error(`s: met the signal "${kind}", expected one of ${SIGNAL_KINDS.join(', ')}`);
  return number;
}

/** What signals hold besides their kind, each kept once: a scroll's depth stands in `argument` itself. */
export type Argument = WithoutTime<Extract<Signal, { s: 'click' | 'seen' | 'event' }>>;
type WithoutTime<T> = T extends unknown ? Omit<T, 't'> : never;

/** Visits, page views and signals as they were recorded, visitor by visitor and in time order. */
export interface RecordedColumns {
  readonly visitor: Uint32Array;
  /** `firstVisit[visitor]` to `firstVisit[visitor + 1]` are a visitor's visits, and so for views and signals. */
  readonly firstVisit: Uint32Array;
  readonly visitAt: Float64Array;
  /** Of each visit: index into `devices`, `channels`, `towns`. */
  readonly device: Uint8Array;
  readonly channel: Uint8Array;
  readonly town: Uint16Array;
  readonly firstView: Uint32Array;
  readonly viewAt: Float64Array;
  readonly page: Uint32Array;
  readonly leave: Uint32Array;
  /** Bit 0: opened hidden; bit 1: cannot scroll. */
  readonly flags: Uint8Array;
  /** Index into `watchLists`. */
  readonly watched: Uint32Array;
  readonly firstSignal: Uint32Array;
  readonly t: Uint32Array;
  readonly kind: Uint8Array;
  readonly argument: Uint32Array;
  readonly pages: readonly Page[];
  readonly watchLists: readonly (readonly string[] | undefined)[];
  readonly arguments: readonly Argument[];
  readonly devices: readonly string[];
  readonly channels: readonly string[];
  readonly towns: readonly string[];
}

/** What a rehearsal runs over: with a summary of each view, by which most are passed over. */
export interface Columns extends RecordedColumns {
  /** Which kinds of signal the view has: bit n for `SIGNAL_KINDS[n]`. */
  readonly kinds: Uint16Array;
  readonly depth: Uint8Array;
  readonly engagedMs: Uint32Array;
  readonly clicks: Uint16Array;
  /** Engaged ms and clicks of the earlier views of the same visit. */
  readonly engagedBefore: Uint32Array;
  readonly clicksBefore: Uint32Array;
}

export const UNKNOWN = 'unknown';
/** More towns than this are one: their index has two bytes. */
export const MOST_TOWNS = 60_000;

/** Columns of the visits that have timelines. Also says where each visit and view comes from. */
export function buildColumns(visitors: readonly RecordedVisitor[]): { columns: Columns; origin: Origin } {
  const known = {
    pages: new Interner<Page>(),
    arguments: new Interner<Argument>(),
    watched: new Interner<readonly string[] | undefined>(),
    devices: new Interner<string>(),
    channels: new Interner<string>(),
    towns: new Interner<string>(),
  };
  const word = (list: Interner<string>, text: string): number => list.indexOf(text, () => text);
  const out = {
    visitor: [] as number[],
    firstVisit: [0],
    visitAt: [] as number[],
    device: [] as number[],
    channel: [] as number[],
    town: [] as number[],
    firstView: [0],
    viewAt: [] as number[],
    page: [] as number[],
    leave: [] as number[],
    flags: [] as number[],
    watched: [] as number[],
    firstSignal: [0],
    t: [] as number[],
    kind: [] as number[],
    argument: [] as number[],
  };
  const origin: { visitor: number[]; visit: number[]; view: number[] } = { visitor: [], visit: [], view: [] };
  visitors.forEach((visitor, nth) => {
    visitor.timelines.forEach((timelines, visitIndex) => {
      const visit = visitor.record.visits[visitIndex];
      if (!timelines || !visit || timelines.length === 0) return;
      visit.views.forEach((view, viewIndex) => {
        const timeline = timelines[viewIndex];
        if (!timeline) return;
        const { url, title, labels } = view;
        out.viewAt.push(view.at);
        out.page.push(known.pages.indexOf(JSON.stringify([url, title, labels]), () => ({ url, title, labels })));
        pushTimeline(timeline, out, known);
        origin.view.push(viewIndex);
      });
      out.visitAt.push(visit.at);
      out.device.push(word(known.devices, visitor.record.device?.category ?? UNKNOWN));
      out.channel.push(word(known.channels, visit.source?.channel ?? UNKNOWN));
      out.town.push(word(known.towns, known.towns.list.length < MOST_TOWNS ? townOf(visit.location) : UNKNOWN));
      out.firstView.push(out.viewAt.length);
      origin.visitor.push(nth);
      origin.visit.push(visitIndex);
    });
    out.visitor.push(visitor.id);
    out.firstVisit.push(out.visitAt.length);
  });
  const u32 = (from: readonly number[]) => Uint32Array.from(from);
  const columns = withSummaries({
    visitor: u32(out.visitor),
    firstVisit: u32(out.firstVisit),
    visitAt: Float64Array.from(out.visitAt),
    device: Uint8Array.from(out.device),
    channel: Uint8Array.from(out.channel),
    town: Uint16Array.from(out.town),
    firstView: u32(out.firstView),
    viewAt: Float64Array.from(out.viewAt),
    page: u32(out.page),
    leave: u32(out.leave),
    flags: Uint8Array.from(out.flags),
    watched: u32(out.watched),
    firstSignal: u32(out.firstSignal),
    t: u32(out.t),
    kind: Uint8Array.from(out.kind),
    argument: u32(out.argument),
    pages: known.pages.list,
    watchLists: known.watched.list,
    arguments: known.arguments.list,
    devices: known.devices.list,
    channels: known.channels.list,
    towns: known.towns.list,
  });
  const { viewAt } = columns;
  return { columns, origin: { visitors, visitor: u32(origin.visitor), visit: u32(origin.visit), view: u32(origin.view), viewAt } };
}

export function townOf(location: { country?: string | undefined; city?: string | undefined } | undefined): string {
  return [location?.city, location?.country].filter(Boolean).join(', ') || UNKNOWN;
}

/** For each visit and view of the columns, which of the recorded visitors' it is. */
export interface Origin {
  readonly visitors: { readonly at: (nth: number) => RecordedVisitor | undefined };
  readonly visitor: Uint32Array;
  readonly visit: Uint32Array;
  readonly view: Uint32Array;
  /** When each view of the columns began, as they say. */
  readonly viewAt: Float64Array;
}

export type TimelineColumns = { [K in 'leave' | 'flags' | 'watched' | 'firstSignal' | 't' | 'kind' | 'argument']: number[] };

/** Appends a view's recording to the columns: in order, in whole ms, and up to the instant at which it was left. */
export function pushTimeline(
  { signals, leave, hidden, cannotScroll, watched }: RecordedTimeline,
  out: TimelineColumns,
  known: { arguments: Interner<Argument>; watched: Interner<readonly string[] | undefined> },
): void {
  let last = 0;
  for (const signal of signals) {
    if (signal.t > leave) break;
    // Out of order is taken at the instant of the one before, as the page's own timeline takes it.
    last = Math.max(last, Math.round(signal.t));
    out.t.push(last);
    out.kind.push(numberOf(signal.s));
    out.argument.push(argumentOf(signal, known.arguments));
  }
  out.leave.push(Math.max(leave, last));
  out.flags.push((hidden ? 1 : 0) | (cannotScroll ? 2 : 0));
  out.watched.push(known.watched.indexOf(JSON.stringify(watched ?? null), () => watched));
  out.firstSignal.push(out.t.length);
}

function argumentOf(signal: Signal, known: Interner<Argument>): number {
  if (signal.s === 'scroll') return Math.round(signal.depth);
  if (signal.s !== 'click' && signal.s !== 'seen' && signal.s !== 'event') return 0;
  const { t: _t, ...rest } = signal;
  return known.indexOf(JSON.stringify(rest), () => rest);
}

/** Works out of the signals what a summary of each view says; it is not sent. */
export function withSummaries(recorded: RecordedColumns): Columns {
  return withSumsBefore({ ...recorded, ...summarize(recorded) });
}

export type Summaries = Pick<Columns, 'kinds' | 'depth' | 'engagedMs' | 'clicks'>;

/** Of each view what its signals come to. */
export function summarize(recorded: TimelinesOfViews): Summaries {
  const views = recorded.viewAt.length;
  const summaries = {
    kinds: new Uint16Array(views),
    depth: new Uint8Array(views),
    engagedMs: new Uint32Array(views),
    clicks: new Uint16Array(views),
  };
  for (let view = 0; view < views; view++) {
    const [signals, leave, flags] = [signalsOf(recorded, view), recorded.leave[view] as number, recorded.flags[view] as number];
    const before = { hidden: (flags & 1) !== 0, cannotScroll: (flags & 2) !== 0 };
    const measured = measureView({ at: recorded.viewAt[view] as number, signals, leave, before });
    for (const { s } of signals) summaries.kinds[view] = (summaries.kinds[view] as number) | (1 << numberOf(s));
    summaries.depth[view] = Math.floor(measured.depth);
    summaries.engagedMs[view] = Math.round(measured.engagedMs);
    summaries.clicks[view] = Math.min(65_535, measured.clicks);
  }
  return summaries;
}

/** Adds up, over each visit, what its earlier views came to. */
export function withSumsBefore(columns: RecordedColumns & Summaries): Columns {
  const sums = { engagedBefore: new Uint32Array(columns.viewAt.length), clicksBefore: new Uint32Array(columns.viewAt.length) };
  const { firstView } = columns;
  for (let visit = 0; visit + 1 < firstView.length; visit++) {
    let [engaged, clicks] = [0, 0];
    for (let view = firstView[visit] as number; view < (firstView[visit + 1] as number); view++) {
      sums.engagedBefore[view] = engaged;
      sums.clicksBefore[view] = clicks;
      engaged += columns.engagedMs[view] as number;
      clicks += columns.clicks[view] as number;
    }
  }
  return { ...columns, ...sums };
}

type TimelinesOfViews = Pick<RecordedColumns, 'viewAt' | 'leave' | 'flags' | 'firstSignal' | 't' | 'kind' | 'argument' | 'arguments'>;

/** The signals of a view as the core's timeline takes them. */
export function signalsOf(columns: Omit<TimelinesOfViews, 'viewAt' | 'leave' | 'flags'>, view: number): Signal[] {
  const signals: Signal[] = [];
  for (let index = columns.firstSignal[view] as number; index < (columns.firstSignal[view + 1] as number); index++) {
    const t = columns.t[index] as number;
    const s = SIGNAL_KINDS[columns.kind[index] as number] as (typeof SIGNAL_KINDS)[number];
    const argument = columns.argument[index] as number;
    if (s === 'scroll') signals.push({ t, s, depth: argument });
    else if (s === 'click' || s === 'seen' || s === 'event') signals.push({ t, ...(columns.arguments[argument] as Argument) });
    else signals.push({ t, s });
  }
  return signals;
}
