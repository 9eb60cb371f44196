import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { quoted } from '../../logic/valueTest';
import type { Timeline } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { spoken } from '../../typing/spoken';
import { selectorSchema, selectorsSaid, unlessUnwatched } from './selector';

export const clickSchema = () => z.strictObject({ kind: z.literal('click'), selector: selectorSchema() });
export type Click = z.infer<ReturnType<typeof clickSchema>>;
export const clickHolds = ({ selector }: Click, line: Timeline): Truth => unlessUnwatched(line, selector, line.clickedOn.has(selector));
export const clickWords = ({ selector }: Click): string => `click on the element ${quoted(selector)}`;

export const clickRuntime: MomentRuntime<Click> = {
  holds: clickHolds,
  names: ({ selector }, signal) => signal.s === 'click' && signal.on.includes(selector),
};

export const clickKind: MomentKind<Click> = {
  kind: 'click',
  schema: clickSchema,
  runtime: clickRuntime,
  words: clickWords,
  found: ({ selector }, line) => (line.clickedOn.has(selector) ? 'clicked' : 'not clicked'),
  isInstant: false,
  watches: 'click',
  implies: (first, second) => first.selector === second.selector,
  isAlways: () => false,
  editor: {
    label: 'Clicks an element',
    make: () => ({ kind: 'click', selector: '#id' }),
    rows: [
      [
        { field: 'words', text: 'clicks' },
        { field: 'text', key: 'selector', label: 'Selector', width: 'w-60', isElement: true },
      ],
    ],
  },
  typed: (said) => {
    const heard = spoken(said, {
      says: SAYS,
      also: ['on', 'the element', 'element', 'button', 'link'],
      selectors: true,
      quoted: true,
      name: true,
    });
    if (!heard) return [];
    const name = heard.name === '' && said.words.includes('button') ? 'button' : heard.name;
    return selectorsSaid(said, said.selectors.length || said.quoted.length ? '' : name).map((selector, nth) => ({
      leaf: { kind: 'click', selector },
      sureness: 3 - nth / 10,
    }));
  },
  example: (fc) => fc.record({ kind: fc.constant('click' as const), selector: fc.constantFrom('#book-now', '.signup') }),
};

const SAYS = [
  'click',
  'clicks',
  'clicked',
  'clicking',
  'click on',
  'clicks on',
  'press',
  'presses',
  'pressed',
  'tap',
  'taps',
  'tapped',
  'tap on',
  'taps on',
  'push',
  'pushes',
];
