import { z } from 'zod';
import type { Timeline } from '../timeline';
import type { MomentKind, MomentRuntime } from '../kind';
import { spoken } from '../../typing/spoken';

export const scrollStartSchema = () => z.strictObject({ kind: z.literal('scrollStart') });
export type ScrollStart = z.infer<ReturnType<typeof scrollStartSchema>>;
export const scrollStartHolds = (_moment: ScrollStart, line: Timeline): boolean => line.scrolled;
export const scrollStartWords = (): string => 'start to scroll';

export const scrollStartRuntime: MomentRuntime<ScrollStart> = { holds: scrollStartHolds };

export const scrollStartKind: MomentKind<ScrollStart> = {
  kind: 'scrollStart',
  schema: scrollStartSchema,
  runtime: scrollStartRuntime,
  words: scrollStartWords,
  found: (_moment, line) => (line.scrolled ? 'scrolled' : 'not scrolled'),
  isInstant: false,
  watches: undefined,
  implies: () => true,
  isAlways: () => false,
  editor: { label: 'Begins to scroll', make: () => ({ kind: 'scrollStart' }), rows: [[{ field: 'words', text: 'start to scroll' }]] },
  typed: (said) =>
    spoken(said, { says: SAYS, also: ['at all', 'at', 'all', 'down', 'first', 'page'] })
      ? [{ leaf: { kind: 'scrollStart' }, sureness: 3 }]
      : [],
  example: (fc) => fc.constant({ kind: 'scrollStart' as const }),
};

const SAYS = [
  'start to scroll',
  'starts to scroll',
  'starts scrolling',
  'start scrolling',
  'begin to scroll',
  'begins to scroll',
  'begins scrolling',
  'started scrolling',
  'first scroll',
  'scroll',
  'scrolls',
  'scrolled',
  'scrolling',
  'any scroll',
  'scroll start',
  'on scroll',
];
