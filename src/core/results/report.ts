// What a campaign came to, from the visitors who met it. Pure: the same visitors give the same numbers anywhere.
import chiSquared from '@stdlib/stats-base-dists-chisquare-cdf';
import type { Dismissal } from '../history/visitor';
import type { Split } from '../campaigns/assign';
import { DAY_MS } from '../time/day';
import { daysToTell } from './planning';
import type { Interval, Tally } from './rates';
import { rateInterval } from './rates';
import type { Values } from './span';
import { differenceSpan, meanOf, USUAL_PLAN, valueSpan } from './span';

export const NOTHING = 'nothing';
/** What is dealt where there are no variants. */
export const SHOWN = 'shown';

/** A visitor who first met a campaign in a period: its rule fired for them, whatever they then saw. Instants are UTC ms. */
export interface Exposure {
  readonly visitor: number;
  readonly met: number;
  /** Nothing, a variant, or `shown` where there are no variants: by the first meeting, for good. */
  readonly dealt: string;
  readonly shown: boolean;
  readonly success: number | null;
  readonly value: number | null;
  readonly device: string | null;
  readonly channel: string | null;
  /** Path of the page of the first meeting. */
  readonly page: string | null;
  readonly country: string | null;
  readonly known: boolean;
  readonly returning: boolean;
  /** Pressed, answered or replied. */
  readonly engaged: boolean;
  readonly sent: boolean;
  /** How they first dismissed it; `unknown` where that was not told; null where they did not. */
  readonly dismissed: Dismissal | 'unknown' | null;
  /** The release in which they met it. */
  readonly release: number;
  /** In the segment asked for, as it was at the first meeting. */
  readonly inSegment?: boolean | undefined;
}

export const DIMENSIONS = ['variant', 'day', 'device', 'channel', 'page', 'country', 'known', 'returning'] as const;
export type Dimension = (typeof DIMENSIONS)[number] | `segment:${string}`;

export interface Against {
  readonly value: string;
  readonly difference: number;
  readonly span: readonly [number, number];
  readonly alpha: number;
  /** Of mean values; undefined where there are too few, or none have a value. */
  readonly worth?: { readonly difference: number; readonly span: readonly [number, number] } | undefined;
}

export interface ResultRow {
  readonly value: string;
  readonly met: number;
  readonly shown: number;
  readonly successes: number;
  readonly rate: number | null;
  readonly interval: readonly [number, number] | null;
  readonly valueMean: number | null;
  readonly against: Against | null;
}

export interface Report {
  readonly met: number;
  readonly planned: number;
  /** Visitors whose days are not over: they may still succeed. */
  readonly unripe: number;
  /** The chance of shares at least as far off as these; null where there is nothing to compare. */
  readonly shares: { readonly chance: number | null };
  readonly rows: readonly ResultRow[];
  readonly steps: readonly { readonly step: Step; readonly visitors: number }[];
  readonly dismissed: number;
  /** Of these by which way, the most frequent first. */
  readonly dismissals: readonly { readonly how: Dismissal | 'unknown'; readonly visitors: number }[];
}

export const STEPS = ['met', 'shown', 'engaged', 'sent', 'success'] as const;
export type Step = (typeof STEPS)[number];

export interface ReportOptions {
  readonly by?: Dimension;
  /** Days after the first meeting in which a success counts; Infinity for always. */
  readonly days: number;
  /** The message alone can bring the goal about: nobody is compared with seeing nothing. */
  readonly isOwnGoal: boolean;
  /** Variants in their order. */
  readonly variants?: readonly string[];
  /** What was dealt out, by release. */
  readonly splits?: ReadonlyMap<number, Split>;
  /** Visitors of both groups together that a comparison is planned for. */
  readonly planned?: number;
  /** UTC ms. */
  readonly now: number;
  /** IANA name: in which days are told. */
  readonly zone?: string;
}

const ALPHA = 0.05;

/** What some visitors come to. Whoever had no success was worth nothing. */
interface Sums {
  met: number;
  shown: number;
  successes: number;
  sum: number;
  squares: number;
  /** Any of them had a value. */
  hasValues: boolean;
}

const tallyOf = ({ met, successes }: Sums): Tally => ({ of: met, conversions: successes });
const valuesOf = ({ met, sum, squares }: Sums): Values => ({ of: met, sum, squares });
const noSums = (): Sums => ({ met: 0, shown: 0, successes: 0, sum: 0, squares: 0, hasValues: false });

/** By key, in one go: there may be hundreds of thousands of visitors. */
function sumsBy(visitors: Iterable<Exposure>, key: (visitor: Exposure) => string): Map<string, Sums> {
  const groups = new Map<string, Sums>();
  for (const visitor of visitors) {
    const of = key(visitor);
    let sums = groups.get(of);
    if (!sums) groups.set(of, (sums = noSums()));
    sums.met++;
    if (visitor.shown) sums.shown++;
    if (visitor.value !== null) sums.hasValues = true;
    if (visitor.success === null) continue;
    sums.successes++;
    const worth = visitor.value ?? 0;
    sums.sum += worth;
    sums.squares += worth * worth;
  }
  return groups;
}

const pair = ({ low, high }: Interval): readonly [number, number] => [low, high];

const dayFormats = new Map<string, Intl.DateTimeFormat>();
/** Clocks differ by whole quarters of an hour: of those asked for the days are kept. */
const QUARTER_MS = 900_000;
const MOST_KEPT = 50_000;
let kept: { zone: string; days: Map<number, string> } = { zone: '', days: new Map() };

/** The calendar day of an instant on the clocks of a zone: "2026-11-27". */
export function dayIn(zone: string, at: number): string {
  if (kept.zone !== zone || kept.days.size > MOST_KEPT) kept = { zone, days: new Map() };
  const quarter = Math.floor(at / QUARTER_MS);
  let day = kept.days.get(quarter);
  if (day === undefined) kept.days.set(quarter, (day = formatDay(zone, at)));
  return day;
}

function formatDay(zone: string, at: number): string {
  let format = dayFormats.get(zone);
  if (!format)
    dayFormats.set(
      zone,
      (format = new Intl.DateTimeFormat('en-CA', { timeZone: zone, year: 'numeric', month: '2-digit', day: '2-digit' })),
    );
  return format.format(at);
}

/** What a visitor is told apart by; only what was so before the message was seen. */
function keyOf(by: Dimension, zone: string): (visitor: Exposure) => string {
  const orUnknown = (value: string | null): string => value ?? 'unknown';
  switch (by) {
    case 'variant':
      return ({ dealt }) => dealt;
    case 'day':
      return ({ met }) => dayIn(zone, met);
    case 'device':
      return ({ device }) => orUnknown(device);
    case 'channel':
      return ({ channel }) => orUnknown(channel);
    case 'page':
      return ({ page }) => orUnknown(page);
    case 'country':
      return ({ country }) => orUnknown(country);
    case 'known':
      return ({ known }) => (known ? 'known' : 'not known');
    case 'returning':
      return ({ returning }) => (returning ? 'returning' : 'new');
    default:
      return ({ inSegment }) => (inSegment ? 'in it' : 'not in it');
  }
}

interface Group {
  readonly value: string;
  readonly sums: Sums;
  readonly against?: { readonly value: string; readonly sums: Sums } | undefined;
}

/** Variants beside those who see nothing, all compared with these, or with the first variant where nobody sees nothing or that would be no comparison. */
function variantGroups(visitors: readonly Exposure[], { isOwnGoal, variants = [] }: ReportOptions): Group[] {
  const groups = sumsBy(visitors, ({ dealt }) => dealt);
  const order = [NOTHING, ...variants, ...[...groups.keys()].filter((value) => value !== NOTHING && !variants.includes(value)).sort()];
  const present = order.flatMap((value) => {
    const sums = groups.get(value);
    return sums ? [{ value, sums }] : [];
  });
  const base = isOwnGoal ? present.find(({ value }) => value !== NOTHING) : present[0];
  return present.map((group) => {
    const isCompared = base && group !== base && (group.value !== NOTHING || !isOwnGoal);
    return isCompared ? { ...group, against: base } : group;
  });
}

/** Of each value those who were dealt something, compared with those of the same value who were dealt nothing. */
function valueGroups(visitors: readonly Exposure[], by: Dimension, { isOwnGoal, zone = 'UTC' }: ReportOptions): Group[] {
  const key = keyOf(by, zone);
  const nothing = sumsBy(
    visitors.filter(({ dealt }) => dealt === NOTHING),
    key,
  );
  const seen = sumsBy(
    visitors.filter(({ dealt }) => dealt !== NOTHING),
    key,
  );
  const met = (value: string): number => (seen.get(value)?.met ?? 0) + (nothing.get(value)?.met ?? 0);
  return [...new Set([...seen.keys(), ...nothing.keys()])]
    .sort((a, b) => (by === 'day' ? (a < b ? -1 : 1) : met(b) - met(a) || (a < b ? -1 : 1)))
    .map((value): Group => {
      const [sums, others] = [seen.get(value), nothing.get(value)];
      return { value, sums: sums ?? noSums(), ...(sums && others && !isOwnGoal ? { against: { value: NOTHING, sums: others } } : {}) };
    });
}

/** The rows of a table, each compared row with its part of the chance of a false alarm. */
export function rowsBy(visitors: readonly Exposure[], by: Dimension, options: ReportOptions): ResultRow[] {
  const groups = by === 'variant' ? variantGroups(visitors, options) : valueGroups(visitors, by, options);
  const compared = groups.filter(({ against }) => against !== undefined).length;
  const alpha = ALPHA / Math.max(1, compared);
  return groups.map(({ value, sums, against }): ResultRow => {
    const tally = tallyOf(sums);
    const interval = rateInterval(tally);
    return {
      value,
      met: tally.of,
      shown: sums.shown,
      successes: tally.conversions,
      rate: tally.of > 0 ? tally.conversions / tally.of : null,
      interval: interval ? pair(interval) : null,
      valueMean: sums.hasValues ? (meanOf(valuesOf(sums)) ?? null) : null,
      against: against ? compare(sums, against, { alpha, planned: options.planned ?? USUAL_PLAN }) : null,
    };
  });
}

function compare(ones: Sums, { value, sums: others }: { value: string; sums: Sums }, options: { alpha: number; planned: number }): Against {
  const [first, second] = [tallyOf(ones), tallyOf(others)];
  const [a, b] = [valuesOf(ones), valuesOf(others)];
  const worth = ones.hasValues || others.hasValues ? valueSpan(a, b, options) : undefined;
  return {
    value,
    difference: first.conversions / first.of - second.conversions / second.of,
    span: pair(differenceSpan(first, second, options)),
    alpha: options.alpha,
    ...(worth ? { worth: { difference: a.sum / a.of - b.sum / b.of, span: pair(worth) } } : {}),
  };
}

/**
 * Were visitors dealt out as meant? Pearson's chi-squared over all releases together, each with the shares that it had, so that changed shares are no
 * alarm. Null without anything dealt out.
 */
export function sharesChance(visitors: readonly Exposure[], splits: ReadonlyMap<number, Split>): number | null {
  let [statistic, freedom] = [0, 0];
  const byRelease = new Map<number, Map<string, number>>();
  for (const { release, dealt } of visitors) {
    let counts = byRelease.get(release);
    if (!counts) byRelease.set(release, (counts = new Map<string, number>()));
    counts.set(dealt, (counts.get(dealt) ?? 0) + 1);
  }
  for (const [release, counts] of byRelease) {
    const { holdout = 0, variants = [] } = splits.get(release) ?? {};
    const total = variants.reduce((sum, { weight }) => sum + weight, 0);
    const meant: readonly (readonly [dealt: string, share: number])[] = [
      [NOTHING, holdout],
      ...(variants.length
        ? variants.map(({ name, weight }) => [name, ((1 - holdout) * weight) / total] as const)
        : [[SHOWN, 1 - holdout] as const]),
    ];
    const dealt = meant.filter(([, share]) => share > 0);
    if (dealt.length < 2) continue;
    // Whoever was dealt by an earlier release stays as they are, and is no part of what this one deals out.
    const counted = dealt.reduce((sum, [name]) => sum + (counts.get(name) ?? 0), 0);
    for (const [name, share] of dealt) {
      const expected = counted * share;
      if (expected > 0) statistic += ((counts.get(name) ?? 0) - expected) ** 2 / expected;
    }
    if (counted > 0) freedom += dealt.length - 1;
  }
  return freedom > 0 ? 1 - chiSquared(statistic, freedom) : null;
}

/** The whole report of a period's visitors. */
export function reportOn(visitors: readonly Exposure[], options: ReportOptions): Report {
  const { days, now, by = 'variant', splits = new Map<number, Split>(), planned = USUAL_PLAN } = options;
  const seen = visitors.filter(({ dealt }) => dealt !== NOTHING);
  const count = (test: (visitor: Exposure) => boolean): number => seen.filter(test).length;
  return {
    met: visitors.length,
    planned,
    unripe: Number.isFinite(days) ? visitors.filter(({ met }) => met + days * DAY_MS > now).length : 0,
    shares: { chance: sharesChance(visitors, splits) },
    rows: rowsBy(visitors, by, options),
    steps: [
      { step: 'met', visitors: visitors.length },
      { step: 'shown', visitors: count(({ shown }) => shown) },
      { step: 'engaged', visitors: count(({ engaged, sent }) => engaged || sent) },
      { step: 'sent', visitors: count(({ sent }) => sent) },
      { step: 'success', visitors: count(({ success }) => success !== null) },
    ],
    dismissed: count(({ dismissed }) => dismissed !== null),
    dismissals: (['button', 'dim', 'escape', 'answer', 'unknown'] as const)
      .map((how) => ({ how, visitors: count(({ dismissed }) => dismissed === how) }))
      .filter(({ visitors: some }) => some > 0)
      .sort((a, b) => b.visitors - a.visitors),
  };
}

/** How a difference became known: for each day's end what was known then, of all who had met by then. */
export interface KnownBy {
  readonly day: string;
  readonly met: number;
  readonly difference: number | null;
  readonly span: readonly [number, number];
}

/** Everybody who was dealt something against those who see nothing, or the second variant against the first; empty where there is nothing to compare. */
export function courseOf(visitors: readonly Exposure[], options: ReportOptions): KnownBy[] {
  const { zone = 'UTC', planned = USUAL_PLAN, isOwnGoal, variants = [] } = options;
  const hasNothing = !isOwnGoal && visitors.some(({ dealt }) => dealt === NOTHING);
  const [base, other] = hasNothing ? [NOTHING, undefined] : [variants[0], variants[1]];
  if (base === undefined || (!hasNothing && other === undefined)) return [];
  const isBase = ({ dealt }: Exposure): boolean => dealt === base;
  const isOther = ({ dealt }: Exposure): boolean => (other === undefined ? dealt !== NOTHING : dealt === other);
  const days = new Map<string, { met: [number, number]; successes: [number, number] }>();
  const dayOf = (at: number) => {
    const day = dayIn(zone, at);
    let found = days.get(day);
    if (!found) days.set(day, (found = { met: [0, 0], successes: [0, 0] }));
    return found;
  };
  for (const visitor of visitors) {
    const side = isBase(visitor) ? 1 : isOther(visitor) ? 0 : undefined;
    if (side === undefined) continue;
    dayOf(visitor.met).met[side]++;
    if (visitor.success !== null) dayOf(visitor.success).successes[side]++;
  }
  let [first, second]: [Tally, Tally] = [
    { of: 0, conversions: 0 },
    { of: 0, conversions: 0 },
  ];
  return [...days]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([day, { met, successes }]): KnownBy => {
      first = { of: first.of + met[0], conversions: first.conversions + successes[0] };
      second = { of: second.of + met[1], conversions: second.conversions + successes[1] };
      const difference = first.of > 0 && second.of > 0 ? first.conversions / first.of - second.conversions / second.of : null;
      return { day, met: first.of + second.of, difference, span: pair(differenceSpan(first, second, { planned })) };
    });
}

/** How many more visitors, and at this pace how many more days, until a difference of `points` would be clear. */
export interface StillNeeded {
  readonly visitors: number;
  readonly days: number;
}

/**
 * What is still needed by those who met it so far, as they were dealt, at the pace since the first of them: undefined where nothing is compared, nobody has
 * met it, or everybody or nobody succeeds. `points`: 0.01 is one of a hundred; `to` UTC ms, until when the visitors are.
 */
export function stillNeeded(
  visitors: readonly Exposure[],
  { isOwnGoal, variants = [] }: ReportOptions,
  { points, to }: { points: number; to: number },
): StillNeeded | undefined {
  const groups = variantGroups(visitors, { isOwnGoal, variants, days: 0, now: to });
  const compared = groups.filter(({ against }) => against !== undefined);
  const base = compared[0]?.against;
  const first = visitors.reduce((least, { met }) => Math.min(least, met), Infinity);
  const elapsed = (to - first) / DAY_MS;
  if (!base || elapsed <= 0) return undefined;
  const { conversions, of } = tallyOf(base.sums);
  const rate = conversions / of;
  const taking = of + compared.reduce((sum, { sums }) => sum + sums.met, 0);
  if (rate <= 0 || rate >= 1) return undefined;
  const shares = compared.map(({ sums }) => sums.met / taking);
  const share = of / taking;
  const dealt = base.value === NOTHING ? { nothing: share, variants: shares } : { nothing: 0, variants: [share, ...shares] };
  const perDay = taking / elapsed;
  const days = daysToTell(dealt, { perDay, rate, points });
  if (days === undefined || !Number.isFinite(days)) return undefined;
  const left = Math.max(0, days - elapsed);
  return { visitors: Math.ceil(left * perDay), days: Math.ceil(left) };
}
