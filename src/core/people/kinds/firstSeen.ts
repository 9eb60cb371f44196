import { z } from 'zod';
import { inRange, rangeWords } from '../../logic/range';
import type { Truth } from '../../logic/truth';
import type { Subject } from '../subject';
import { daysSchema } from './away';
import { DAY_MS } from '../../time/day';
import type { PeopleKind } from '../kind';
import { rangeOf, spoken } from '../../typing/spoken';
import { rangeExample } from '../../testing/examples';

export const firstSeenSchema = () => z.strictObject({ kind: z.literal('firstSeen'), days: daysSchema() });
export type FirstSeen = z.infer<ReturnType<typeof firstSeenSchema>>;

export function firstSeenHolds({ days }: FirstSeen, { visitor, now }: Subject): Truth {
  const first = visitor.visits[0];
  return first ? inRange((now - first.at) / DAY_MS, days) : null;
}

export function firstSeenWords({ days }: FirstSeen): string {
  return `first came ${rangeWords(days, 'days')} ago`;
}

export const firstSeenKind: PeopleKind<FirstSeen, 'server'> = {
  kind: 'firstSeen',
  topic: 'didHere',
  schema: firstSeenSchema,
  holds: firstSeenHolds,
  words: firstSeenWords,
  found: (_condition, { visitor, now }) =>
    visitor.visits[0] ? `${((now - visitor.visits[0].at) / DAY_MS).toFixed(1)} days ago` : 'never seen',
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'visits' },
  changes: { ages: ({ days }) => [days.min, days.max] },
  reasoning: {
    quantity: { range: ({ days }) => days, isWhole: false, least: 0, isPartOf: () => true },
  },
  editor: {
    label: 'First came',
    make: () => ({ kind: 'firstSeen', days: { min: 7 } }),
    rows: [
      [
        { field: 'words', text: 'first came' },
        { field: 'range', key: 'days', label: 'Days', least: 0, most: 540, unit: 'days ago' },
      ],
    ],
  },
  typed: (said) => {
    const heard = spoken(said, { says: SAYS, also: ['ago', 'came', 'seen', 'here', 'days', 'site'], amounts: ['d'], window: true });
    const [amount] = heard?.amounts ?? [];
    if (!heard) return [];
    if (typeof said.window === 'number' && !amount) return [{ leaf: { kind: 'firstSeen', days: { max: said.window } }, sureness: 3 }];
    return amount && said.window === undefined ? [{ leaf: { kind: 'firstSeen', days: rangeOf(amount) }, sureness: 3 }] : [];
  },
  example: (fc) => fc.record({ kind: fc.constant('firstSeen' as const), days: rangeExample(fc, 60) }),
};

const SAYS = [
  'first came',
  'first seen',
  'first visited',
  'first visit',
  'first here',
  'since first visit',
  'came first',
  'new since',
  'new within',
  'joined',
];
