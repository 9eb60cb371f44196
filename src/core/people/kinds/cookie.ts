import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import type { TextTest } from '../../logic/valueTest';
import { quoted, testWords, textHolds, textTestSchema } from '../../logic/valueTest';
import { textTestExample } from '../../testing/examples';
import { valueTyped } from '../../typing/valueTyped';
import { shown } from '../found';
import type { PeopleKind } from '../kind';
import type { Subject } from '../subject';
import { ownValue } from './did';

export const cookieSchema = () => z.strictObject({ kind: z.literal('cookie'), name: z.string().min(1).max(200), test: textTestSchema() });
export type Cookie = z.infer<ReturnType<typeof cookieSchema>>;
export function cookieHolds({ name, test }: Cookie, { visitor: { cookies } }: Subject): Truth {
  if (!cookies) return null;
  const value = ownValue(cookies, name);
  return textHolds(typeof value === 'string' ? value : undefined, test);
}
export const cookieWords = ({ name, test }: Cookie): string => `have a cookie ${quoted(name)} that ${testWords(test)}`;

export const cookieKind: PeopleKind<Cookie, 'page'> = {
  kind: 'cookie',
  topic: 'use',
  schema: cookieSchema,
  holds: cookieHolds,
  words: cookieWords,
  found: ({ name }, { visitor: { cookies } }) => (cookies ? shown(ownValue(cookies, name)) : 'the cookie store is closed'),
  judgedIn: 'page',
  isSupplied: true,
  counting: { by: 'record', of: () => 'attributes' },
  changes: {},
  reasoning: { test: ({ name, test }) => ({ of: name, test }) },
  editor: {
    label: 'Has a cookie',
    make: () => ({ kind: 'cookie', name: 'NAME', test: { op: 'exists' } }),
    rows: [
      [
        { field: 'words', text: 'cookie' },
        { field: 'text', key: 'name', label: 'Cookie', width: 'w-32' },
        { field: 'test', label: 'Value' },
      ],
    ],
  },
  typed: ({ raw, text, isNegated }) => {
    const plain = isNegated ? text : raw;
    const found = /^(?:have |has |with )?(?:a |the )?cookie (?:named |called )?(?:"([^"]+)"|“([^”]+)”|([^\s=]+))\s*(.*)$/i.exec(plain);
    const name = found?.[1] ?? found?.[2] ?? found?.[3];
    const test = found && valueTyped((found[4] ?? '').replace(/^=(?=\S)/, '= '));
    if (name === undefined || !test || test.op === 'range' || test.op === 'daysAgo') return [];
    return [{ leaf: { kind: 'cookie', name, test: test as TextTest }, sureness: 3 }];
  },
  example: (fc) => fc.record({ kind: fc.constant('cookie' as const), name: fc.constant('seen'), test: textTestExample(fc) }),
};
