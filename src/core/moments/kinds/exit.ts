import { z } from 'zod';
import type { Timeline } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { spoken } from '../../typing/spoken';

export const exitSchema = () => z.strictObject({ kind: z.literal('exit') });
export type Exit = z.infer<ReturnType<typeof exitSchema>>;
export const exitHolds = (_moment: Exit, line: Timeline): boolean => line.signal?.s === 'exit';
export const exitWords = (): string => 'move to leave';

export const exitRuntime: MomentRuntime<Exit> = { holds: exitHolds, names: (_moment, signal) => signal.s === 'exit' };

export const exitKind: MomentKind<Exit> = {
  kind: 'exit',
  schema: exitSchema,
  runtime: exitRuntime,
  words: exitWords,
  found: (_moment, line) => (line.signal?.s === 'exit' ? 'moves to leave' : 'does not move to leave at this instant'),
  isInstant: true,
  watches: undefined,
  implies: () => true,
  isAlways: () => false,
  editor: {
    label: 'Moves to leave',
    make: () => ({ kind: 'exit' }),
    rows: [
      [
        { field: 'words', text: 'moves to leave' },
        { field: 'note', text: 'the pointer goes out at the top; on touch screens a fast scroll back up' },
      ],
    ],
  },
  typed: (said) =>
    said.isNegated
      ? []
      : spoken(said, {
            says: SAYS,
            also: ['intent', 'the page', 'page', 'site', 'the site', 'about', 'to', 'intention', 'tab', 'window', 'and'],
          })
        ? [{ leaf: { kind: 'exit' }, sureness: 3 }]
        : [],
  example: (fc) => fc.constant({ kind: 'exit' as const }),
};

const SAYS = [
  'exit',
  'exit intent',
  'exit-intent',
  'exits',
  'exiting',
  'leave',
  'leaves',
  'leaving',
  'about to leave',
  'going to leave',
  'move to leave',
  'moves to leave',
  'moving to leave',
  'tries to leave',
  'try to leave',
  'wants to leave',
  'abandon',
  'abandons',
  'abandoning',
  'on the way out',
  'close the tab',
  'closes the tab',
  'closing the tab',
  'mouse leaves',
  'pointer leaves',
  'goes away',
  'going away',
  'quits',
  'quit',
];
