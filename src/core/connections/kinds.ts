// What kinds of connection there are, as the studio asks for them: what each needs to know, which of it is secret, and what it is there for.
import { z } from 'zod';

const url = z.url({ protocol: /^https?$/ }).max(2000);
const allowPrivate = z.boolean().optional();

export const CONNECTION_KINDS = ['hook', 'list', 'audience', 'mail', 'weather', 'location'] as const;
export type ConnectionKind = (typeof CONNECTION_KINDS)[number];

/** What a web hook can be told besides leads and the joining and leaving of segments. */
export const TOLD = ['conversion', 'conversation', 'release'] as const;
export type Told = (typeof TOLD)[number];
export const TOLD_WORDS: Readonly<Record<Told, string>> = {
  conversion: 'conversions',
  conversation: 'conversations begun',
  release: 'releases published',
};

/** By kind what stands in the open. `allowPrivate`: the address may be in a private network, or on this machine. */
export const settingsSchemas = {
  hook: z.strictObject({ url, allowPrivate, tells: z.array(z.enum(TOLD)).max(TOLD.length).optional() }),
  list: z.strictObject({ url, list: z.string().min(1).max(100), allowPrivate }),
  audience: z.strictObject({ url, audience: z.string().min(1).max(100), allowPrivate }),
  mail: z.strictObject({ to: z.email().max(320) }),
  weather: z.strictObject({ url, allowPrivate }),
  location: z.strictObject({ url, allowPrivate }),
} as const satisfies Record<ConnectionKind, z.ZodType>;
export type SettingsOf<K extends ConnectionKind> = z.infer<(typeof settingsSchemas)[K]>;

/** `asked`: nothing is sent to it; it is asked about visitors. */
export type Takes = 'leads' | 'segments' | 'asked';

/** What the studio says of a kind; `secret`: the words for what only its owner knows, none where there is nothing secret. */
export const KIND_WORDS: Readonly<
  Record<
    ConnectionKind,
    {
      readonly name: string;
      readonly does: string;
      readonly takes: readonly Takes[];
      readonly fields: readonly { readonly name: string; readonly label: string; readonly hint: string }[];
      readonly secret?: { readonly label: string; readonly hint: string; readonly isNeeded: boolean };
      /** Its address is the owner's to say, so it may be in a private network. */
      readonly hasAddress: boolean;
    }
  >
> = {
  hook: {
    name: 'Web hook',
    does: 'posts to an address of yours, signed by the Standard Webhooks scheme',
    takes: ['leads', 'segments'],
    fields: [{ name: 'url', label: 'Address', hint: 'https://www.example.org/leads' }],
    secret: { label: 'Signing key', hint: 'left empty, one is made; it is shown once', isNeeded: false },
    hasAddress: true,
  },
  list: {
    name: 'Mail list',
    does: 'keeps people with an email as members of a list',
    takes: ['leads', 'segments'],
    fields: [
      { name: 'url', label: 'Address of the service', hint: 'https://lists.example.org/v1' },
      { name: 'list', label: 'List', hint: 'hut-letters' },
    ],
    secret: { label: 'Key of the service', hint: 'never shown again', isNeeded: true },
    hasAddress: true,
  },
  audience: {
    name: 'Ad audience',
    does: 'keeps people in an audience by the SHA-256 of their email; the email itself stays here',
    takes: ['leads', 'segments'],
    fields: [
      { name: 'url', label: 'Address of the service', hint: 'https://ads.example.org/v1' },
      { name: 'audience', label: 'Audience', hint: 'ridge-walkers' },
    ],
    secret: { label: 'Key of the service', hint: 'never shown again', isNeeded: true },
    hasAddress: true,
  },
  mail: {
    name: 'Mail',
    does: 'mails each lead to somebody',
    takes: ['leads'],
    fields: [{ name: 'to', label: 'To', hint: 'warden@example.org' }],
    hasAddress: false,
  },
  weather: {
    name: 'Weather',
    does: 'is asked for the weather where a visitor is',
    takes: ['asked'],
    fields: [{ name: 'url', label: 'Address of the service', hint: 'https://weather.example.org/' }],
    hasAddress: true,
  },
  location: {
    name: 'Location',
    does: 'is asked where a network address is, before the table that comes along',
    takes: ['asked'],
    fields: [{ name: 'url', label: 'Address of the service', hint: 'https://locations.example.org/' }],
    hasAddress: true,
  },
};

export const kindTakes = (kind: ConnectionKind, what: Takes): boolean => KIND_WORDS[kind].takes.includes(what);

/** A connection to be made or saved: settings by its kind; the secret only where there is another one. */
export type ConnectionBody = { [K in ConnectionKind]: { readonly kind: K; readonly settings: SettingsOf<K> } }[ConnectionKind];
