import quantile from '@stdlib/stats-base-dists-normal-quantile';

export interface Tally {
  readonly conversions: number;
  /** How often it could have converted: showings, or triggers for the holdout. */
  readonly of: number;
}

export interface Interval {
  readonly low: number;
  readonly high: number;
}

export const rateOf = ({ conversions, of }: Tally): number | undefined => (of > 0 ? conversions / of : undefined);

/** The two-sided standard normal quantile for a confidence such as 0.95. */
export const zFor = (confidence: number): number => quantile(1 - (1 - confidence) / 2, 0, 1);

/** Wilson's score interval (1927) for a rate; undefined while there was nothing to convert. */
export function rateInterval({ conversions, of }: Tally, confidence = 0.95): Interval | undefined {
  if (of === 0) return undefined;
  const z = zFor(confidence);
  const rate = conversions / of;
  const spread = z ** 2 / of;
  const margin = z * Math.sqrt((rate * (1 - rate) + spread / 4) / of);
  return { low: Math.max(0, (rate + spread / 2 - margin) / (1 + spread)), high: Math.min(1, (rate + spread / 2 + margin) / (1 + spread)) };
}

/** Newcombe's hybrid score interval (1998, method 10) for the first rate less the second; valid for one look only. */
export function differenceInterval(first: Tally, second: Tally, confidence = 0.95): Interval | undefined {
  const [a, b] = [rateInterval(first, confidence), rateInterval(second, confidence)];
  const [p, q] = [rateOf(first), rateOf(second)];
  if (!a || !b || p === undefined || q === undefined) return undefined;
  return { low: p - q - Math.hypot(p - a.low, b.high - q), high: p - q + Math.hypot(a.high - p, q - b.low) };
}
