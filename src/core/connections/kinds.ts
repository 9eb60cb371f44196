// What kinds of connection there are, as the studio asks for them: what each needs to know, and which of it is secret.
import { z } from 'zod';

const url = z.url({ protocol: /^https?$/ }).max(2000);

export const CONNECTION_KINDS = ['hook', 'list', 'mail'] as const;
export type ConnectionKind = (typeof CONNECTION_KINDS)[number];

/** By kind what stands in the open. `allowPrivate`: the address may be in a private network, or on this machine. */
export const settingsSchemas = {
  hook: z.strictObject({ url, allowPrivate: z.boolean().optional() }),
  list: z.strictObject({ url, list: z.string().min(1).max(100), allowPrivate: z.boolean().optional() }),
  mail: z.strictObject({ to: z.email().max(320) }),
} as const;
export type SettingsOf<K extends ConnectionKind> = z.infer<(typeof settingsSchemas)[K]>;

/** What the studio says of a kind; `secret`: the words for what only its owner knows, none where there is nothing secret. */
export const KIND_WORDS: Readonly<
  Record<
    ConnectionKind,
    {
      readonly name: string;
      readonly does: string;
      readonly fields: readonly { readonly name: string; readonly label: string; readonly hint: string }[];
      readonly secret?: { readonly label: string; readonly hint: string };
    }
  >
> = {
  hook: {
    name: 'Web hook',
    does: 'posts each lead to an address of yours, signed by the Standard Webhooks scheme',
    fields: [{ name: 'url', label: 'Address', hint: 'https://www.example.org/leads' }],
    secret: { label: 'Signing key', hint: 'left empty, one is made; it is shown once' },
  },
  list: {
    name: 'Mail list',
    does: 'keeps each lead with an email as a member of a list',
    fields: [
      { name: 'url', label: 'Address of the service', hint: 'https://lists.example.org/v1' },
      { name: 'list', label: 'List', hint: 'hut-letters' },
    ],
    secret: { label: 'Key of the service', hint: 'never shown again' },
  },
  mail: {
    name: 'Mail',
    does: 'mails each lead to somebody',
    fields: [{ name: 'to', label: 'To', hint: 'warden@example.org' }],
  },
};

/** A connection to be made or saved: settings by its kind; the secret only where there is another one. */
export const connectionSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('hook'), settings: settingsSchemas.hook }),
  z.strictObject({ kind: z.literal('list'), settings: settingsSchemas.list }),
  z.strictObject({ kind: z.literal('mail'), settings: settingsSchemas.mail }),
]);
export type ConnectionBody = z.infer<typeof connectionSchema>;
