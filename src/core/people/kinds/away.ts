import { z } from 'zod';
import { DAY_MS } from '../../history/visitor';
import { inRange, rangeSchema, rangeWords } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import type { Subject } from '../subject';

export const daysSchema = () => rangeSchema(() => z.number().min(0));
export const awaySchema = () => z.strictObject({ kind: z.literal('away'), days: daysSchema() });
export type Away = z.infer<ReturnType<typeof awaySchema>>;

/** Days from the start of the visit before this one to the start of this one; false on a first visit. */
export function awayHolds({ days }: Away, { visitor }: Subject): Truth {
  const [before, current] = visitor.visits.slice(-2);
  return before !== undefined && current !== undefined && inRange((current.at - before.at) / DAY_MS, days);
}

export function awayWords({ days }: Away): string {
  return `came back after ${rangeWords(days, 'days')} away`;
}
