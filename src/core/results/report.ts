// What a campaign came to, from the visitors who met it. Pure: the same visitors give the same numbers anywhere.
import chiSquared from '@stdlib/stats-base-dists-chisquare-cdf';
import type { Dismissal } from '../history/visitor';
import type { Split } from '../campaigns/assign';
import { DAY_MS } from '../time/day';
import type { Against, Sums } from './compare';
import { compare, noSums, pair, stratumOf, sumsBy, tallyOf, valuesOf } from './compare';
import { rateInterval } from './rates';
import type { Looks } from './span';
import { meanOf, USUAL_PLAN } from './span';

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

/** Those whom a row is compared with: the control group, or the first variant. */
export interface Control {
  readonly value: string;
  readonly met: number;
  readonly successes: number;
  readonly rate: number | null;
  readonly interval: readonly [number, number] | null;
}

export interface ResultRow {
  readonly value: string;
  /** Where variants are compared with each other within a value: whose row it is. */
  readonly variant?: string | undefined;
  readonly met: number;
  readonly shown: number;
  readonly successes: number;
  readonly rate: number | null;
  readonly interval: readonly [number, number] | null;
  readonly valueMean: number | null;
  readonly against: Against | null;
  /** Of a table besides that of the variants: those of the same value, counted apart. */
  readonly control: Control | null;
}

export interface Report {
  readonly met: number;
  readonly planned: number;
  readonly looks: Looks;
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
  /** `once` where the visitors are those of any period but one that goes on from a fixed start. */
  readonly looks?: Looks;
  /** UTC ms. */
  readonly now: number;
  /** IANA name: in which days are told. */
  readonly zone?: string;
}

const ALPHA = 0.05;

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

const NO_SPLITS: ReadonlyMap<number, Split> = new Map();

export interface Group {
  readonly value: string;
  readonly variant?: string | undefined;
  readonly sums: Sums;
  readonly against?: { readonly value: string; readonly sums: Sums } | undefined;
  readonly control?: { readonly value: string; readonly sums: Sums } | undefined;
}

/** Variants beside those who see nothing, all compared with these, or with the first variant where nobody sees nothing or that would be no comparison. */
export function variantGroups(visitors: readonly Exposure[], { isOwnGoal, variants = [], splits = NO_SPLITS }: ReportOptions): Group[] {
  const groups = sumsBy(visitors, ({ dealt }) => dealt, stratumOf(splits));
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

/**
 * Of each value those who were dealt something beside those of the same value who were dealt nothing; without a control group, or where it would be no comparison,
 * each further variant beside the first.
 */
function valueGroups(
  visitors: readonly Exposure[],
  by: Dimension,
  { isOwnGoal, zone = 'UTC', splits = NO_SPLITS, variants = [] }: ReportOptions,
): Group[] {
  const [key, stratum] = [keyOf(by, zone), stratumOf(splits)];
  const sumsOf = (test: (dealt: string) => boolean): Map<string, Sums> =>
    sumsBy(
      visitors.filter(({ dealt }) => test(dealt)),
      key,
      stratum,
    );
  const nothing = sumsOf((dealt) => dealt === NOTHING);
  const present = variants.filter((name) => visitors.some(({ dealt }) => dealt === name));
  const [first, ...further] = isOwnGoal || nothing.size === 0 ? present : [];
  const isByVariant = first !== undefined && further.length > 0;
  const base = isByVariant ? { value: first, of: sumsOf((dealt) => dealt === first) } : { value: NOTHING, of: nothing };
  const compared = isByVariant
    ? further.map((variant) => ({ variant, of: sumsOf((dealt) => dealt === variant) }))
    : [{ variant: undefined, of: sumsOf((dealt) => dealt !== NOTHING) }];
  const met = (value: string): number => [base, ...compared].reduce((sum, { of }) => sum + (of.get(value)?.met ?? 0), 0);
  return [...new Set([base, ...compared].flatMap(({ of }) => [...of.keys()]))]
    .sort((a, b) => (by === 'day' ? (a < b ? -1 : 1) : met(b) - met(a) || (a < b ? -1 : 1)))
    .flatMap((value) =>
      compared.map(({ variant, of }): Group => {
        const [sums, others] = [of.get(value), base.of.get(value)];
        const control = others && { value: base.value, sums: others };
        const isCompared = sums && (isByVariant || !isOwnGoal);
        return { value, variant, sums: sums ?? noSums(), control, against: isCompared ? control : undefined };
      }),
    );
}

const rateOf = ({ met, successes }: Sums): number | null => (met > 0 ? successes / met : null);
function intervalOf(sums: Sums): readonly [number, number] | null {
  const interval = rateInterval(tallyOf(sums));
  return interval ? pair(interval) : null;
}

/** The rows of a table, each compared row with its part of the chance of a false alarm. */
export function rowsBy(visitors: readonly Exposure[], by: Dimension, options: ReportOptions): ResultRow[] {
  const groups = by === 'variant' ? variantGroups(visitors, options) : valueGroups(visitors, by, options);
  const compared = groups.filter(({ against }) => against !== undefined).length;
  const { looks = 'always', planned = USUAL_PLAN } = options;
  // For one look each interval is one of its own.
  const alpha = looks === 'once' ? ALPHA : ALPHA / Math.max(1, compared);
  return groups.map(({ value, variant, sums, against, control }): ResultRow => ({
    value,
    ...(variant === undefined ? {} : { variant }),
    met: sums.met,
    shown: sums.shown,
    successes: sums.successes,
    rate: rateOf(sums),
    interval: intervalOf(sums),
    valueMean: sums.hasValues ? (meanOf(valuesOf(sums)) ?? null) : null,
    against: against ? compare(sums, against, { alpha, planned, looks }) : null,
    control: control
      ? {
          value: control.value,
          met: control.sums.met,
          successes: control.sums.successes,
          rate: rateOf(control.sums),
          interval: intervalOf(control.sums),
        }
      : null,
  }));
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
  const { days, now, by = 'variant', splits = NO_SPLITS, planned = USUAL_PLAN, looks = 'always' } = options;
  const seen = visitors.filter(({ dealt }) => dealt !== NOTHING);
  const count = (test: (visitor: Exposure) => boolean): number => seen.filter(test).length;
  return {
    met: visitors.length,
    planned,
    looks,
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
