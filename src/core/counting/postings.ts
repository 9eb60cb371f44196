import { DAY_MS } from '../time/day';
/** One day's page views, those of a page together. Instants are ms since `dayStart` (UTC ms), engaged time in ms. */
export interface DayPostings {
  readonly dayStart: number;
  readonly pages: Uint32Array;
  /** `offsets[n]` to `offsets[n + 1]` are the views of `pages[n]`. */
  readonly offsets: Uint32Array;
  readonly visitors: Uint32Array;
  readonly instants: Uint32Array;
  readonly engaged: Uint32Array;
  readonly scrolls: Uint8Array;
}

export interface ViewRow {
  readonly page: number;
  readonly visitor: number;
  readonly at: number;
  readonly engagedMs: number;
  readonly scroll: number;
}

export function postingsOf(dayStart: number, rows: readonly ViewRow[]): DayPostings {
  const sorted = [...rows].sort((a, b) => a.page - b.page || a.visitor - b.visitor || a.at - b.at);
  const pages: number[] = [];
  const offsets: number[] = [];
  sorted.forEach(({ page }, index) => {
    if (page === sorted[index - 1]?.page) return;
    pages.push(page);
    offsets.push(index);
  });
  return {
    dayStart,
    pages: Uint32Array.from(pages),
    offsets: Uint32Array.from([...offsets, sorted.length]),
    visitors: Uint32Array.from(sorted, ({ visitor }) => visitor),
    instants: Uint32Array.from(sorted, ({ at }) => at - dayStart),
    engaged: Uint32Array.from(sorted, ({ engagedMs }) => engagedMs),
    scrolls: Uint8Array.from(sorted, ({ scroll }) => scroll),
  };
}

/** Which pages count (1), or may count (2), by page number. */
export type PageTruths = Uint8Array;

/** From which instant on (exclusive) and up to which (inclusive) views count, UTC ms; per visitor where the visit decides. */
export type Window = { readonly after: number; readonly upTo: number } | { readonly from: Float64Array; readonly upTo: number };

/** Sums for each visitor what `weigh` gives for the views that count, surely (`low`) and at most (`high`). Indexed by visitor number. */
export interface Sums {
  readonly low: Float64Array | Uint32Array | Uint8Array;
  /** The same array as `low` where nothing is unknown. */
  readonly high: Float64Array | Uint32Array | Uint8Array;
}

export type Weigh = (day: DayPostings, row: number) => number;
/** Where no more is asked than this, a byte counts each visitor and stops here: four times less memory to go through. */
const SMALL = 255;

/** `weigh` undefined counts each view as 1, and then the instants of days that lie wholly in the window are not looked at. */
export function sumViews(
  days: readonly DayPostings[],
  {
    truths,
    window,
    visitors,
    weigh,
    mostAsked = Infinity,
  }: { truths: PageTruths | undefined; window: Window; visitors: number; weigh?: Weigh | undefined; mostAsked?: number },
): Sums {
  const isSmall = !weigh && mostAsked < SMALL;
  const low = weigh ? new Float64Array(visitors + 1) : isSmall ? new Uint8Array(visitors + 1) : new Uint32Array(visitors + 1);
  let high = low;
  for (const day of days) {
    if (!touches(day, window)) continue;
    const isWhole = liesWithin(day, window);
    for (let nth = 0; nth < day.pages.length; nth++) {
      const truth = truths ? (truths[day.pages[nth] as number] as number) : 1;
      if (truth === 0) continue;
      if (truth === 2 && high === low) high = low.slice();
      add(
        day,
        { from: day.offsets[nth] as number, to: day.offsets[nth + 1] as number, isWhole, window, weigh },
        truth === 1 ? low : undefined,
        high === low && truth === 1 ? undefined : high,
      );
    }
  }
  return { low, high };
}

interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly isWhole: boolean;
  readonly window: Window;
  readonly weigh: Weigh | undefined;
}

function add(
  day: DayPostings,
  { from, to, isWhole, window, weigh }: Stretch,
  first: Sums['low'] | undefined,
  second: Sums['low'] | undefined,
): void {
  const { visitors } = day;
  const target = first ?? second;
  if (!target) return;
  const other = first && second;
  if (isWhole && !other && target instanceof Uint8Array) return countSmall(visitors, target, { from, to });
  if (isWhole && !weigh && !other) {
    for (let row = from; row < to; row++) (target[visitors[row] as number] as number)++;
    return;
  }
  for (let row = from; row < to; row++) {
    const visitor = visitors[row] as number;
    if (!isWhole && !counts(day.dayStart + (day.instants[row] as number), visitor, window)) continue;
    const weight = weigh ? weigh(day, row) : 1;
    target[visitor] = capped(target, (target[visitor] as number) + weight);
    if (other) other[visitor] = capped(other, (other[visitor] as number) + weight);
  }
}

/** Its own function on one kind of array: a count over millions of views is spent here. */
function countSmall(visitors: Uint32Array, target: Uint8Array, { from, to }: { from: number; to: number }): void {
  for (let row = from; row < to; row++) {
    const visitor = visitors[row] as number;
    const count = target[visitor] as number;
    if (count < SMALL) target[visitor] = count + 1;
  }
}

const capped = (target: Sums['low'], sum: number): number => (target instanceof Uint8Array ? Math.min(SMALL, sum) : sum);

function counts(at: number, visitor: number, window: Window): boolean {
  return at <= window.upTo && ('from' in window ? at >= (window.from[visitor] as number) : at > window.after);
}

function touches({ dayStart }: DayPostings, window: Window): boolean {
  return dayStart <= window.upTo && ('from' in window || dayStart + DAY_MS > window.after);
}

function liesWithin({ dayStart }: DayPostings, window: Window): boolean {
  return !('from' in window) && dayStart > window.after && dayStart + DAY_MS <= window.upTo;
}

/** For each visitor the last view up to an instant that began in their last visit: where its measures stand, or -1. */
export function lastViews(
  days: readonly DayPostings[],
  { from, upTo, visitors }: { from: Float64Array; upTo: number; visitors: number },
): { day: Int32Array; row: Int32Array } {
  const day = new Int32Array(visitors + 1).fill(-1);
  const row = new Int32Array(visitors + 1).fill(-1);
  const latest = new Float64Array(visitors + 1).fill(-Infinity);
  days.forEach((one, nth) => {
    if (one.dayStart > upTo) return;
    for (let index = 0; index < one.visitors.length; index++) {
      const visitor = one.visitors[index] as number;
      const at = one.dayStart + (one.instants[index] as number);
      if (at > upTo || at < (from[visitor] as number) || at < (latest[visitor] as number)) continue;
      latest[visitor] = at;
      day[visitor] = nth;
      row[visitor] = index;
    }
  });
  return { day, row };
}

/** How many visitors' sums lie surely in a range of counts. */
export function countInRange(
  { low, high }: Sums,
  { min = 0, max = Infinity }: { min?: number | undefined; max?: number | undefined },
): number {
  let count = 0;
  for (let visitor = 1; visitor < low.length; visitor++) {
    if ((low[visitor] as number) >= min && (high[visitor] as number) <= max) count++;
  }
  return count;
}
