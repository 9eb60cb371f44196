import type { Range } from '../logic/range';

/** "did" denied is "never did"; a number of times denied is no number of times, and left to whoever asks. */
export function neverTimes<C extends { readonly times?: Range | undefined }>(condition: C): C | undefined {
  const { times } = condition;
  if (times !== undefined && !(times.min === 1 && times.max === undefined)) return undefined;
  return { ...condition, times: { max: 0 } };
}
