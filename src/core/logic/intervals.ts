import type { Range } from './range';

export interface Interval {
  readonly min: number;
  readonly max: number;
}

/** A range, or what lies outside it, as intervals. `isWhole` numbers step by 1, others are taken as touching. */
export function intervalsOf(
  range: Range,
  { negated, isWhole, least = -Infinity }: { negated: boolean; isWhole: boolean; least?: number },
): Interval[] {
  const inside = { min: Math.max(least, range.min ?? least), max: range.max ?? Infinity };
  if (!negated) return inside.min <= inside.max ? [inside] : [];
  const step = isWhole ? 1 : 0;
  const below = { min: least, max: isWhole ? Math.ceil(inside.min) - step : inside.min };
  const above = { min: isWhole ? Math.floor(inside.max) + step : inside.max, max: Infinity };
  return [...(inside.min > least ? [below] : []), ...(inside.max < Infinity ? [above] : [])].filter(({ min, max }) => min <= max);
}

export const overlap = (a: readonly Interval[], b: readonly Interval[]): boolean =>
  a.some((one) => b.some((two) => one.min <= two.max && two.min <= one.max));
