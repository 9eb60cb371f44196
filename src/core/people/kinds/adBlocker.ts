import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { spoken } from '../../typing/spoken';
import type { PeopleKind } from '../kind';
import type { Subject } from '../subject';

export const adBlockerSchema = () => z.strictObject({ kind: z.literal('adBlocker'), is: z.boolean() });
export type AdBlocker = z.infer<ReturnType<typeof adBlockerSchema>>;
export const adBlockerHolds = ({ is }: AdBlocker, { visitor: { adBlocker } }: Subject): Truth =>
  adBlocker === undefined ? null : adBlocker === is;
export const adBlockerWords = ({ is }: AdBlocker): string => (is ? 'use an ad blocker' : 'use no ad blocker');

export const adBlockerKind: PeopleKind<AdBlocker, 'page'> = {
  kind: 'adBlocker',
  topic: 'use',
  schema: adBlockerSchema,
  holds: adBlockerHolds,
  words: adBlockerWords,
  found: (_condition, { visitor }) => (visitor.adBlocker === undefined ? 'not recorded' : visitor.adBlocker ? 'yes' : 'no'),
  judgedIn: 'page',
  isSupplied: true,
  counting: { by: 'record', of: () => 'attributes' },
  changes: {},
  reasoning: { says: ({ is }) => is },
  editor: {
    label: 'Blocks ads',
    make: () => ({ kind: 'adBlocker', is: true }),
    rows: [[{ field: 'yesNo', label: 'Ad blocker', yes: 'blocks ads', no: 'does not block ads' }]],
  },
  typed: (said) =>
    spoken(said, {
      says: ['ad blocker', 'ad blockers', 'adblocker', 'adblock', 'ad block', 'ad-blocker', 'blocks ads', 'block ads', 'blocking ads'],
      also: ['use', 'uses', 'using'],
    })
      ? [{ leaf: { kind: 'adBlocker', is: true }, sureness: 3 }]
      : [],
  negate: ({ kind, is }) => ({ kind, is: !is }),
  example: (fc) => fc.record({ kind: fc.constant('adBlocker' as const), is: fc.boolean() }),
};
