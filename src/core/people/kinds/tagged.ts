import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { quoted } from '../../logic/valueTest';
import { called, spoken } from '../../typing/spoken';
import type { PeopleKind } from '../kind';
import type { Subject } from '../subject';

export const taggedSchema = () => z.strictObject({ kind: z.literal('tagged'), tag: z.string().min(1).max(200) });
export type Tagged = z.infer<ReturnType<typeof taggedSchema>>;
export const taggedHolds = ({ tag }: Tagged, { visitor }: Subject): Truth => visitor.tags.includes(tag);
export const taggedWords = ({ tag }: Tagged): string => `carry the tag ${quoted(tag)}`;

export const taggedKind: PeopleKind<Tagged, 'server'> = {
  kind: 'tagged',
  topic: 'are',
  schema: taggedSchema,
  holds: taggedHolds,
  words: taggedWords,
  found: (_condition, { visitor }) => (visitor.tags.length ? visitor.tags.join(', ') : 'no tags'),
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'profile', looksAt: ({ tag }, entry) => entry.kind === 'tag' && entry.key === tag },
  changes: { profile: true },
  reasoning: {},
  editor: {
    label: 'Carries a tag',
    make: (recorded) => ({ kind: 'tagged', tag: recorded?.tags[0]?.value ?? '' }),
    rows: [
      [
        { field: 'words', text: 'carries the tag' },
        { field: 'text', key: 'tag', label: 'Tag', list: 'tags' },
      ],
    ],
  },
  typed: (said, { tags }) => {
    const heard = spoken(said, {
      says: ['tag', 'tagged', 'tags', 'carry the tag', 'carries the tag', 'tagged as', 'tagged with', 'labelled'],
      also: ['as', 'with'],
      quoted: true,
      name: true,
      assignments: true,
    });
    const [quotedTag] = said.quoted;
    const [assigned] = said.assignments;
    const named = heard && (quotedTag ?? (heard.name || undefined));
    if (!heard && assigned?.key === 'tag' && assigned.op === '=') return [{ leaf: { kind: 'tagged', tag: assigned.value }, sureness: 3 }];
    if (named !== undefined) {
      const met = called(named, tags, ({ value }) => value);
      const [exact] = met.filter(({ sureness }) => sureness === 1);
      if (exact) return [{ leaf: { kind: 'tagged', tag: exact.one.value }, sureness: 3 }];
      return [
        { leaf: { kind: 'tagged', tag: quotedTag ?? asWritten(said.raw, named) }, sureness: 2.5 },
        ...met.map(({ one }) => ({ leaf: { kind: 'tagged' as const, tag: one.value }, sureness: 2 })),
      ];
    }
    return called(said.text, tags, ({ value }) => value).map(({ one, sureness }) => ({
      leaf: { kind: 'tagged', tag: one.value },
      sureness,
    }));
  },
  example: (fc) => fc.record({ kind: fc.constant('tagged' as const), tag: fc.constantFrom('family', 'skier') }),
};

/** A name in the letters in which it was typed. */
function asWritten(raw: string, name: string): string {
  const at = raw.toLowerCase().lastIndexOf(name);
  return at < 0 ? name : raw.slice(at, at + name.length);
}
