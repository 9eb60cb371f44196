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
