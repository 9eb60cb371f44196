import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { quoted, testWords, valueHolds, valueTestSchema } from '../../logic/valueTest';
import { called } from '../../typing/spoken';
import { valueTyped } from '../../typing/valueTyped';
import { valueTestExample } from '../../testing/examples';
import { shown } from '../found';
import type { PeopleKind } from '../kind';
import type { Subject } from '../subject';
import { ownValue } from './did';

export const traitSchema = () => z.strictObject({ kind: z.literal('trait'), key: z.string().min(1).max(200), test: valueTestSchema() });
export type Trait = z.infer<ReturnType<typeof traitSchema>>;
export const traitHolds = ({ key, test }: Trait, { visitor, now }: Subject): Truth => valueHolds(ownValue(visitor.traits, key), test, now);
export const traitWords = ({ key, test }: Trait): string => `have a trait ${quoted(key)} that ${testWords(test)}`;

export const traitKind: PeopleKind<Trait, 'server'> = {
  kind: 'trait',
  topic: 'are',
  schema: traitSchema,
  holds: traitHolds,
  words: traitWords,
  found: ({ key }, { visitor }) => shown(ownValue(visitor.traits, key)),
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'profile', looksAt: ({ key }, entry) => entry.kind === 'trait' && entry.key === key },
  changes: { profile: true, unforeseen: ({ test }) => test.op === 'daysAgo' },
  reasoning: { test: ({ key, test }) => ({ of: key, test }) },
  editor: {
    label: 'Has a trait',
    make: (recorded) => ({ kind: 'trait', key: recorded?.traits[0]?.value ?? 'plan', test: { op: 'exists' } }),
    rows: [
      [
        { field: 'words', text: 'trait' },
        { field: 'text', key: 'key', label: 'Trait', list: 'traits', width: 'w-32' },
        { field: 'test', label: 'Value', numbers: true },
      ],
    ],
  },
  typed: ({ raw, text, isNegated }, { traits }) => {
    const plain = isNegated ? text : raw;
    const named = /^(?:have |has |with |whose )?(?:a |the )?trait (?:"([^"]+)"|“([^”]+)”|([\w.-]+)) ?(.*)$/i.exec(plain);
    const explicit = named?.[1] ?? named?.[2] ?? named?.[3];
    const explicitTest = named && valueTyped(named[4] ?? '');
    if (explicit !== undefined && explicitTest) return [{ leaf: { kind: 'trait', key: explicit, test: explicitTest }, sureness: 3 }];
    // "plan is family", "nights over 5", "plan=family": only what the site has recorded, so that nothing else is taken for a trait.
    const loose = /^(?:whose |have |has |with )?([\w.-]+)\s*(.*)$/i.exec(plain);
    if (!loose) return [];
    const [, key = '', rest = ''] = loose;
    const [met] = called(key, traits, ({ value }) => value).filter(({ sureness }) => sureness === 1);
    const test = valueTyped(rest.replace(/^=(?=\S)/, '= '));
    return met && test ? [{ leaf: { kind: 'trait', key: met.one.value, test }, sureness: rest === '' ? 1 : 2.6 }] : [];
  },
  example: (fc) =>
    fc.record({
      kind: fc.constant('trait' as const),
      key: fc.constantFrom('plan', 'nights', 'joined', 'gone'),
      test: valueTestExample(fc),
    }),
};
