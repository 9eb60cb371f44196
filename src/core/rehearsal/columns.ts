import type { Page } from '../pages/address';
import type { Signal } from '../moments/signal';
import { measureView } from '../pacing/replay';
import type { RecordedTimeline, RecordedVisitor } from './recorded';

export const SIGNAL_KINDS = ['scroll', 'click', 'input', 'exit', 'seen', 'event', 'hide', 'show'] as const;
const NUMBER_OF = new Map<string, number>(SIGNAL_KINDS.map((kind, index) => [kind, index]));

/** What signals hold besides their kind, each kept once: a scroll's depth stands in `argument` itself. */
export type Argument = WithoutTime<Extract<Signal, { s: 'click' | 'seen' | 'event' }>>;
type WithoutTime<T> = T extends unknown ? Omit<T, 't'> : never;

/**
 * Visits, page views and signals as columns, visitor by visitor and in time order: what a rehearsal runs over.
 * `firstView[visit]` to `firstView[visit + 1]` are a visit's views, and so for the others.
 */
export interface Columns {
  readonly visitor: Uint32Array;
  readonly firstVisit: Uint32Array;
  readonly visitAt: Float64Array;
  readonly firstView: Uint32Array;
  readonly viewAt: Float64Array;
  readonly page: Uint32Array;
  readonly leave: Uint32Array;
  /** Bit 0: opened hidden; bit 1: cannot scroll. */
  readonly flags: Uint8Array;
  /** Which kinds of signal the view has: bit n for `SIGNAL_KINDS[n]`. */
  readonly kinds: Uint8Array;
  readonly depth: Uint8Array;
  readonly engagedMs: Uint32Array;
  readonly clicks: Uint16Array;
  /** Index into `watchLists`. */
  readonly watched: Uint16Array;
  readonly firstSignal: Uint32Array;
  readonly t: Uint32Array;
  readonly kind: Uint8Array;
  readonly argument: Uint16Array;
  readonly pages: readonly Page[];
  readonly watchLists: readonly (readonly string[] | undefined)[];
  readonly arguments: readonly Argument[];
}

interface Growing {
  pages: Map<string, number>;
  pageList: Page[];
  arguments: Map<string, number>;
  argumentList: Argument[];
  watched: Map<string, number>;
  watchLists: (readonly string[] | undefined)[];
}

/** Columns of the visits that have timelines. Also says where each visit and view comes from. */
export function buildColumns(visitors: readonly RecordedVisitor[]): { columns: Columns; origin: Origin } {
  const known: Growing = { pages: new Map(), pageList: [], arguments: new Map(), argumentList: [], watched: new Map(), watchLists: [] };
  const out = {
    visitor: [] as number[],
    firstVisit: [0],
    visitAt: [] as number[],
    firstView: [0],
    viewAt: [] as number[],
    page: [] as number[],
    leave: [] as number[],
    flags: [] as number[],
    kinds: [] as number[],
    depth: [] as number[],
    engagedMs: [] as number[],
    clicks: [] as number[],
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
        out.viewAt.push(view.at);
        out.page.push(
          indexOf(known.pages, known.pageList, JSON.stringify([view.url, view.title, view.labels]), () => ({
            url: view.url,
            title: view.title,
            labels: view.labels,
          })),
        );
        pushTimeline(timeline, view.at, out, known);
        origin.view.push(viewIndex);
      });
      out.visitAt.push(visit.at);
      out.firstView.push(out.viewAt.length);
      origin.visitor.push(nth);
      origin.visit.push(visitIndex);
    });
    out.visitor.push(visitor.id);
    out.firstVisit.push(out.visitAt.length);
  });
  const u32 = (from: readonly number[]) => Uint32Array.from(from);
  const columns: Columns = {
    visitor: u32(out.visitor),
    firstVisit: u32(out.firstVisit),
    visitAt: Float64Array.from(out.visitAt),
    firstView: u32(out.firstView),
    viewAt: Float64Array.from(out.viewAt),
    page: u32(out.page),
    leave: u32(out.leave),
    flags: Uint8Array.from(out.flags),
    kinds: Uint8Array.from(out.kinds),
    depth: Uint8Array.from(out.depth),
    engagedMs: u32(out.engagedMs),
    clicks: Uint16Array.from(out.clicks),
    watched: Uint16Array.from(out.watched),
    firstSignal: u32(out.firstSignal),
    t: u32(out.t),
    kind: Uint8Array.from(out.kind),
    argument: Uint16Array.from(out.argument),
    pages: known.pageList,
    watchLists: known.watchLists,
    arguments: known.argumentList,
  };
  return { columns, origin: { visitors, visitor: u32(origin.visitor), visit: u32(origin.visit), view: u32(origin.view) } };
}

/** For each visit and view of the columns, which of the recorded visitors' it is. */
export interface Origin {
  readonly visitors: readonly RecordedVisitor[];
  readonly visitor: Uint32Array;
  readonly visit: Uint32Array;
  readonly view: Uint32Array;
}

type Out = {
  [K in 'leave' | 'flags' | 'kinds' | 'depth' | 'engagedMs' | 'clicks' | 'watched' | 'firstSignal' | 't' | 'kind' | 'argument']: number[];
};

function pushTimeline({ signals, leave, hidden, cannotScroll, watched }: RecordedTimeline, at: number, out: Out, known: Growing): void {
  const before = { hidden, cannotScroll };
  const measured = measureView({ at, signals, leave, before });
  let kinds = 0;
  let last = 0;
  for (const signal of signals) {
    if (signal.t > leave) break;
    // Out of order is taken at the instant of the one before, as the page's own timeline takes it.
    last = Math.max(last, Math.round(signal.t));
    const number = NUMBER_OF.get(signal.s) ?? 2;
    kinds |= 1 << number;
    out.t.push(last);
    out.kind.push(number);
    out.argument.push(argumentOf(signal, known));
  }
  out.leave.push(Math.max(leave, last));
  out.flags.push((hidden ? 1 : 0) | (cannotScroll ? 2 : 0));
  out.kinds.push(kinds);
  out.depth.push(Math.floor(measured.depth));
  out.engagedMs.push(Math.round(measured.engagedMs));
  out.clicks.push(Math.min(65_535, measured.clicks));
  out.watched.push(indexOf(known.watched, known.watchLists, JSON.stringify(watched ?? null), () => watched));
  out.firstSignal.push(out.t.length);
}

function argumentOf(signal: Signal, known: Growing): number {
  if (signal.s === 'scroll') return Math.round(signal.depth);
  if (signal.s !== 'click' && signal.s !== 'seen' && signal.s !== 'event') return 0;
  const { t: _t, ...rest } = signal;
  return indexOf(known.arguments, known.argumentList, JSON.stringify(rest), () => rest);
}

function indexOf<T>(known: Map<string, number>, list: T[], key: string, make: () => T): number {
  let index = known.get(key);
  if (index === undefined) {
    index = list.push(make()) - 1;
    known.set(key, index);
  }
  return index;
}

/** The signals of a view as the core's timeline takes them. */
export function signalsOf(columns: Columns, view: number): Signal[] {
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
