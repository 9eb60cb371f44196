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

export const readSchema = () =>
  z.strictObject({
    kind: z.literal('read'),
    pages: z.array(patternSchema()).max(200).optional(),
    scroll: z.number().min(0).max(100),
    times: timesSchema().optional(),
    within: withinSchema(),
  });
export type Read = z.infer<ReturnType<typeof readSchema>>;

export function readHolds(condition: Read, subject: Subject): Truth {
  const { low, high } = sumMatchingViews(subject, condition, ({ scroll }) => (scroll >= condition.scroll ? 1 : 0));
  return boundsInRange(low, high, condition.times);
}

export function readWords({ pages, scroll, times, within }: Read, names: WordsFor): string {
  const what = `${pages?.length ? pageList(pages, names) : 'any page'} to ${scroll} %`;
  return isNever(times) ? `never read ${what}${withinWords(within)}` : `read ${what}${timesWords(times)}${withinWords(within)}`;
}

export const readKind: PeopleKind<Read, 'server'> = {
  kind: 'read',
  topic: 'didHere',
  schema: readSchema,
  holds: readHolds,
  words: readWords,
  found: (condition, subject) =>
    between(
      sumMatchingViews(subject, condition, ({ scroll }) => (scroll >= condition.scroll ? 1 : 0)),
      'views',
    ),
  judgedIn: 'server',
  isSupplied: true,
  counting: {
    by: 'views',
    sum: ({ pages, within, times, scroll: least }) => ({
      pages,
      within,
      range: times ?? { min: 1 },
      weigh: ({ scroll }) => (scroll >= least ? 1 : 0),
    }),
  },
  changes: { window: ({ within }) => within, views: true },
  reasoning: {
    quantity: {
      range: ({ times }) => times ?? { min: 1 },
      isWhole: true,
      least: 0,
      isPartOf: (part, whole) => isShorter(part.within, whole.within) && arePartOf(part.pages, whole.pages) && part.scroll >= whole.scroll,
    },
  },
  editor: {
    label: 'Read pages down to',
    make: () => ({ kind: 'read', pages: [{ op: 'like', value: '/' }], scroll: 50 }),
    rows: [
      [
        { field: 'words', text: 'read down to' },
        { field: 'number', key: 'scroll', label: 'Percent', least: 1, most: 100, unit: '%' },
        { field: 'range', key: 'times', label: 'Times', least: 0, most: 1000, unit: 'times', allowNever: true, otherwise: { min: 1 } },
        { field: 'within' },
      ],
      [{ field: 'pages' }],
    ],
  },
  typed: (said, { sets, pages: known }) => {
    const pages = said.pages.map((pattern) => finished(pattern, known));
    const heard = spoken(said, { says: SAYS, also: ALSO, amounts: ['%', 'times'], mostAmounts: 2, window: true, pages: true, name: true });
    if (!heard) return [];
    const percent = heard.amounts.find(({ unit }) => unit === '%');
    const counted = heard.amounts.find(({ unit }) => unit === 'times');
    const times = counted ? countOf(counted) : undefined;
    const scroll = percent ? percent.min : 50;
    if (scroll === undefined || scroll > 100 || percent?.max !== undefined || (counted && !times)) return [];
    const body = { scroll, ...(times ? { times } : {}), ...(said.window === undefined ? {} : { within: said.window }) };
    if (heard.name !== '')
      return called(heard.name, sets, ({ name }) => name).map(({ one, sureness }) => ({
        leaf: { kind: 'read', pages: [{ set: one.id }], ...body },
        sureness: sureness + 1,
      }));
    if (said.pages.length) return [{ leaf: { kind: 'read', pages, ...body }, sureness: percent ? 3 : 2.5 }];
    // Without pages "scrolled to 50 %" is a moment sooner than a history.
    if (!percent) return [];
    return [{ leaf: { kind: 'read', ...body }, sureness: said.window !== undefined || heard.key.startsWith('read') || counted ? 3 : 1.5 }];
  },
  negate: neverTimes,
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('read' as const),
      pages: maybe(fc, pagesExample(fc)),
      scroll: fc.constantFrom(25, 50, 90),
      times: timesExample(fc),
      within: withinExample(fc),
    }),
};

const SAYS = ['read', 'reads', 'reading', 'scrolled', 'scrolls', 'scroll'];
const ALSO = [
  'any page',
  'any',
  'page',
  'pages',
  'down',
  'down to',
  'deep',
  'deeply',
  'far',
  'at least',
  'path',
  'through',
  'times',
  'time',
  'or',
];
