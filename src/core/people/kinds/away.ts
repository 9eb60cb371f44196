import { z } from 'zod';
import { inRange, rangeSchema, rangeWords } from '../../logic/range';
import type { Truth } from '../../logic/truth';
import type { Subject } from '../subject';
import { DAY_MS } from '../../time/day';
import type { PeopleKind } from '../kind';
import { rangeOf, spoken } from '../../typing/spoken';
import { rangeExample } from '../../testing/examples';

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

export const awayKind: PeopleKind<Away, 'server'> = {
  kind: 'away',
  topic: 'didHere',
  schema: awaySchema,
  holds: awayHolds,
  words: awayWords,
  found: (_condition, { visitor }) => {
    const [before, current] = visitor.visits.slice(-2);
    return before && current ? `${((current.at - before.at) / DAY_MS).toFixed(1)} days` : 'the first visit';
  },
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'visits' },
  changes: {},
  reasoning: {
    quantity: { range: ({ days }) => days, isWhole: false, least: 0, mayLack: true, isPartOf: () => true },
  },
  editor: {
    label: 'Was away',
    make: () => ({ kind: 'away', days: { min: 30 } }),
    rows: [
      [
        { field: 'words', text: 'came back after' },
        { field: 'range', key: 'days', label: 'Days', least: 0, most: 540, unit: 'days away' },
      ],
    ],
  },
  typed: (said) => {
    // "haven't been here for 30 days" is no negation of anything.
    const plain = { ...said, words: said.isNegated ? ['not', ...said.words] : said.words };
    const heard = spoken(plain, {
      says: SAYS,
      also: ['not', 'here', 'ago', 'days', 'since', 'last', 'more', 'again', 'seen'],
      amounts: ['d'],
      window: true,
    });
    const [amount] = heard?.amounts ?? [];
    const includesNot = heard?.key.startsWith('not') ? ({ includesNot: true } as const) : {};
    if (heard && amount && said.window === undefined)
      return [{ leaf: { kind: 'away', days: rangeOf(amount) }, sureness: 3, ...includesNot }];
    // "not seen in the last 30 days"
    return said.isNegated && typeof said.window === 'number' && said.amounts.length === 0 && heard
      ? [{ leaf: { kind: 'away', days: { min: said.window } }, sureness: 3, includesNot: true }]
      : [];
  },
  example: (fc) => fc.record({ kind: fc.constant('away' as const), days: rangeExample(fc, 20) }),
};

const SAYS = [
  'away',
  'absent',
  'gone',
  'came back after',
  'returned after',
  'back after',
  'lapsed',
  'been away',
  'inactive',
  'last visit',
  'not seen',
  'not been here',
];
