import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { spoken } from '../../typing/spoken';
import type { PeopleKind } from '../kind';
import type { Subject } from '../subject';

export const teamSchema = () => z.strictObject({ kind: z.literal('team'), is: z.boolean() });
export type Team = z.infer<ReturnType<typeof teamSchema>>;
export const teamHolds = ({ is }: Team, { visitor }: Subject): Truth => (visitor.team ?? false) === is;
export const teamWords = ({ is }: Team): string => (is ? 'are of the team' : 'are not of the team');

export const teamKind: PeopleKind<Team, 'server'> = {
  kind: 'team',
  topic: 'are',
  schema: teamSchema,
  holds: teamHolds,
  words: teamWords,
  found: (_condition, { visitor }) => (visitor.team ? 'of the team' : 'not of the team'),
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'attributes' },
  changes: {},
  reasoning: { says: ({ is }) => is },
  editor: {
    label: 'Is of the team',
    make: () => ({ kind: 'team', is: true }),
    rows: [[{ field: 'yesNo', label: 'Team', yes: 'is of the team', no: 'is not of the team' }]],
  },
  typed: (said) =>
    spoken(said, {
      says: ['team', 'our team', 'ourselves', 'staff', 'colleagues', 'internal'],
      also: ['members', 'member'],
    })
      ? [{ leaf: { kind: 'team', is: true }, sureness: 3 }]
      : [],
  negate: ({ kind, is }) => ({ kind, is: !is }),
  example: (fc) => fc.record({ kind: fc.constant('team' as const), is: fc.boolean() }),
};
