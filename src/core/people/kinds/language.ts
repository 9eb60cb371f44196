import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { languagesCalled } from '../../typing/worldNames';
import { called } from '../../typing/spoken';
import { listExample } from '../../testing/examples';
import type { PeopleKind } from '../kind';
import type { Subject } from '../subject';

export const languageSchema = () => z.strictObject({ kind: z.literal('language'), is: z.array(z.string().min(1).max(35)).min(1).max(100) });
export type Language = z.infer<ReturnType<typeof languageSchema>>;
export function languageHolds({ is }: Language, { visitor: { language } }: Subject): Truth {
  if (language === undefined) return null;
  const first = language.toLowerCase();
  return is.some((tag) => first === tag.toLowerCase() || first.startsWith(`${tag.toLowerCase()}-`));
}
export const languageWords = ({ is }: Language): string => `read ${is.join(' or ')}`;

export const languageKind: PeopleKind<Language, 'page'> = {
  kind: 'language',
  topic: 'comeFrom',
  schema: languageSchema,
  holds: languageHolds,
  words: languageWords,
  found: (_condition, { visitor }) => visitor.language ?? 'not recorded',
  judgedIn: 'page',
  isSupplied: true,
  counting: { by: 'record', of: () => 'attributes' },
  changes: {},
  reasoning: {},
  editor: {
    label: 'Reads a language',
    make: (recorded) => ({ kind: 'language', is: [recorded?.languages[0]?.value ?? 'en'] }),
    rows: [
      [
        { field: 'words', text: 'reads' },
        { field: 'list', key: 'is', label: 'Language', list: 'languages', width: 'w-40' },
        { field: 'note', text: '“de” is any German, “de-AT” the Austrian' },
      ],
    ],
  },
  typed: ({ text, pages, amounts }, { languages }) => {
    if (pages.length || amounts.length) return [];
    const explicit =
      /^(?:who |people |visitors? |their |whose )*(?:read(?:s|ing)?|speak(?:s|ing)?|language|lang|browser language)(?: is| in|:|=)? ?(.+)$/.exec(
        text,
      )?.[1];
    const inside =
      /^in ([a-z]+)(?: language)?$/.exec(text)?.[1] ??
      /^([a-z]+)(?:[ -](?:speakers?|speaking|readers?|language))(?: visitors?| people)?$/.exec(text)?.[1];
    const asked = (explicit ?? inside ?? text).split(/,| or /).map((one) => one.trim());
    const found = asked.map((one) => {
      const tag = /^[a-z]{2,3}(?:[-_][a-z0-9]{2,8})?$/.test(one) && explicit !== undefined ? tagOf(one) : undefined;
      const [recorded] = called(one, languages, ({ value }) => value).filter(({ sureness }) => sureness === 1);
      return languagesCalled(one) ?? recorded?.one.value ?? tag;
    });
    if (!found.every((one) => one !== undefined)) return [];
    return [{ leaf: { kind: 'language', is: [...new Set(found)] }, sureness: explicit !== undefined ? 3.1 : 2.9 }];
  },
  example: (fc) => fc.record({ kind: fc.constant('language' as const), is: listExample(fc, ['de', 'de-AT', 'it']) }),
};

/** "de-at" as tags are written. */
function tagOf(text: string): string {
  const [language = '', region] = text.split(/[-_]/);
  return region === undefined ? language : `${language}-${region.toUpperCase()}`;
}
