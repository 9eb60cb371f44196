import { z } from 'zod';
import type { Timeline } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { spoken, thresholdOf } from '../../typing/spoken';

export const scrollSchema = () => z.strictObject({ kind: z.literal('scroll'), atLeast: z.number().min(1).max(100) });
export type Scroll = z.infer<ReturnType<typeof scrollSchema>>;
export const scrollHolds = ({ atLeast }: Scroll, line: Timeline): boolean => line.depth >= atLeast;
export const scrollWords = ({ atLeast }: Scroll): string => `scroll to ${atLeast} %`;

export const scrollRuntime: MomentRuntime<Scroll> = { holds: scrollHolds };

export const scrollKind: MomentKind<Scroll> = {
  kind: 'scroll',
  schema: scrollSchema,
  runtime: scrollRuntime,
  words: scrollWords,
  found: (_moment, line) => `${line.depth} %`,
  isInstant: false,
  watches: undefined,
  implies: (first, second) => first.atLeast >= second.atLeast,
  isAlways: () => false,
  editor: {
    label: 'After scrolling to',
    make: () => ({ kind: 'scroll', atLeast: 40 }),
    rows: [
      [
        { field: 'words', text: 'scrolled to' },
        { field: 'number', key: 'atLeast', label: 'Percent', least: 1, most: 100, unit: '%' },
      ],
    ],
  },
  typed: (said) => {
    const heard = spoken(said, { also: [...SAYS, ...ALSO], amounts: ['%', 'none'] });
    if (!heard) return [];
    const isNamed = said.words.some((word) => SAYS.includes(word));
    const text = ` ${said.text} `;
    const spelled = / (?:half|halfway|middle) /.test(text) ? 50 : / (?:bottom|end|finish) /.test(text) ? 100 : undefined;
    const [amount] = heard.amounts;
    const atLeast = amount ? thresholdOf(amount) : spelled;
    if (atLeast === undefined || atLeast < 1 || atLeast > 100 || (!isNamed && amount?.unit !== '%')) return [];
    return [{ leaf: { kind: 'scroll', atLeast }, sureness: isNamed ? 3 : 2 }];
  },
  example: (fc) => fc.record({ kind: fc.constant('scroll' as const), atLeast: fc.constantFrom(10, 40, 75) }),
};

const SAYS = ['scroll', 'scrolls', 'scrolled', 'scrolling', 'depth', 'scroll-depth', 'scrolldepth'];
const ALSO = [
  'down',
  'to',
  'past',
  'beyond',
  'page',
  'reach',
  'reached',
  'reaches',
  'deep',
  'half',
  'halfway',
  'middle',
  'bottom',
  'end',
  'whole',
  'read',
  'after',
  'seen',
  'least',
];
