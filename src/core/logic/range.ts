import { z } from 'zod';
import type { Truth } from './truth';

/** Both bounds inclusive; at least one is given. */
export interface Range {
  min?: number | undefined;
  max?: number | undefined;
}

export const rangeSchema = (number: () => z.ZodNumber = () => z.number()) =>
  z
    .strictObject({ min: number().optional(), max: number().optional() })
    .refine((range) => range.min !== undefined || range.max !== undefined, { error: 'range.empty' })
    .refine((range) => range.min === undefined || range.max === undefined || range.min <= range.max, { error: 'range.upsideDown' });

export const timesSchema = () => rangeSchema(() => z.int().min(0));

export function inRange(value: number, range: Range): boolean {
  return value >= (range.min ?? -Infinity) && value <= (range.max ?? Infinity);
}

/** A number known only to lie from `low` to `high`: true if both bounds fit, false if the interval misses the range, else unknown. */
export function boundsInRange(low: number, high: number, range: Range = { min: 1 }): Truth {
  if (inRange(low, range) && inRange(high, range)) return true;
  return high < (range.min ?? -Infinity) || low > (range.max ?? Infinity) ? false : null;
}

export function rangeWords(range: Range, unit = ''): string {
  const tail = unit && ` ${unit}`;
  if (range.min === undefined) return `at most ${range.max}${tail}`;
  if (range.max === undefined) return `at least ${range.min}${tail}`;
  return range.min === range.max ? `exactly ${range.min}${tail}` : `${range.min} to ${range.max}${tail}`;
}

export function timesWords(times: Range | undefined): string {
  if (times === undefined || (times.min === 1 && times.max === undefined)) return '';
  return ` ${rangeWords(times)} ${times.min === 1 && times.max === 1 ? 'time' : 'times'}`;
}

export const isNever = (times: Range | undefined): boolean => times?.max === 0;
