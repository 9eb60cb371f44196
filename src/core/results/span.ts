// The span of a difference: an interval that stays right at all looks together. Asymptotic confidence sequence of Waudby-Smith, Arbour, Sinha, Kennedy
// and Ramdas, "Time-uniform central limit theory and asymptotic confidence sequences", Annals of Statistics 52 (2024), tuned to a planned size;
// before there are enough for it, the exact sequence.
import type { Interval, Tally } from './rates';
import { differenceInterval, zFor } from './rates';
import { differenceSequence } from './sequence';

/** Visitors of both groups together that a difference is planned for, where nobody planned. */
export const USUAL_PLAN = 10_000;
const LEAST_TOGETHER = 100;
/** Of successes, and of visitors without one, in each group. */
const LEAST_OF_EACH = 5;
/** A mean value of fewer visitors has no span. */
const LEAST_VALUED = 50;

export interface SpanOptions {
  /** The chance that the span ever leaves the true difference out. */
  readonly alpha?: number;
  /** Visitors of both groups together. */
  readonly planned?: number;
}

/** Half of the width for a difference whose variance is `variance` after `together` visitors of both groups. */
function halfWidth(variance: number, together: number, { alpha = 0.05, planned = USUAL_PLAN }: SpanOptions): number {
  const rho2 = (-2 * Math.log(alpha) + Math.log(-2 * Math.log(alpha) + 1)) / planned;
  const grown = together * rho2 + 1;
  return Math.sqrt(variance * ((2 * grown) / (together * rho2)) * Math.log(Math.sqrt(grown) / alpha));
}

const isEnough = ({ conversions, of }: Tally): boolean => conversions >= LEAST_OF_EACH && of - conversions >= LEAST_OF_EACH;

/** The span of the first rate less the second. [-1, 1] while nothing is known. */
export function differenceSpan(first: Tally, second: Tally, options: SpanOptions = {}): Interval {
  const together = first.of + second.of;
  if (together < LEAST_TOGETHER || !isEnough(first) || !isEnough(second)) return differenceSequence(first, second, options.alpha);
  const [p, q] = [first.conversions / first.of, second.conversions / second.of];
  const half = halfWidth((p * (1 - p)) / first.of + (q * (1 - q)) / second.of, together, options);
  return { low: Math.max(-1, p - q - half), high: Math.min(1, p - q + half) };
}

/** Of values: how many there are, their sum and the sum of their squares. */
export interface Values {
  readonly of: number;
  readonly sum: number;
  readonly squares: number;
}

export const meanOf = ({ of, sum }: Values): number | undefined => (of > 0 ? sum / of : undefined);

/** Unbiased. */
function varianceOf({ of, sum, squares }: Values): number {
  return of > 1 ? Math.max(0, (squares - (sum * sum) / of) / (of - 1)) : 0;
}

/**
 * How often an interval may be looked at: `always`, over one growing set of visitors that began at a fixed instant, or `once`, as an interval of any
 * other period holds.
 */
export type Looks = 'always' | 'once';

export interface Difference {
  readonly difference: number;
  readonly span: Interval;
}

/** Visitors who were dealt under the same shares: those who are compared, and those whom they are compared with. Neither is nobody. */
export type Stratum<T> = readonly [ones: T, others: T];

const WHOLE: Interval = { low: -1, high: 1 };
const sumOf = (numbers: readonly number[]): number => numbers.reduce((sum, one) => sum + one, 0);

/** Of each stratum its difference and variance, weighed by its part of all visitors. */
function weighed<T extends { readonly of: number }>(
  strata: readonly Stratum<T>[],
  { meanOf: mean, variance }: { meanOf: (one: T) => number; variance: (one: T) => number },
): { difference: number; variance: number; together: number } {
  const together = sumOf(strata.map(([ones, others]) => ones.of + others.of));
  const parts = strata.map(([ones, others]) => {
    const weight = (ones.of + others.of) / together;
    return [weight * (mean(ones) - mean(others)), weight ** 2 * (variance(ones) / ones.of + variance(others) / others.of)] as const;
  });
  return { difference: sumOf(parts.map(([difference]) => difference)), variance: sumOf(parts.map(([, one]) => one)), together };
}

const rate = ({ conversions, of }: Tally): number => conversions / of;
const around = (difference: number, half: number): Interval => ({ low: difference - half, high: difference + half });
const within = ({ low, high }: Interval): Interval => ({ low: Math.max(-1, low), high: Math.min(1, high) });
const together = (tallies: readonly Tally[]): Tally => ({
  of: sumOf(tallies.map(({ of }) => of)),
  conversions: sumOf(tallies.map(({ conversions }) => conversions)),
});

/**
 * The difference of two rates, taken within each stratum and put together by its part of the visitors, because where shares changed while rates did the
 * rates of all together differ without any effect. Undefined without a stratum. For one look Newcombe's interval, of several strata the normal one.
 */
export function differenceBy(
  strata: readonly Stratum<Tally>[],
  { looks, ...options }: SpanOptions & { looks: Looks },
): Difference | undefined {
  const [only] = strata;
  if (!only) return undefined;
  const { alpha = 0.05 } = options;
  if (strata.length === 1) {
    const [ones, others] = only;
    const span = looks === 'always' ? differenceSpan(ones, others, options) : differenceInterval(ones, others, 1 - alpha);
    return { difference: rate(ones) - rate(others), span: span ?? WHOLE };
  }
  const all = weighed(strata, { meanOf: rate, variance: (one) => rate(one) * (1 - rate(one)) });
  const isAnything =
    all.together >= LEAST_TOGETHER &&
    isEnough(together(strata.map(([ones]) => ones))) &&
    isEnough(together(strata.map(([, others]) => others)));
  // The exact sequence knows of no strata: before there are enough nothing is known.
  if (!isAnything) return { difference: all.difference, span: WHOLE };
  const half = looks === 'always' ? halfWidth(all.variance, all.together, options) : zFor(1 - alpha) * Math.sqrt(all.variance);
  return { difference: all.difference, span: within(around(all.difference, half)) };
}

/** The same of mean values; undefined under 50 visitors in a group. */
export function valueDifferenceBy(
  strata: readonly Stratum<Values>[],
  { looks, ...options }: SpanOptions & { looks: Looks },
): Difference | undefined {
  const [ones, others] = [0, 1].map((side) => sumOf(strata.map((stratum) => (stratum[side] as Values).of))) as [number, number];
  if (ones < LEAST_VALUED || others < LEAST_VALUED) return undefined;
  const all = weighed(strata, { meanOf: ({ sum, of }) => sum / of, variance: varianceOf });
  const half =
    looks === 'always' ? halfWidth(all.variance, all.together, options) : zFor(1 - (options.alpha ?? 0.05)) * Math.sqrt(all.variance);
  return { difference: all.difference, span: around(all.difference, half) };
}

/** A difference is clear whose span leaves out 0. */
export const isClear = ({ low, high }: Interval): boolean => low > 0 || high < 0;
