import { z } from 'zod';
import { patternSchema } from '../../pages/pattern';
import { boundsInRange, rangeSchema, rangeWords } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import type { WordsFor } from '../../rules/words';
import { pageList } from '../../rules/words';
import { sumMatchingViews } from '../matchingViews';
import type { Subject } from '../subject';
import { withinSchema, withinWords } from '../within';

export const engagedSchema = () =>
  z.strictObject({
    kind: z.literal('engaged'),
    pages: z.array(patternSchema()).max(200).optional(),
    seconds: rangeSchema(() => z.number().min(0)),
    within: withinSchema(),
  });
export type Engaged = z.infer<ReturnType<typeof engagedSchema>>;

export function engagedHolds(condition: Engaged, subject: Subject): Truth {
  const { low, high } = sumMatchingViews(subject, condition, ({ engaged }) => engaged);
  return boundsInRange(low, high, condition.seconds);
}

export function engagedWords({ pages, seconds, within }: Engaged, names: WordsFor): string {
  return `engaged ${rangeWords(seconds, 's')} with ${pages?.length ? pageList(pages, names) : 'any page'}${withinWords(within)}`;
}
