import { z } from 'zod';
import { OUTCOMES } from '../../history/visitor';
import { boundsInRange, isNever, timesSchema, timesWords } from '../../rules/range';
import type { Truth } from '../../rules/truth';
import type { WordsFor } from '../../rules/words';
import type { Subject } from '../subject';
import { inWindow } from '../subject';
import { withinSchema, withinWords } from '../within';

export const responseSchema = () =>
  z.strictObject({
    kind: z.literal('response'),
    campaign: z.string().min(1).max(100),
    outcome: z.enum(OUTCOMES),
    times: timesSchema().optional(),
    within: withinSchema(),
  });
export type ResponseCondition = z.infer<ReturnType<typeof responseSchema>>;

export function responseHolds({ campaign, outcome, times, within }: ResponseCondition, subject: Subject): Truth {
  const count = subject.visitor.responses.filter(
    (response) => response.campaign === campaign && response.outcome === outcome && inWindow(response.at, within, subject),
  ).length;
  return boundsInRange(count, count, times);
}

const VERBS = {
  shown: 'were shown',
  clicked: 'clicked in',
  dismissed: 'dismissed',
  converted: 'converted on',
  replied: 'replied to',
} as const;

export function responseWords({ campaign, outcome, times, within }: ResponseCondition, names: WordsFor): string {
  const never = isNever(times) ? 'never ' : '';
  return `${never}${VERBS[outcome]} “${names.campaign(campaign)}”${never ? '' : timesWords(times)}${withinWords(within)}`;
}
