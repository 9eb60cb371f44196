// A field of a form.
import { z } from 'zod';
import { addressSchema, wordsUpTo } from './bounds';

export const FIELD_KINDS = ['text', 'email', 'phone', 'number', 'choice', 'choices', 'date', 'consent'] as const;

/** `name` is what the answer is kept under; `pattern` is a regular expression that the whole text must match. */
export const fieldSchema = () =>
  z
    .strictObject({
      kind: z.enum(FIELD_KINDS),
      name: z.string().regex(/^[a-z][a-z0-9_]{0,59}$/i),
      label: wordsUpTo(300),
      required: z.boolean().optional(),
      options: z.array(wordsUpTo(200)).min(1).max(30).optional(),
      pattern: wordsUpTo(200)
        .refine((source) => canParse(source), { error: 'pattern.unreadable' })
        .optional(),
      min: z.number().optional(),
      max: z.number().optional(),
      /** Of an email or a phone number: whether it can be written to, or rung, is asked of the collector before the form is sent. */
      checked: z.literal(true).optional(),
      /** Where a phone number without a country's code is from. */
      country: z
        .string()
        .regex(/^[A-Z]{2}$/)
        .optional(),
      /** What is said of one that is not good. */
      wrong: wordsUpTo(200).optional(),
      /** Of a consent: where what is agreed to can be read. */
      link: z.strictObject({ words: wordsUpTo(200), url: addressSchema() }).optional(),
    })
    .refine(({ kind, checked }) => !checked || kind === 'email' || kind === 'phone', { error: 'field.checked', path: ['checked'] })
    .refine(({ kind, link }) => !link || kind === 'consent', { error: 'field.link', path: ['link'] })
    .refine(({ kind, options }) => (kind === 'choice' || kind === 'choices') === (options !== undefined), {
      error: 'field.options',
      path: ['options'],
    })
    .refine(({ min, max }) => min === undefined || max === undefined || min <= max, { error: 'range.upsideDown', path: ['max'] });
export type Field = z.infer<ReturnType<typeof fieldSchema>>;

function canParse(source: string): boolean {
  try {
    return new RegExp(source, 'v') instanceof RegExp;
  } catch {
    return false;
  }
}
