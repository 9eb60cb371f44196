import { z } from 'zod';
import { OUTCOMES } from '../../history/visitor';
import { boundsInRange, isNever, timesSchema, timesWords } from '../../logic/range';
import type { Truth } from '../../logic/truth';
import type { WordsFor } from '../../pages/names';
import type { Subject } from '../subject';
import { inWindow } from '../subject';
import { withinSchema, withinWords } from '../within';
import type { PeopleKind } from '../kind';
import { neverTimes } from '../times';
import { isShorter } from '../partOf';
import { called, countOf, spoken } from '../../typing/spoken';
import { shape, timesExample, withinExample } from '../../testing/examples';

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

export const responseKind: PeopleKind<ResponseCondition, 'server'> = {
  kind: 'response',
  topic: 'didHere',
  schema: responseSchema,
  holds: responseHolds,
  words: responseWords,
  found: (condition, subject) =>
    `${subject.visitor.responses.filter(({ campaign, outcome, at }) => campaign === condition.campaign && outcome === condition.outcome && inWindow(at, condition.within, subject)).length} times`,
  judgedIn: 'server',
  isSupplied: true,
  counting: {
    by: 'record',
    of: () => 'responses',
    looksAt: ({ campaign, outcome }, entry) => entry.campaign === campaign && entry.outcome === outcome,
  },
  changes: { window: ({ within }) => within, responses: true },
  reasoning: {
    quantity: {
      range: ({ times }) => times ?? { min: 1 },
      isWhole: true,
      least: 0,
      isPartOf: (part, whole) => part.campaign === whole.campaign && part.outcome === whole.outcome && isShorter(part.within, whole.within),
    },
  },
  editor: {
    label: 'Answered a campaign',
    make: () => ({ kind: 'response', campaign: '', outcome: 'dismissed' }),
    rows: [
      [
        {
          field: 'choice',
          key: 'outcome',
          label: 'Outcome',
          options: [
            ['shown', 'was shown'],
            ['clicked', 'clicked in'],
            ['dismissed', 'dismissed'],
            ['converted', 'converted in'],
            ['replied', 'replied in'],
          ],
        },
        { field: 'named', key: 'campaign', label: 'Campaign', from: 'campaigns', none: 'choose a campaign' },
        { field: 'range', key: 'times', label: 'Times', least: 0, most: 1000, unit: 'times', allowNever: true, otherwise: { min: 1 } },
        { field: 'within' },
      ],
    ],
  },
  typed: (said, { campaigns }) => {
    const within = said.window === undefined ? {} : { within: said.window };
    for (const [outcome, says] of Object.entries(SAYS) as [ResponseCondition['outcome'], string[]][]) {
      const heard = spoken(said, {
        says,
        also: ['campaign', 'the campaign', 'message', 'times', 'time', 'ever', 'already'],
        amounts: ['times', 'none'],
        window: true,
        quoted: true,
        name: true,
      });
      const asked = said.quoted[0] ?? heard?.name;
      if (!heard || !asked) continue;
      const [amount] = heard.amounts;
      const times = amount ? countOf(amount) : undefined;
      if (amount && !times) return [];
      return called(asked, campaigns, ({ name }) => name).map(({ one, sureness }) => ({
        leaf: { kind: 'response', campaign: one.id, outcome, ...(times ? { times } : {}), ...within },
        sureness: sureness + 2.1,
      }));
    }
    return called(said.text, campaigns, ({ name }) => name).flatMap(({ one, sureness }) =>
      (['shown', 'dismissed', 'converted'] as const).map((outcome, nth) => ({
        leaf: { kind: 'response' as const, campaign: one.id, outcome },
        sureness: sureness - 0.3 - nth / 100,
      })),
    );
  },
  negate: neverTimes,
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('response' as const),
      campaign: fc.constantFrom('c1', 'c2'),
      outcome: fc.constantFrom(...OUTCOMES),
      times: timesExample(fc),
      within: withinExample(fc),
    }),
};

const SAYS: Readonly<Record<ResponseCondition['outcome'], string[]>> = {
  dismissed: ['dismissed', 'closed', 'dismisses', 'waved away', 'rejected'],
  converted: ['converted on', 'converted in', 'converted', 'converts on', 'filled in', 'submitted', 'signed up in'],
  clicked: ['clicked in', 'clicked', 'clicks in', 'engaged with', 'pressed'],
  replied: ['replied to', 'replied in', 'replied', 'answered', 'responded to', 'responded'],
  shown: ['were shown', 'was shown', 'been shown', 'shown', 'saw', 'seen', 'have seen', 'got'],
};
