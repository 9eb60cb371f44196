import quantile from '@stdlib/stats-base-dists-normal-quantile';

export interface Plan {
  /** Chance of a false alarm, two-sided. */
  readonly alpha?: number;
  /** Chance to find a difference that is there. */
  readonly power?: number;
  /** How many in the second group for each in the first. */
  readonly ratio?: number;
}

/**
 * How many the first group needs to tell two rates apart (Fleiss, Statistical Methods for Rates and Proportions, 1981,
 * without continuity correction). Undefined for equal rates: no number would do.
 */
export function sampleSize(first: number, second: number, { alpha = 0.05, power = 0.8, ratio = 1 }: Plan = {}): number | undefined {
  if (first === second) return undefined;
  const pooled = (first + ratio * second) / (1 + ratio);
  const [za, zb] = [quantile(1 - alpha / 2, 0, 1), quantile(power, 0, 1)];
  const underNull = za * Math.sqrt((1 + 1 / ratio) * pooled * (1 - pooled));
  const underDifference = zb * Math.sqrt(first * (1 - first) + (second * (1 - second)) / ratio);
  return Math.ceil(((underNull + underDifference) / (first - second)) ** 2);
}

/** The smallest rise above `rate` that a first group of that size can tell; undefined if even a rise to 1 cannot be told. */
export function detectableDifference(rate: number, size: number, plan: Plan = {}): number | undefined {
  const isEnough = (difference: number): boolean => (sampleSize(rate, rate + difference, plan) ?? Infinity) <= size;
  let [low, high] = [0, 1 - rate];
  if (!isEnough(high)) return undefined;
  for (let step = 0; step < 60; step++) {
    const middle = (low + high) / 2;
    if (isEnough(middle)) high = middle;
    else low = middle;
  }
  return high;
}

/**
 * By how much more visitors a difference takes that may be looked at always than one looked at once, at the planned size: the square of the ratio
 * of the two widths (the asymptotic confidence sequence of Waudby-Smith, Arbour, Sinha, Kennedy and Ramdas, Annals of Statistics 52, 2024, tuned
 * to that size, against the normal quantile). About 2.4 at 5 %.
 */
export function priceOfLooking(alpha = 0.05): number {
  const tuned = -2 * Math.log(alpha) + Math.log(-2 * Math.log(alpha) + 1);
  const width = ((2 * (tuned + 1)) / tuned) * Math.log(Math.sqrt(tuned + 1) / alpha);
  return width / quantile(1 - alpha / 2, 0, 1) ** 2;
}

/** How those who meet a campaign are dealt out: shares of all, together at most 1. */
export interface Dealt {
  /** In their order; one where there are no variants. */
  readonly variants: readonly number[];
  readonly nothing: number;
}

/**
 * How many days it takes until a difference of `points` (0.01 is one of a hundred) is clear in the comparison that has the fewest, with a chance
 * of 80 %. `perDay`: visitors who meet it; `rate`: of those it is compared with. Every variant is compared with those who see nothing, or with the
 * first where nobody does; undefined where there is nothing to compare.
 */
export function daysToTell(
  { variants, nothing }: Dealt,
  { perDay, rate, points }: { readonly perDay: number; readonly rate: number; readonly points: number },
): number | undefined {
  const [against, compared] = nothing > 0 ? [nothing, variants] : [variants[0] ?? 0, variants.slice(1)];
  if (compared.length === 0 || against <= 0) return undefined;
  const alpha = 0.05 / compared.length;
  const other = Math.min(1, rate + points);
  const needed = sampleSize(rate, other, { alpha, ratio: Math.min(...compared) / against });
  if (needed === undefined) return undefined;
  return (needed * priceOfLooking(alpha)) / (against * perDay);
}

const HALVINGS = 40;

/** The smallest difference (0.01 is one of a hundred) that is clear after so many days, with a chance of 80 %: what `daysToTell` asks the other way round. Undefined where not even everybody succeeding would be. */
export function pointsIn(
  dealt: Dealt,
  { perDay, rate, days }: { readonly perDay: number; readonly rate: number; readonly days: number },
): number | undefined {
  const isTold = (points: number): boolean => (daysToTell(dealt, { perDay, rate, points }) ?? Infinity) <= days;
  let [low, high] = [0, 1 - rate];
  if (perDay <= 0 || !isTold(high)) return undefined;
  for (let step = 0; step < HALVINGS; step++) {
    const middle = (low + high) / 2;
    if (isTold(middle)) high = middle;
    else low = middle;
  }
  return high;
}
