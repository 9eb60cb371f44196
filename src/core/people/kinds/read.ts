import { z } from 'zod';
import { patternSchema } from '../../pages/pattern';
import { boundsInRange, isNever, timesSchema, timesWords } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import type { WordsFor } from '../../rules/words';
import { pageList } from '../../rules/words';
import { sumMatchingViews } from '../matchingViews';
import type { Subject } from '../subject';
import { withinSchema, withinWords } from '../within';

export const readSchema = () =>
  z.strictObject({
    kind: z.literal('read'),
    pages: z.array(patternSchema()).max(200).optional(),
    scroll: z.number().min(0).max(100),
    times: timesSchema().optional(),
    within: withinSchema(),
  });
export type Read = z.infer<ReturnType<typeof readSchema>>;

export function readHolds(condition: Read, subject: Subject): Truth {
  const { low, high } = sumMatchingViews(subject, condition, ({ scroll }) => (scroll >= condition.scroll ? 1 : 0));
  return boundsInRange(low, high, condition.times);
}

export function readWords({ pages, scroll, times, within }: Read, names: WordsFor): string {
  const what = `${pages?.length ? pageList(pages, names) : 'any page'} to ${scroll} %`;
  return isNever(times) ? `never read ${what}${withinWords(within)}` : `read ${what}${timesWords(times)}${withinWords(within)}`;
}
