import { z } from 'zod';
import { patternSchema } from '../../pages/pattern';
import { boundsInRange, isNever, timesSchema, timesWords } from '../../logic/range';
import type { Truth } from '../../logic/truth';
import type { WordsFor } from '../../pages/names';
import { pageList } from '../../pages/names';
import { sumMatchingViews } from '../matchingViews';
import type { Subject } from '../subject';
import { withinSchema, withinWords } from '../within';
import type { PeopleKind } from '../kind';
import { neverTimes } from '../times';
import { isShorter, arePartOf } from '../partOf';
import { called, countOf, spoken } from '../../typing/spoken';
import { maybe, pagesExample, shape, timesExample, withinExample } from '../../testing/examples';
import { between } from '../found';
import { finished } from '../../typing/pageTyped';

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

export const viewedKind: PeopleKind<Viewed, 'server'> = {
  kind: 'viewed',
  topic: 'didHere',
  schema: viewedSchema,
  holds: viewedHolds,
  words: viewedWords,
  found: (condition, subject) =>
    between(
      sumMatchingViews(subject, condition, () => 1),
      'views',
    ),
  judgedIn: 'server',
  isSupplied: true,
  counting: {
    by: 'views',
    sum: ({ pages, within, times }) => ({ pages, within, range: times ?? { min: 1 }, weigh: undefined }),
  },
  changes: { window: ({ within }) => within, views: true },
  reasoning: {
    quantity: {
      range: ({ times }) => times ?? { min: 1 },
      isWhole: true,
      least: 0,
      isPartOf: (part, whole) => isShorter(part.within, whole.within) && arePartOf(part.pages, whole.pages),
    },
  },
  editor: {
    label: 'Viewed pages',
    make: () => ({ kind: 'viewed', pages: [{ op: 'like', value: '/' }], times: { min: 1 } }),
    rows: [
      [
        { field: 'words', text: 'viewed' },
        { field: 'range', key: 'times', label: 'Times', least: 0, most: 1000, unit: 'times', allowNever: true, otherwise: { min: 1 } },
        { field: 'within' },
      ],
      [{ field: 'pages' }],
    ],
  },
  typed: (said, { sets, pages: known }) => {
    const pages = said.pages.map((pattern) => finished(pattern, known));
    const [amount] = said.amounts;
    const times = amount ? countOf(amount) : { min: 1 };
    const within = said.window === undefined ? {} : { within: said.window };
    if (!times) return [];
    const named = spoken(said, { says: SAYS, also: ALSO, amounts: ['times', 'none', 'pages'], window: true, pages: true, name: true });
    if (named) {
      if (named.name === '' && said.pages.length > 0) return [{ leaf: { kind: 'viewed', pages, times, ...within }, sureness: 3 }];
      if (named.name !== '' && said.pages.length === 0)
        return called(named.name, sets, ({ name }) => name).map(({ one, sureness }) => ({
          leaf: { kind: 'viewed', pages: [{ set: one.id }], times, ...within },
          sureness: sureness + 1,
        }));
      if (named.name === '' && (amount?.unit === 'pages' || / any page| pages? /.test(` ${said.text} `)))
        return [{ leaf: { kind: 'viewed', times, ...within }, sureness: 3 }];
      return [];
    }
    if (amount?.unit === 'pages' && spoken(said, { also: ALSO, amounts: ['pages'], window: true }))
      return [{ leaf: { kind: 'viewed', times, ...within }, sureness: 2 }];
    if (said.pages.length && spoken(said, { amounts: ['times'], also: ['times'], window: true, pages: true }))
      return [{ leaf: { kind: 'viewed', pages, times, ...within }, sureness: amount || said.window !== undefined ? 2.5 : 0.9 }];
    return [];
  },
  negate: neverTimes,
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('viewed' as const),
      pages: maybe(fc, pagesExample(fc)),
      times: timesExample(fc),
      within: withinExample(fc),
    }),
};

const SAYS = [
  'viewed',
  'visited',
  'views',
  'view',
  'seen',
  'saw',
  'opened',
  'looked at',
  'look at',
  'been on',
  'been to',
  'went to',
  'looked',
];
const ALSO = ['any page', 'any pages', 'any', 'page', 'pages', 'path', 'ever', 'before', 'already', 'times', 'time', 'or'];
