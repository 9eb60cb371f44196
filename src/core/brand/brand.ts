// What all messages of a site have in common: how they look where they say nothing else, who writes them, and texts that are changed in one place.
import { z } from 'zod';
import type { Flow } from '../flows/flow';
import { addressSchema, cornersSchema, familySchema, hexSchema, textUpTo, wordsUpTo } from '../messages/bounds';
import { keyOf } from '../messages/merge';
import type { Message } from '../messages/message';
import { namedIn, withSiteValues } from './siteValues';

const pictureSchema = () =>
  z.strictObject({ src: addressSchema(), width: z.int().min(1).max(4000), height: z.int().min(1).max(4000), alt: textUpTo(300) });

const senderSchema = () => z.strictObject({ name: wordsUpTo(80), role: textUpTo(80).optional(), picture: addressSchema().optional() });
export type Sender = z.infer<ReturnType<typeof senderSchema>>;

/** No braces, commas or line ends in a name, so that it can be named in a text; none in what it stands for, so that nothing is put in twice. */
const valueSchema = () =>
  z.strictObject({
    name: z
      .string()
      .max(60)
      .regex(/^[^{},\n]*[^\s{},_-][^{},\n]*$/),
    text: z
      .string()
      .min(1)
      .max(500)
      .regex(/^[^{}]*$/),
  });
export type SiteValue = z.infer<ReturnType<typeof valueSchema>>;

export const brandSchema = () =>
  z
    .strictObject({
      /** Of buttons, tabs and marks. */
      colour: hexSchema().optional(),
      corners: cornersSchema().optional(),
      /** A font that the site's own pages bring, by its name; the system's without one. */
      font: familySchema().optional(),
      logo: pictureSchema().optional(),
      senders: z.array(senderSchema()).max(30).optional(),
      values: z.array(valueSchema()).max(200).optional(),
    })
    .refine(({ values = [] }) => new Set(values.map(({ name }) => keyOf(name))).size === values.length, {
      error: 'brand.sameName',
      path: ['values'],
    });
export type Brand = z.infer<ReturnType<typeof brandSchema>>;

/** A message in the site's looks, with the site's values put in; what it says of itself goes before. */
export function branded<M extends Message>(message: M, brand: Brand): M {
  const { colour, corners, font } = brand;
  const looks = { ...(colour ? { colour } : {}), ...(corners === undefined ? {} : { corners }), ...(font ? { font } : {}) };
  return withSiteValues({ ...looks, ...message }, textsOf(brand));
}

export const brandedFlow = (flow: Flow, brand: Brand): Flow => ({
  ...flow,
  messages: flow.messages.map((message) => branded(message, brand)),
});

const textsOf = ({ values = [] }: Brand): ReadonlyMap<string, string> => new Map(values.map(({ name, text }) => [keyOf(name), text]));

/** Values of the site that a document names and that are not there, as they are named; without a fallback they would be an empty place. */
export function missingValues(document: unknown, brand: Brand): string[] {
  const there = textsOf(brand);
  const missing = [...namedIn(document)].filter(({ key, hasFallback }) => !hasFallback && !there.has(key));
  return [...new Set(missing.map(({ name }) => `site ${name}`))].sort();
}
