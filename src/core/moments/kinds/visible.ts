import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { quoted } from '../../logic/valueTest';
import type { Timeline } from '../timeline';
import { msOf, watchShare } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { spoken, thresholdOf } from '../../typing/spoken';
import { selectorSchema, selectorsSaid, unlessUnwatched } from './selector';
import { maybe, shape } from '../../testing/examples';

export const visibleSchema = () =>
  z.strictObject({
    kind: z.literal('visible'),
    selector: selectorSchema(),
    share: z.number().min(1).max(100),
    seconds: z.number().min(0).max(86_400).optional(),
  });
export type Visible = z.infer<ReturnType<typeof visibleSchema>>;

const watchOf = (moment: Visible, line: Timeline) => watchShare(line, moment.selector, moment.share, msOf(moment));

export function visibleHolds(moment: Visible, line: Timeline, t: number): Truth {
  const watch = watchOf(moment, line);
  return unlessUnwatched(line, moment.selector, watch.done || (watch.since !== undefined && t - watch.since >= watch.ms));
}

export function visibleWakesAt(moment: Visible, line: Timeline, t: number): number {
  const { since, ms, done } = watchOf(moment, line);
  return !done && since !== undefined && since + ms > t ? since + ms : Infinity;
}

export function visibleWords({ selector, share, seconds }: Visible): string {
  return `have ${share} % of the element ${quoted(selector)} in view${seconds ? ` for ${seconds} s` : ''}`;
}

export const visibleRuntime: MomentRuntime<Visible> = { holds: visibleHolds, wakesAt: visibleWakesAt };

export const visibleKind: MomentKind<Visible> = {
  kind: 'visible',
  schema: visibleSchema,
  runtime: visibleRuntime,
  words: visibleWords,
  found: ({ selector }, line) => `${line.shares.get(selector) ?? 0} % in view`,
  isInstant: false,
  watches: 'view',
  implies: (first, second) =>
    first.selector === second.selector && first.share >= second.share && (first.seconds ?? 0) >= (second.seconds ?? 0),
  isAlways: () => false,
  editor: {
    label: 'Has an element in view',
    make: () => ({ kind: 'visible', selector: '#id', share: 50, seconds: 2 }),
    rows: [
      [
        { field: 'words', text: 'has in view' },
        { field: 'text', key: 'selector', label: 'Selector', width: 'w-44', isElement: true },
        { field: 'words', text: 'at least' },
        { field: 'number', key: 'share', label: 'Percent of it', least: 1, most: 100, unit: '% for' },
        { field: 'number', key: 'seconds', label: 'Seconds', least: 0, most: 86_400, unit: 's', otherwise: 0 },
      ],
    ],
  },
  typed: (said) => {
    const heard = spoken(said, {
      says: SAYS,
      also: ['element', 'the element', 'of', 'at least'],
      selectors: true,
      quoted: true,
      amounts: ['%', 's'],
      mostAmounts: 2,
      name: true,
    });
    if (!heard) return [];
    const share = thresholdOf(heard.amounts.find(({ unit }) => unit === '%') ?? { min: 50, isBare: true, isOver: false, isUnder: false });
    const seconds = thresholdOf(heard.amounts.find(({ unit }) => unit === 's'));
    if (share === undefined || share < 1 || share > 100) return [];
    return selectorsSaid(said, heard.name).map((selector, nth) => ({
      leaf: { kind: 'visible', selector, share, ...(seconds ? { seconds } : {}) },
      // A word after "see" may be many things; a selector is an element.
      sureness: said.selectors.length + said.quoted.length ? 3 : 1.2 - nth / 10,
    }));
  },
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('visible' as const),
      selector: fc.constantFrom('#book-now', '.signup'),
      share: fc.constantFrom(1, 50),
      seconds: maybe(fc, fc.constantFrom(2, 6)),
    }),
};

const SAYS = [
  'in view',
  'visible',
  'see',
  'sees',
  'seen',
  'saw',
  'in sight',
  'comes into view',
  'come into view',
  'on screen',
  'in viewport',
  'appears',
  'is shown',
  'views',
];
