import { z } from 'zod';
import type { Timeline } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { countOf, spoken } from '../../typing/spoken';
import { maybe, shape } from '../../testing/examples';

export const clicksSchema = () =>
  z.strictObject({ kind: z.literal('clicks'), atLeast: z.int().min(1).max(1000), of: z.enum(['page', 'visit']).optional() });
export type Clicks = z.infer<ReturnType<typeof clicksSchema>>;

export function clicksHolds({ atLeast, of }: Clicks, line: Timeline): boolean {
  return line.clicks + (of === 'visit' ? (line.before.visitClicks ?? 0) : 0) >= atLeast;
}

export function clicksWords({ atLeast, of }: Clicks): string {
  return `click ${atLeast} ${atLeast === 1 ? 'time' : 'times'} ${of === 'visit' ? 'in the visit' : 'on the page'}`;
}

export const clicksRuntime: MomentRuntime<Clicks> = { holds: clicksHolds };

export const clicksKind: MomentKind<Clicks> = {
  kind: 'clicks',
  schema: clicksSchema,
  runtime: clicksRuntime,
  words: clicksWords,
  found: ({ of }, line) => `${line.clicks + (of === 'visit' ? (line.before.visitClicks ?? 0) : 0)} clicks`,
  isInstant: false,
  watches: undefined,
  implies: (first, second) => first.atLeast >= second.atLeast && (first.of ?? 'page') !== 'visit',
  isAlways: () => false,
  editor: {
    label: 'Clicks some times',
    make: () => ({ kind: 'clicks', atLeast: 3 }),
    rows: [
      [
        { field: 'words', text: 'clicks at least' },
        { field: 'number', key: 'atLeast', label: 'Clicks', least: 1, most: 1000, unit: 'times', isWhole: true },
        {
          field: 'choice',
          key: 'of',
          label: 'Of',
          otherwise: 'page',
          options: [
            ['page', 'on the page'],
            ['visit', 'in the visit'],
          ],
        },
      ],
    ],
  },
  typed: (said) => {
    if (typeof said.window === 'number') return [];
    const heard =
      spoken(said, { says: SAYS, also: ALSO, amounts: ['times', 'none', 'clicks'], window: true }) ??
      spoken(said, { also: ALSO, amounts: ['clicks'], window: true });
    const [amount] = heard?.amounts ?? [];
    const times = amount && countOf(amount);
    const atLeast = times && (times.max === undefined || times.max === times.min) ? times.min : undefined;
    if (!heard || atLeast === undefined || atLeast < 1 || atLeast > 1000) return [];
    const isVisit = said.window === 'visit' || said.words.includes('visit');
    return [{ leaf: { kind: 'clicks', atLeast, ...(isVisit ? { of: 'visit' as const } : {}) }, sureness: 3 }];
  },
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('clicks' as const),
      atLeast: fc.constantFrom(1, 3),
      of: maybe(fc, fc.constantFrom('page' as const, 'visit' as const)),
    }),
};

const SAYS = ['click', 'clicks', 'clicked', 'taps', 'tap'];
const ALSO = ['page', 'visit', 'times', 'time', 'anywhere', 'made', 'after'];
