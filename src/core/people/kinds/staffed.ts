import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import type { Subject } from '../subject';
import type { PeopleKind } from '../kind';
import { spoken } from '../../typing/spoken';

export const staffedSchema = () => z.strictObject({ kind: z.literal('staffed'), is: z.boolean() });
export type Staffed = z.infer<ReturnType<typeof staffedSchema>>;
const known = ({ staffed, visitor }: Subject): boolean | undefined => staffed ?? visitor.staffed;
export const staffedHolds = ({ is }: Staffed, subject: Subject): Truth => {
  const staffed = known(subject);
  return staffed === undefined ? null : staffed === is;
};
export const staffedWords = ({ is }: Staffed): string => (is ? 'can reach someone by chat now' : 'can reach nobody by chat now');

export const staffedKind: PeopleKind<Staffed, 'server'> = {
  kind: 'staffed',
  topic: 'when',
  schema: staffedSchema,
  holds: staffedHolds,
  words: staffedWords,
  found: (_condition, subject) => {
    const staffed = known(subject);
    return staffed === undefined ? 'not recorded' : staffed ? 'somebody is there' : 'nobody is there';
  },
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record' },
  changes: { profile: true },
  reasoning: { says: ({ is }) => is },
  editor: {
    label: 'Somebody is there to chat',
    make: () => ({ kind: 'staffed', is: true }),
    rows: [[{ field: 'yesNo', label: 'Staffed', yes: 'while somebody is there to chat', no: 'while nobody is there to chat' }]],
  },
  typed: (said) =>
    (
      [
        [
          true,
          [
            'staffed',
            'somebody is there',
            'someone is there',
            'can reach someone',
            'can reach',
            'is there',
            'team is online',
            'agents online',
            'chat is open',
          ],
        ],
        [false, ['unstaffed', 'team is offline', 'chat is closed']],
      ] as const
    ).flatMap(([is, says]) =>
      spoken(said, { says, also: ['chat', 'now', 'by', 'to', 'somebody', 'someone', 'there', 'is'] })
        ? [{ leaf: { kind: 'staffed' as const, is }, sureness: 3 }]
        : [],
    ),
  negate: ({ kind, is }) => ({ kind, is: !is }),
  example: (fc) => fc.record({ kind: fc.constant('staffed' as const), is: fc.boolean() }),
};
