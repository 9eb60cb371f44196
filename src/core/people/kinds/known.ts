import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import type { PeopleKind } from '../kind';
import type { Subject } from '../subject';
import { spoken } from '../../typing/spoken';

export const knownSchema = () => z.strictObject({ kind: z.literal('known'), is: z.boolean() });
export type Known = z.infer<ReturnType<typeof knownSchema>>;
export const knownHolds = ({ is }: Known, { visitor }: Subject): Truth => visitor.known === is;
export const knownWords = ({ is }: Known): string => (is ? 'are known' : 'are not known yet');

export const knownKind: PeopleKind<Known, 'server'> = {
  kind: 'known',
  topic: 'are',
  schema: knownSchema,
  holds: knownHolds,
  words: knownWords,
  found: (_condition, { visitor }) => (visitor.known ? 'known' : 'not known'),
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'profile', looksAt: (_condition, entry) => entry.kind === 'identity' },
  changes: { profile: true },
  reasoning: { says: ({ is }) => is },
  editor: {
    label: 'Known or not',
    make: () => ({ kind: 'known', is: true }),
    rows: [
      [
        { field: 'yesNo', label: 'Known', yes: 'are known', no: 'are not known yet' },
        { field: 'note', text: 'an email or a customer id is on record' },
      ],
    ],
  },
  typed: (said) => {
    const heard = spoken(said, { says: [...KNOWN, ...UNKNOWN], also: ['yet', 'already', 'an', 'to', 'us', 'email', 'address'] });
    return heard ? [{ leaf: { kind: 'known', is: KNOWN.includes(heard.key) }, sureness: 3 }] : [];
  },
  negate: ({ kind, is }) => ({ kind, is: !is }),
  example: (fc) => fc.record({ kind: fc.constant('known' as const), is: fc.boolean() }),
};

const KNOWN = [
  'known',
  'identified',
  'logged in',
  'signed in',
  'logged-in',
  'signed-in',
  'have an email',
  'has email',
  'with email',
  'with an email',
  'left an email',
  'customer',
  'customers',
  'registered',
  'email known',
];
const UNKNOWN = [
  'anonymous',
  'unknown',
  'unidentified',
  'logged out',
  'signed out',
  'logged-out',
  'stranger',
  'strangers',
  'guest',
  'guests',
];
