import { z } from 'zod';
import { DAY_MS } from '../../history/visitor';
import { inRange, rangeWords } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import type { Subject } from '../subject';
import { daysSchema } from './away';

export const firstSeenSchema = () => z.strictObject({ kind: z.literal('firstSeen'), days: daysSchema() });
export type FirstSeen = z.infer<ReturnType<typeof firstSeenSchema>>;

export function firstSeenHolds({ days }: FirstSeen, { visitor, now }: Subject): Truth {
  const first = visitor.visits[0];
  return first ? inRange((now - first.at) / DAY_MS, days) : null;
}

export function firstSeenWords({ days }: FirstSeen): string {
  return `first came ${rangeWords(days, 'days')} ago`;
}
