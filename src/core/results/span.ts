// The span of a difference: an interval that stays right at all looks together. Asymptotic confidence sequence of Waudby-Smith, Arbour, Sinha, Kennedy
// and Ramdas, "Time-uniform central limit theory and asymptotic confidence sequences", Annals of Statistics 52 (2024), tuned to a planned size;
// before there are enough for it, the exact sequence.
import type { Interval, Tally } from './rates';
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

/** The span of the first mean value less the second; undefined under 50 visitors in a group. */
export function valueSpan(first: Values, second: Values, options: SpanOptions = {}): Interval | undefined {
  if (first.of < LEAST_VALUED || second.of < LEAST_VALUED) return undefined;
  const difference = first.sum / first.of - second.sum / second.of;
  const half = halfWidth(varianceOf(first) / first.of + varianceOf(second) / second.of, first.of + second.of, options);
  return { low: difference - half, high: difference + half };
}

/** A difference is clear whose span leaves out 0. */
export const isClear = ({ low, high }: Interval): boolean => low > 0 || high < 0;
