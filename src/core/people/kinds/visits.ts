import { z } from 'zod';
import { boundsInRange, rangeWords, timesSchema } from '../../logic/range';
import type { Truth } from '../../logic/truth';
import type { Subject } from '../subject';
import { inWindow, visitsIn } from '../subject';
import { withinSchema, withinWords } from '../within';
import type { PeopleKind } from '../kind';
import { isShorter } from '../partOf';
import type { Range } from '../../logic/range';
import { countOf, spoken } from '../../typing/spoken';
import { rangeExample, shape, withinExample } from '../../testing/examples';

export const visitsSchema = () => z.strictObject({ kind: z.literal('visits'), times: timesSchema(), within: withinSchema() });
export type Visits = z.infer<ReturnType<typeof visitsSchema>>;

export function visitsHolds({ times, within }: Visits, subject: Subject): Truth {
  const count = visitsIn(within, subject).filter(({ at }) => inWindow(at, within, subject)).length;
  return boundsInRange(count, count, times);
}

export function visitsWords({ times, within }: Visits): string {
  return `made ${rangeWords(times)} ${times.min === 1 && times.max === 1 ? 'visit' : 'visits'}${withinWords(within)}`;
}

export const visitsKind: PeopleKind<Visits, 'server'> = {
  kind: 'visits',
  topic: 'didHere',
  schema: visitsSchema,
  holds: visitsHolds,
  words: visitsWords,
  found: (condition, subject) =>
    `${visitsIn(condition.within, subject).filter(({ at }) => inWindow(at, condition.within, subject)).length} visits`,
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'visits' },
  changes: { window: ({ within }) => within },
  reasoning: {
    quantity: {
      range: ({ times }) => times,
      isWhole: true,
      least: 0,
      isPartOf: (part, whole) => isShorter(part.within, whole.within),
    },
  },
  editor: {
    label: 'Number of visits',
    make: () => ({ kind: 'visits', times: { min: 2 } }),
    rows: [
      [
        { field: 'words', text: 'made' },
        { field: 'range', key: 'times', label: 'Visits', least: 0, most: 1000, unit: 'visits' },
        { field: 'within' },
      ],
    ],
  },
  typed: (said) => {
    const within = said.window === undefined ? {} : { within: said.window };
    const leaf = (times: Range): Visits => ({ kind: 'visits', times, ...within });
    const shorts = spoken(said, { says: [...NEW, ...RETURNING, ...Object.keys(NTH)], also: ALSO, window: true });
    if (shorts) {
      const nth = NTH[shorts.key];
      if (nth !== undefined) return [{ leaf: leaf({ min: nth, max: nth }), sureness: 3 }];
      return [{ leaf: leaf(NEW.includes(shorts.key) ? { max: 1 } : { min: 2 }), sureness: 3 }];
    }
    const heard = spoken(said, {
      also: [...ALSO, 'made', 'make', 'visited', 'came', 'times', 'here'],
      amounts: ['visits', 'times', 'none'],
      window: true,
    });
    const [amount] = heard?.amounts ?? [];
    const times = amount && countOf(amount);
    const isVisits = amount?.unit === 'visits' || /\b(?:visits?|sessions?|visited|came|been here)\b/.test(said.text);
    return times && isVisits ? [{ leaf: leaf(times), sureness: amount.unit === 'visits' ? 2.2 : 2 }] : [];
  },
  negate: ({ times, ...rest }) =>
    times.max === undefined && times.min !== undefined && times.min > 0
      ? { ...rest, times: { max: times.min - 1 } }
      : times.min === undefined && times.max !== undefined
        ? { ...rest, times: { min: times.max + 1 } }
        : undefined,
  example: (fc) => shape(fc, { kind: fc.constant('visits' as const), times: rangeExample(fc, 4), within: withinExample(fc) }),
};

const NEW = [
  'new',
  'first time',
  'first-time',
  'first visit',
  'newcomer',
  'newcomers',
  'new visitor',
  'new visitors',
  'never been here',
  'new user',
  'new users',
  'new people',
  'first timers',
  'first timer',
];
const RETURNING = [
  'returning',
  'repeat',
  'repeated',
  'come back',
  'came back',
  'comes back',
  'been here before',
  'came before',
  'here again',
  'regulars',
  'returns',
  'returned',
];
const NTH: Readonly<Record<string, number>> = {
  'second visit': 2,
  'third visit': 3,
  'fourth visit': 4,
  'fifth visit': 5,
  '2nd visit': 2,
  '3rd visit': 3,
};
const ALSO = ['visit', 'visits', 'session', 'sessions', 'only', 'here', 'before', 'site', 'ever', 'customers', 'guest', 'guests'];
