import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { quoted } from '../../logic/valueTest';
import type { Timeline } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { spoken } from '../../typing/spoken';
import { selectorSchema, selectorsSaid, unlessUnwatched } from './selector';

export const reachSchema = () => z.strictObject({ kind: z.literal('reach'), selector: selectorSchema() });
export type Reach = z.infer<ReturnType<typeof reachSchema>>;
export const reachHolds = ({ selector }: Reach, line: Timeline): Truth => unlessUnwatched(line, selector, line.reached.has(selector));
export const reachWords = ({ selector }: Reach): string => `reach the element ${quoted(selector)}`;

export const reachRuntime: MomentRuntime<Reach> = { holds: reachHolds };

export const reachKind: MomentKind<Reach> = {
  kind: 'reach',
  schema: reachSchema,
  runtime: reachRuntime,
  words: reachWords,
  found: ({ selector }, line) => (line.reached.has(selector) ? 'reached' : 'not reached'),
  isInstant: false,
  watches: 'view',
  implies: (first, second) => first.selector === second.selector,
  isAlways: () => false,
  editor: {
    label: 'Comes to an element',
    make: () => ({ kind: 'reach', selector: '#id' }),
    rows: [
      [
        { field: 'words', text: 'comes to' },
        { field: 'text', key: 'selector', label: 'Selector', width: 'w-60', isElement: true },
      ],
    ],
  },
  typed: (said) => {
    const heard = spoken(said, { says: SAYS, also: ['element', 'the element', 'down'], selectors: true, quoted: true, name: true });
    return heard
      ? selectorsSaid(said, heard.name).map((selector, nth) => ({ leaf: { kind: 'reach', selector }, sureness: 3 - nth / 10 }))
      : [];
  },
  example: (fc) => fc.record({ kind: fc.constant('reach' as const), selector: fc.constantFrom('#book-now', '.signup') }),
};

const SAYS = [
  'reach',
  'reaches',
  'reached',
  'comes to',
  'come to',
  'gets to',
  'get to',
  'arrives at',
  'arrive at',
  'scrolls to',
  'scroll to',
  'scrolled to',
  'scrolls down to',
  'scroll down to',
];
