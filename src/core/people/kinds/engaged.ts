import { z } from 'zod';
import { patternSchema } from '../../pages/pattern';
import { boundsInRange, rangeSchema, rangeWords } from '../../logic/range';
import type { Truth } from '../../logic/truth';
import type { WordsFor } from '../../pages/names';
import { pageList } from '../../pages/names';
import { sumMatchingViews } from '../matchingViews';
import type { Subject } from '../subject';
import { withinSchema, withinWords } from '../within';
import type { PeopleKind } from '../kind';
import { isShorter, arePartOf } from '../partOf';
import { rangeOf, spoken } from '../../typing/spoken';
import { maybe, pagesExample, rangeExample, shape, withinExample } from '../../testing/examples';
import { between } from '../found';

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

export const engagedKind: PeopleKind<Engaged, 'server'> = {
  kind: 'engaged',
  topic: 'didHere',
  schema: engagedSchema,
  holds: engagedHolds,
  words: engagedWords,
  found: (condition, subject) =>
    between(
      sumMatchingViews(subject, condition, ({ engaged }) => engaged),
      's',
    ),
  judgedIn: 'server',
  isSupplied: true,
  counting: {
    by: 'views',
    sum: ({ pages, within, seconds }) => ({ pages, within, range: seconds, weigh: ({ engaged }) => engaged }),
  },
  changes: { window: ({ within }) => within, views: true },
  reasoning: {
    quantity: {
      range: ({ seconds }) => seconds,
      isWhole: false,
      least: 0,
      isPartOf: (part, whole) => isShorter(part.within, whole.within) && arePartOf(part.pages, whole.pages),
    },
  },
  editor: {
    label: 'Was engaged for',
    make: () => ({ kind: 'engaged', seconds: { min: 60 } }),
    rows: [
      [
        { field: 'words', text: 'was engaged for' },
        { field: 'range', key: 'seconds', label: 'Seconds', least: 0, most: 100_000, unit: 's' },
        { field: 'within' },
      ],
      [{ field: 'pages' }],
    ],
  },
  typed: (said) => {
    const heard = spoken(said, { says: SAYS, also: ALSO, amounts: ['s'], window: true, pages: true });
    const [amount] = heard?.amounts ?? [];
    if (!heard || !amount) return [];
    const isHistory =
      said.pages.length > 0 ||
      typeof said.window === 'number' ||
      (said.window === 'visit' && !/\bin the (?:visit|session)\b/.test(said.text)) ||
      /\b(?:any page|total|overall|altogether|ever|was|were|spent)\b/.test(said.text);
    const pages = said.pages.length ? { pages: [...said.pages] } : {};
    const within = said.window === undefined ? {} : { within: said.window };
    // "20 s engaged" on its own waits on the page.
    return [{ leaf: { kind: 'engaged', ...pages, seconds: rangeOf(amount), ...within }, sureness: isHistory ? 3.2 : 1.5 }];
  },
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('engaged' as const),
      pages: maybe(fc, pagesExample(fc)),
      seconds: rangeExample(fc, 60),
      within: withinExample(fc),
    }),
};

const SAYS = ['engaged', 'engagement', 'spent', 'active', 'attention'];
const ALSO = ['time', 'any page', 'any', 'page', 'total', 'overall', 'altogether', 'ever', 'path', 'or'];
