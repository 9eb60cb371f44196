import { z } from 'zod';
import { boundsInRange, rangeWords, timesSchema } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import type { Subject } from '../subject';
import { inWindow, visitsIn } from '../subject';
import { withinSchema, withinWords } from '../within';

export const visitsSchema = () => z.strictObject({ kind: z.literal('visits'), times: timesSchema(), within: withinSchema() });
export type Visits = z.infer<ReturnType<typeof visitsSchema>>;

export function visitsHolds({ times, within }: Visits, subject: Subject): Truth {
  const count = visitsIn(within, subject).filter(({ at }) => inWindow(at, within, subject)).length;
  return boundsInRange(count, count, times);
}

export function visitsWords({ times, within }: Visits): string {
  return `made ${rangeWords(times)} ${times.min === 1 && times.max === 1 ? 'visit' : 'visits'}${withinWords(within)}`;
}
