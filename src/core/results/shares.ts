import chiSquared from '@stdlib/stats-base-dists-chisquare-cdf';

/**
 * Were the variants dealt out in the shares that were meant? Pearson's chi-squared test (1900): the chance of counts at
 * least as far off. Undefined without a count, or where a variant with weight 0 was dealt out.
 */
export function shareCheck(
  dealt: readonly { readonly count: number; readonly weight: number }[],
): { chance: number; statistic: number } | undefined {
  const counted = dealt.filter(({ weight }) => weight > 0);
  const total = counted.reduce((sum, { count }) => sum + count, 0);
  const weights = counted.reduce((sum, { weight }) => sum + weight, 0);
  if (total === 0 || counted.length < 2 || dealt.some(({ count, weight }) => weight === 0 && count > 0)) return undefined;
  const statistic = counted.reduce((sum, { count, weight }) => {
    const expected = (total * weight) / weights;
    return sum + (count - expected) ** 2 / expected;
  }, 0);
  return { statistic, chance: 1 - chiSquared(statistic, counted.length - 1) };
}
