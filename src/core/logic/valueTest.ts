import { z } from 'zod';
import { inRange, rangeWords } from './range';
import { DAY_MS } from '../time/day';
const text = () => z.string().max(500);

export const textTestSchema = () =>
  z.discriminatedUnion('op', [
    z.strictObject({ op: z.enum(['is', 'contains', 'starts', 'ends']), value: text() }),
    z.strictObject({ op: z.literal('oneOf'), value: z.array(text()).min(1).max(200) }),
    z.strictObject({ op: z.literal('exists') }),
  ]);
export type TextTest = z.infer<ReturnType<typeof textTestSchema>>;

const isRange = (test: { min?: number | undefined; max?: number | undefined }) => test.min !== undefined || test.max !== undefined;
const isUpright = (test: { min?: number | undefined; max?: number | undefined }) =>
  test.min === undefined || test.max === undefined || test.min <= test.max;

export const valueTestSchema = () =>
  z.union([
    textTestSchema(),
    z
      .strictObject({ op: z.enum(['range', 'daysAgo']), min: z.number().optional(), max: z.number().optional() })
      .refine(isRange, { error: 'range.empty' })
      .refine(isUpright, { error: 'range.upsideDown' }),
  ]);
export type ValueTest = z.infer<ReturnType<typeof valueTestSchema>>;

/** A missing part makes every test false; an empty text does not exist. Letters compare without case. */
export function textHolds(found: string | undefined, test: TextTest): boolean {
  if (found === undefined) return false;
  const value = found.toLowerCase();
  switch (test.op) {
    case 'is':
      return value === test.value.toLowerCase();
    case 'contains':
      return value.includes(test.value.toLowerCase());
    case 'starts':
      return value.startsWith(test.value.toLowerCase());
    case 'ends':
      return value.endsWith(test.value.toLowerCase());
    case 'oneOf':
      return test.value.some((one) => one.toLowerCase() === value);
    case 'exists':
      return value !== '';
  }
}

/** Numbers compare as text in their shortest decimal form, booleans as `true` or `false`. A wrong type is false. */
export function valueHolds(found: unknown, test: ValueTest, now: number): boolean {
  if (!isTextTest(test)) return rangeTestHolds(found, test, now);
  const isText = typeof found === 'string' || typeof found === 'number' || typeof found === 'boolean';
  return textHolds(isText ? String(found) : undefined, test);
}

type RangeTest = Exclude<ValueTest, TextTest>;
const isTextTest = (test: ValueTest): test is TextTest => test.op !== 'range' && test.op !== 'daysAgo';

function rangeTestHolds(found: unknown, test: RangeTest, now: number): boolean {
  if (test.op === 'range') return typeof found === 'number' && inRange(found, test);
  const at = typeof found === 'string' ? isoInstant(found) : undefined;
  return at !== undefined && at <= now && inRange((now - at) / DAY_MS, test);
}

const ISO = /^\d{4}-\d\d-\d\d(T\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)?)?$/;
const OFFSET = /(Z|[+-]\d\d:?\d\d)$/;

/**
 * UTC milliseconds of an ISO 8601 date or date-time; undefined for any other text. A date without a time is midnight UTC, and a
 * time without an offset is UTC's: the same instant on every machine.
 */
export function isoInstant(text: string): number | undefined {
  if (!ISO.test(text)) return undefined;
  const at = Date.parse(text.includes('T') && !OFFSET.test(text) ? `${text}Z` : text);
  return Number.isNaN(at) ? undefined : at;
}

/** Whether a text is an ISO 8601 date, or a date and a time with its offset: what a person may write for an instant. */
export const isWrittenInstant = (text: string): boolean => isoInstant(text) !== undefined && (!text.includes('T') || OFFSET.test(text));

const OPS = { is: 'is', contains: 'contains', starts: 'starts with', ends: 'ends with' } as const;

export function testWords(test: ValueTest): string {
  switch (test.op) {
    case 'exists':
      return 'is set';
    case 'oneOf':
      return `is one of ${test.value.map(quoted).join(', ')}`;
    case 'range':
      return `is ${rangeWords(test)}`;
    case 'daysAgo':
      return `was ${rangeWords(test, 'days ago')}`;
    case 'is':
    case 'contains':
    case 'starts':
    case 'ends':
      return `${OPS[test.op]} ${quoted(test.value)}`;
  }
}

export const quoted = (value: string): string => JSON.stringify(value);
