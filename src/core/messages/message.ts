import { z } from 'zod';

const text = (most: number) => z.string().max(most);

/** What a button does. Addresses are http(s) or start with a slash, so that no script can hide in one. */
export const buttonActionSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('close') }),
  z.strictObject({ kind: z.literal('page'), url: text(2000).regex(/^(https?:\/\/|\/(?!\/))/i) }),
]);

export const FIELD_TYPES = ['email', 'text'] as const;

export const blockSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('heading'), text: text(200) }),
  z.strictObject({ kind: z.literal('text'), text: text(2000) }),
  z.strictObject({
    kind: z.literal('form'),
    field: z.enum(FIELD_TYPES),
    label: text(200).min(1),
    submit: text(100).min(1),
    thanks: text(500).min(1),
  }),
  z.strictObject({ kind: z.literal('button'), label: text(100).min(1), action: buttonActionSchema }),
]);
export type Block = z.infer<typeof blockSchema>;

export const messageSchema = z.strictObject({
  format: z.enum(['popup', 'quiet']),
  /** Says what the message is to a screen reader where it has no heading. */
  label: text(200).optional(),
  blocks: z.array(blockSchema).max(30),
  colour: z
    .string()
    .regex(/^#[0-9a-f]{6}$/i)
    .optional(),
  closes: z.strictObject({ button: z.boolean(), dim: z.boolean(), escape: z.boolean() }),
});
export type Message = z.infer<typeof messageSchema>;
export type FormBlock = Extract<Block, { kind: 'form' }>;

/** How a message can be left by the visitor; empty means that it traps them. */
export function waysToClose({ blocks, closes }: Message): string[] {
  return [
    ...(closes.button ? ['button'] : []),
    ...(closes.dim ? ['dim'] : []),
    ...(closes.escape ? ['escape'] : []),
    ...(blocks.some((block) => block.kind === 'button') ? ['block'] : []),
  ];
}
