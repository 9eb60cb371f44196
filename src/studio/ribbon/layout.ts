// Where everything of one visit stands on its ribbon. Pure, so that every screen draws the same visit the same way.
import type { RecordedVisit } from '@/server/db/visits';

/** A pause longer than this is folded to this length: what somebody did matters, not how long they were away. */
const LONGEST_PAUSE_MS = 20_000;
const QUIET_MS = 30_000;

export interface RibbonView {
  readonly path: string;
  readonly title: string;
  /** Section of the page ("/huts/upper-moss" is "huts"): pages of a section share a colour. */
  readonly section: string;
  readonly from: number;
  readonly to: number;
  /** Deepest scroll so far, in percent, at instants on the ribbon. */
  readonly depth: readonly { readonly at: number; readonly percent: number }[];
}

export interface RibbonMark {
  /** `would` and `missed` are a rehearsal's: where a rule would show, and where it just would not. */
  readonly kind: 'click' | 'exit' | 'event' | 'showing' | 'would' | 'missed';
  readonly at: number;
  readonly words: string;
  readonly letter?: string;
}

export interface Ribbon {
  readonly views: readonly RibbonView[];
  readonly marks: readonly RibbonMark[];
  /** Stretches of at least half a minute without a signal. */
  readonly quiet: readonly { readonly from: number; readonly to: number }[];
  /** Folded length in ms. */
  readonly length: number;
}

/** Where a rule would show in a visit, or just missed; `at` is UTC ms. */
export interface RehearsedFlag {
  readonly at: number;
  readonly words: string;
  readonly letter: string;
  readonly isMissed: boolean;
}

export function layoutRibbon({ views, showings }: Pick<RecordedVisit, 'views' | 'showings'>): Ribbon {
  const drawn: RibbonView[] = [];
  const marks: RibbonMark[] = [];
  const quiet: { from: number; to: number }[] = [];
  const folds = foldedIn(views);
  let cursor = 0;
  for (const [index, view] of views.entries()) {
    const from = cursor;
    const at = folds[index] as (t: number) => number;
    const path = pathOf(view.url);
    const depth: { at: number; percent: number }[] = [{ at: from, percent: 0 }];
    let last = 0;
    for (const signal of view.signals) {
      if (signal.t - last >= QUIET_MS) quiet.push({ from: at(last), to: at(signal.t) });
      last = signal.t;
      if (signal.s === 'scroll') depth.push({ at: at(signal.t), percent: Math.max(signal.depth, depth.at(-1)?.percent ?? 0) });
      if (signal.s === 'whole') depth.push({ at: at(signal.t), percent: 100 });
      if (signal.s === 'click') marks.push({ kind: 'click', at: at(signal.t), words: 'click' });
      if (signal.s === 'exit') marks.push({ kind: 'exit', at: at(signal.t), words: 'moved to leave' });
      if (signal.s === 'event') marks.push({ kind: 'event', at: at(signal.t), words: signal.name });
    }
    if (view.leave - last >= QUIET_MS) quiet.push({ from: at(last), to: at(view.leave) });
    for (const showing of showings) {
      const t = showing.at - view.at;
      if (viewAt(views, showing.at) === index) {
        const outcome = showing.outcomes.includes('converted')
          ? ', converted'
          : showing.outcomes.includes('dismissed')
            ? ', dismissed'
            : '';
        marks.push({ kind: 'showing', at: at(t), words: `${showing.name} shown${outcome}`, letter: showing.name.charAt(0).toUpperCase() });
      }
    }
    cursor = at(view.leave);
    depth.push({ at: cursor, percent: depth.at(-1)?.percent ?? 0 });
    drawn.push({ path, title: view.title ?? path, section: sectionOf(path), from, to: cursor, depth });
  }
  return { views: drawn, marks, quiet, length: cursor };
}

/** A ribbon with flags where something would show; `ribbon` is the visit's without its own showings. */
export function withFlags(ribbon: Ribbon, { views }: Pick<RecordedVisit, 'views'>, flags: readonly RehearsedFlag[]): Ribbon {
  const folds = foldedIn(views);
  const marks = flags.flatMap(({ at, words, letter, isMissed }): RibbonMark[] => {
    const nth = viewAt(views, at);
    const [view, fold] = [views[nth], folds[nth]];
    return view && fold ? [{ kind: isMissed ? 'missed' : 'would', at: fold(at - view.at), words, letter }] : [];
  });
  return { ...ribbon, marks: [...ribbon.marks, ...marks] };
}

/** Index of the page view under way at an instant (UTC ms); -1 before the first. */
const viewAt = (views: RecordedVisit['views'], instant: number): number => views.findLastIndex(({ at }) => instant >= at);

/** For each view of a visit, where an instant of it (ms since its opening) stands on the ribbon. */
export function foldedIn(views: RecordedVisit['views']): ((t: number) => number)[] {
  let cursor = 0;
  return views.map((view) => {
    const from = cursor;
    const fold = foldPauses(
      view.signals.map(({ t }) => t),
      view.leave,
    );
    const at = (t: number): number => from + fold(Math.min(t, view.leave));
    cursor = at(view.leave);
    return at;
  });
}

/** Maps an instant of a view to its folded one. */
function foldPauses(instants: readonly number[], leave: number): (t: number) => number {
  const stops = [...new Set([0, ...instants.filter((t) => t > 0 && t < leave), leave])].sort((a, b) => a - b);
  const folded: number[] = [0];
  for (let index = 1; index < stops.length; index++) {
    const pause = (stops[index] as number) - (stops[index - 1] as number);
    folded.push((folded[index - 1] as number) + Math.min(pause, LONGEST_PAUSE_MS));
  }
  return (t) => {
    let index = stops.findIndex((stop) => stop >= t);
    if (index < 0) index = stops.length - 1;
    if (index === 0) return 0;
    const [before, after] = [stops[index - 1] as number, stops[index] as number];
    const share = after > before ? (t - before) / (after - before) : 1;
    return (folded[index - 1] as number) + share * ((folded[index] as number) - (folded[index - 1] as number));
  };
}

export function clockWords(ms: number): string {
  const seconds = Math.round(ms / 1000);
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}

/** Section of a page's path: "/huts/upper-moss" is "huts". */
export const sectionOf = (path: string): string => path.split('/')[1] || 'home';

/** Sections in the order of their views, so that the most seen ones get colours of their own. */
export function sectionsOf(pages: readonly { readonly path: string; readonly views: number }[]): string[] {
  const views = new Map<string, number>();
  for (const page of pages) views.set(sectionOf(page.path), (views.get(sectionOf(page.path)) ?? 0) + page.views);
  return [...views].sort((a, b) => b[1] - a[1]).map(([section]) => section);
}

function pathOf(url: string): string {
  return URL.canParse(url) ? new URL(url).pathname : url;
}
