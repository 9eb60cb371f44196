export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? NaN;
}

/** Median ms of `times` runs; the first run, which also warms up, is not counted. */
export async function medianMs(times: number, run: () => unknown): Promise<number> {
  const taken: number[] = [];
  for (let nth = 0; nth <= times; nth++) {
    const started = performance.now();
    await run();
    if (nth > 0) taken.push(performance.now() - started);
  }
  return median(taken);
}

export const once = async (run: () => unknown): Promise<number> => {
  const started = performance.now();
  await run();
  return performance.now() - started;
};
