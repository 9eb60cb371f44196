import { z } from 'zod';
import type { MomentKind, MomentRuntime } from '../kind';
import { spoken } from '../../typing/spoken';

export const openSchema = () => z.strictObject({ kind: z.literal('open') });
export type Open = z.infer<ReturnType<typeof openSchema>>;

export const openWords = (): string => 'open the page';

export const openRuntime: MomentRuntime<Open> = { holds: () => true };

export const openKind: MomentKind<Open> = {
  kind: 'open',
  schema: openSchema,
  runtime: openRuntime,
  words: openWords,
  found: () => 'open',
  isInstant: false,
  watches: undefined,
  implies: () => true,
  isAlways: () => true,
  editor: { label: 'As the page opens', make: () => ({ kind: 'open' }), rows: [[{ field: 'words', text: 'open the page' }]] },
  typed: (said) =>
    spoken(said, { says: SAYS, also: ['show', 'page', 'the page', 'open', 'opens', 'load', 'loads'] })
      ? [{ leaf: { kind: 'open' }, sureness: 3 }]
      : [],
  example: (fc) => fc.constant({ kind: 'open' as const }),
};

const SAYS = [
  'immediately',
  'at once',
  'straight away',
  'right away',
  'instantly',
  'on load',
  'page load',
  'on page load',
  'open the page',
  'opens the page',
  'page opens',
  'on open',
  'on opening',
  'on arrival',
  'as soon as',
  'on entry',
  'at the opening',
  'as the page opens',
  'as soon as the page opens',
  'as soon as it opens',
  'without delay',
  'now',
];
