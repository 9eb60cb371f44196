// What a day's course is compared with: the same hours of earlier days like it.

export interface UsualHour {
  readonly low: number;
  readonly middle: number;
  readonly high: number;
}

/**
 * Running totals of earlier days, hour by hour: the lowest, the median and the highest of them. `days[d][h]` is what was
 * counted in hour h of day d; days without anything at all (before the script was there) are left out. Undefined where fewer
 * than two days are left, since one day is no custom.
 */
export function usualCourse(days: readonly (readonly number[])[]): UsualHour[] | undefined {
  const totals = days.filter((day) => day.some((count) => count > 0)).map(runningTotals);
  if (totals.length < 2) return undefined;
  const hours = Math.max(...totals.map((day) => day.length));
  return Array.from({ length: hours }, (_, hour) => {
    const sorted = totals.map((day) => day[hour] ?? day.at(-1) ?? 0).sort((a, b) => a - b);
    return { low: sorted[0] ?? 0, middle: medianOf(sorted), high: sorted.at(-1) ?? 0 };
  });
}

/** [2, 3, 1] → [2, 5, 6] */
export function runningTotals(counts: readonly number[]): number[] {
  let sum = 0;
  return counts.map((count) => (sum += count));
}

function medianOf(sorted: readonly number[]): number {
  const half = sorted.length / 2;
  return sorted.length % 2 ? (sorted[Math.floor(half)] ?? 0) : ((sorted[half - 1] ?? 0) + (sorted[half] ?? 0)) / 2;
}
