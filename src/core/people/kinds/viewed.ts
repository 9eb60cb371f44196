import { z } from 'zod';
import { patternSchema } from '../../pages/pattern';
import { boundsInRange, isNever, timesSchema, timesWords } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import type { WordsFor } from '../../rules/words';
import { pageList } from '../../rules/words';
import { sumMatchingViews } from '../matchingViews';
import type { Subject } from '../subject';
import { withinSchema, withinWords } from '../within';

export const viewedSchema = () =>
  z.strictObject({
    kind: z.literal('viewed'),
    pages: z.array(patternSchema()).max(200).optional(),
    times: timesSchema().optional(),
    within: withinSchema(),
  });
export type Viewed = z.infer<ReturnType<typeof viewedSchema>>;

export function viewedHolds(condition: Viewed, subject: Subject): Truth {
  const { low, high } = sumMatchingViews(subject, condition, () => 1);
  return boundsInRange(low, high, condition.times);
}

export function viewedWords({ pages, times, within }: Viewed, names: WordsFor): string {
  const what = pages?.length ? pageList(pages, names) : 'any page';
  return isNever(times) ? `never viewed ${what}${withinWords(within)}` : `viewed ${what}${timesWords(times)}${withinWords(within)}`;
}
