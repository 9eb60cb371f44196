// What of a lead goes to a connection, and under which names.
import { z } from 'zod';

const name = z.string().trim().min(1).max(100);

/** `answers`: all of them, or these by their fields' names, under the name `as` where there is one. `campaign`: its name is a tag, too. */
export const mappingSchema = z.strictObject({
  email: z.boolean(),
  answers: z.union([z.literal('all'), z.array(z.strictObject({ answer: name, as: name.optional() })).max(50)]),
  tags: z.array(name).max(20),
  campaign: z.boolean(),
});
export type Mapping = z.infer<typeof mappingSchema>;

/** Without another one a lead goes with everything it has. */
export const EVERYTHING: Mapping = { email: true, answers: 'all', tags: [], campaign: true };

/** What is mapped of a lead. */
export interface Mappable {
  readonly email: string | null;
  readonly fields: Readonly<Record<string, unknown>>;
  readonly tags: readonly string[];
  readonly campaign: { readonly name: string | null };
}

export interface Mapped {
  readonly email: string | null;
  readonly fields: Readonly<Record<string, unknown>>;
  readonly tags: readonly string[];
}

/** An answer that the lead does not have is not there; of two under one name the later one is. */
export function mapLead({ email, fields, tags, campaign }: Mappable, mapping: Mapping = EVERYTHING): Mapped {
  const answers =
    mapping.answers === 'all'
      ? Object.entries(fields)
      : mapping.answers.flatMap(({ answer, as }) => (Object.hasOwn(fields, answer) ? [[as ?? answer, fields[answer]] as const] : []));
  const tagged = [...tags, ...mapping.tags, ...(mapping.campaign && campaign.name ? [campaign.name] : [])];
  return { email: mapping.email ? email : null, fields: Object.fromEntries(answers), tags: [...new Set(tagged)] };
}

const LIST = new Intl.ListFormat('en-GB');

/** As a sentence's end: "their email, the answer to “for whom” as “plan”, and tag “packing list”". */
export function mappingWords({ email, answers, tags, campaign }: Mapping): string {
  const parts = [
    ...(email ? ['their email'] : []),
    ...(answers === 'all'
      ? ['all answers']
      : answers.map(({ answer, as }) => `the answer to “${answer}”${as && as !== answer ? ` as “${as}”` : ''}`)),
    ...tags.map((tag) => `tag “${tag}”`),
    ...(campaign ? ['the campaign’s name as a tag'] : []),
  ];
  return parts.length > 0 ? LIST.format(parts) : 'nothing';
}
