import { z } from 'zod';
import { inRange, rangeSchema, rangeWords } from '../../logic/range';
import type { Truth } from '../../logic/truth';
import { rangeExample } from '../../testing/examples';
import { wholeRangeOf, spoken } from '../../typing/spoken';
import type { PeopleKind } from '../kind';
import type { Subject } from '../subject';

export const scoreSchema = () => z.strictObject({ kind: z.literal('score'), points: rangeSchema() });
export type Score = z.infer<ReturnType<typeof scoreSchema>>;
export const scoreHolds = ({ points }: Score, { visitor }: Subject): Truth => inRange(visitor.score ?? 0, points);
export const scoreWords = ({ points }: Score): string => `have a score of ${rangeWords(points)}`;

export const scoreKind: PeopleKind<Score, 'server'> = {
  kind: 'score',
  topic: 'are',
  schema: scoreSchema,
  holds: scoreHolds,
  words: scoreWords,
  found: (_condition, { visitor }) => String(visitor.score ?? 0),
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'profile', looksAt: (_condition, entry) => entry.kind === 'score' },
  changes: { profile: true },
  reasoning: {
    quantity: { range: ({ points }) => points, isWhole: false, least: -Infinity, isPartOf: () => true },
  },
  editor: {
    label: 'Has a score',
    make: () => ({ kind: 'score', points: { min: 1 } }),
    rows: [
      [
        { field: 'words', text: 'has' },
        { field: 'range', key: 'points', label: 'Points', least: -100_000, most: 100_000, unit: 'points' },
      ],
    ],
  },
  typed: (said) => {
    const heard =
      spoken(said, {
        says: ['score', 'scores', 'scored', 'lead score'],
        also: ['a', 'of', 'points', 'collected'],
        amounts: ['points', 'none'],
      }) ?? spoken(said, { also: ['score', 'collected'], amounts: ['points'] });
    const [amount] = heard?.amounts ?? [];
    const points = amount && wholeRangeOf(amount);
    return points ? [{ leaf: { kind: 'score', points }, sureness: 3 }] : [];
  },
  example: (fc) => fc.record({ kind: fc.constant('score' as const), points: rangeExample(fc, 9) }),
};
