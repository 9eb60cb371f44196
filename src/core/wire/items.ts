// What the page script sends to the collector. The page imports types only; the schemas run on the server.
import { z } from 'zod';
import { isOneAddress } from '../people/email';
import { factShape } from '../facts/facts';
import { LONGEST_LINE } from '../conversations/line';
import { DISMISSALS, OUTCOMES } from '../history/visitor';
import type { Release } from '../release/release';
import type { PackedSignal } from './pack';
import { unpackSignals } from './pack';
import { DAY_MS } from '../time/day';

const uuid = () => z.string().regex(/^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/);
/** ms since 1970 by the browser's clock, which may be off by years: the collector sets it right. Up to where dates end. */
const instant = () => z.number().min(0).max(8.64e15);
/** The most that the database counts in: a tab that has been open for longer is taken to have been open for so long. */
const MOST_MS = 2 ** 31 - 1;
const ms = () =>
  z
    .number()
    .min(0)
    .max(400 * DAY_MS)
    .transform((value) => Math.min(value, MOST_MS));
const plainValue = () => z.union([z.string().max(2000), z.number(), z.boolean(), z.null()]);
const values = () =>
  z.record(z.string().min(1).max(200), plainValue()).refine((record) => Object.keys(record).length <= 50, { error: 'values.tooMany' });
const where = { view: uuid(), visit: uuid() };

export const openItemSchema = z.strictObject({
  kind: z.literal('open'),
  ...where,
  at: instant(),
  visitAt: instant(),
  url: z.string().max(4000),
  title: z.string().max(500).optional(),
  labels: z.array(z.string().max(200)).max(50).optional(),
  referrer: z.string().max(4000),
  ...factShape('open'),
  touchPoints: z.int().min(0).max(256).optional(),
  hidden: z.boolean().optional(),
});

export const signalSchema = z.discriminatedUnion('s', [
  z.strictObject({ t: ms(), s: z.literal('scroll'), depth: z.number().min(0).max(100) }),
  z.strictObject({
    t: ms(),
    s: z.literal('click'),
    on: z.array(z.string().max(500)).max(50).readonly(),
    what: z.string().max(200).optional(),
  }),
  z.strictObject({ t: ms(), s: z.literal('input') }),
  z.strictObject({ t: ms(), s: z.literal('exit') }),
  z.strictObject({
    t: ms(),
    s: z.literal('seen'),
    selector: z.string().max(500),
    share: z.number().min(0).max(100),
    top: z.boolean().optional(),
  }),
  z.strictObject({ t: ms(), s: z.literal('event'), name: z.string().min(1).max(200), props: values().readonly().optional() }),
  z.strictObject({ t: ms(), s: z.literal('hide') }),
  z.strictObject({ t: ms(), s: z.literal('show') }),
  z.strictObject({ t: ms(), s: z.literal('whole') }),
]);

export const pieceItemSchema = z.strictObject({
  kind: z.literal('piece'),
  view: uuid(),
  piece: z.int().min(0).max(100_000),
  /** Packed on the wire; see `packSignals`. */
  signals: z.preprocess(unpackSignals, z.array(signalSchema).max(2000).readonly()),
  engaged: ms(),
  scroll: z.number().min(0).max(100),
  leave: ms(),
  cannotScroll: z.boolean().optional(),
  ...factShape('piece'),
  title: z.string().max(500).optional(),
  labels: z.array(z.string().max(200)).max(50).optional(),
  watched: z.array(z.string().max(500)).max(500).optional(),
});

export const showingItemSchema = z.strictObject({
  kind: z.literal('showing'),
  ...where,
  id: uuid(),
  campaign: z.string().min(1).max(100),
  release: z.int().min(1).max(MOST_MS),
  at: instant(),
  /** False for the holdout: triggered, and nothing to see. */
  shown: z.boolean(),
  variant: z.string().min(1).max(100).optional(),
  /** The visitor or the page asked for it: not paced, and no part of the results of the rule. */
  opened: z.boolean().optional(),
  /** It stands between the page's own elements: `sight` tells when it comes into sight. */
  unseen: z.boolean().optional(),
});

/** A message that stands between the page's own elements has come into sight: half of it, or of the window. */
export const sightItemSchema = z.strictObject({ kind: z.literal('sight'), showing: uuid() });

export const outcomeItemSchema = z.strictObject({
  kind: z.literal('outcome'),
  showing: uuid(),
  outcome: z.enum(OUTCOMES),
  at: instant(),
  how: z.enum(DISMISSALS).optional(),
});

/** Another of the flow's messages is seen: the first is told by the showing itself. */
export const stepItemSchema = z.strictObject({
  kind: z.literal('step'),
  showing: uuid(),
  message: z.string().min(1).max(100),
  at: instant(),
});

export const eventItemSchema = z.strictObject({
  kind: z.literal('event'),
  ...where,
  id: uuid(),
  at: instant(),
  name: z.string().min(1).max(200),
  props: values(),
});

export const personItemSchema = z.strictObject({
  kind: z.literal('person'),
  id: uuid(),
  at: instant(),
  customerId: z.string().min(1).max(200).optional(),
  email: z.string().min(3).max(320).refine(isOneAddress, 'email.one').optional(),
  traits: values().optional(),
  /** By the site's own server; see `signedText`. */
  signature: z.string().max(200).optional(),
});

/** A tag or points given to the visitor. */
export const markItemSchema = z.strictObject({
  kind: z.literal('mark'),
  id: uuid(),
  at: instant(),
  tag: z.string().min(1).max(200).optional(),
  score: z.number().min(-1e6).max(1e6).optional(),
});

/** Something of ours went wrong in a page. */
export const faultItemSchema = z.strictObject({
  kind: z.literal('fault'),
  id: uuid(),
  at: instant(),
  entry: z.string().min(1).max(200),
  message: z.string().max(300),
});

export const formItemSchema = z.strictObject({
  kind: z.literal('form'),
  ...where,
  id: uuid(),
  showing: uuid(),
  campaign: z.string().min(1).max(100),
  at: instant(),
  url: z.string().max(4000),
  email: z.string().min(3).max(320).optional(),
  fields: values(),
});

/** A line of a conversation with the team: the script's own, the visitor's answer to it (`answers`), or what the visitor writes to a person. */
export const lineItemSchema = z.strictObject({
  kind: z.literal('line'),
  ...where,
  id: uuid(),
  thread: uuid(),
  showing: uuid(),
  campaign: z.string().min(1).max(100),
  at: instant(),
  by: z.enum(['script', 'visitor']),
  text: z.string().min(1).max(LONGEST_LINE),
  answers: z.boolean().optional(),
  /** What it shows: a picture that was sent before, by its id. */
  picture: uuid().optional(),
});

/** What the visitor has seen of a conversation. */
export const readItemSchema = z.strictObject({ kind: z.literal('read'), thread: uuid(), seq: z.int().min(0).max(1_000_000) });

/** Where the visitor wants a copy of a conversation that is closed. */
export const copyItemSchema = z.strictObject({ kind: z.literal('copy'), thread: uuid(), email: z.string().min(3).max(320) });

/** The visitor has taken back that they may be recorded: the last that their browser says. */
export const deniedItemSchema = z.strictObject({ kind: z.literal('denied') });

/** Everything that a page sends, by its kind. */
export const ITEM_SCHEMAS = {
  open: openItemSchema,
  piece: pieceItemSchema,
  showing: showingItemSchema,
  outcome: outcomeItemSchema,
  step: stepItemSchema,
  sight: sightItemSchema,
  event: eventItemSchema,
  person: personItemSchema,
  mark: markItemSchema,
  fault: faultItemSchema,
  form: formItemSchema,
  line: lineItemSchema,
  read: readItemSchema,
  copy: copyItemSchema,
  denied: deniedItemSchema,
} as const;
type ItemSchemas = typeof ITEM_SCHEMAS;
// Each stands under its own kind.
ITEM_SCHEMAS satisfies { readonly [K in keyof ItemSchemas]: z.ZodType<{ kind: K }> };

export const itemSchema = z.discriminatedUnion(
  'kind',
  Object.values(ITEM_SCHEMAS) as [ItemSchemas['open'], ...ItemSchemas[keyof ItemSchemas][]],
);
export type Item = z.infer<typeof itemSchema>;
export type OpenItem = z.infer<typeof openItemSchema>;
export type EventItem = Extract<Item, { kind: 'event' }>;
export type PieceItem = z.infer<typeof pieceItemSchema>;
/** A piece as it goes over the wire. */
export type SentPiece = Omit<PieceItem, 'signals'> & { readonly signals: readonly PackedSignal[] };
/** Items as a page sends them. */
/** Keys that are left out of JSON may be there as undefined. */
export type Loose<T> = T extends unknown ? { [K in keyof T]: undefined extends T[K] ? T[K] | undefined : T[K] } : never;
export type SentItem = Exclude<Item, PieceItem> | SentPiece;
type WithoutTime<T> = T extends unknown ? Omit<T, 't'> : never;
/** A signal as the page reports it, before its time is put on. */
export type SentSignal = WithoutTime<PieceItem['signals'][number]>;

/** Items are checked one by one, so that a bad one does not take its neighbours with it. */
export const batchSchema = z.strictObject({
  key: z.string().min(1).max(60),
  browser: uuid(),
  /** The browser's clock when sending, UTC ms. */
  now: instant(),
  /** True where the visitor has agreed in so many words. */
  consent: z.boolean().optional(),
  /** The release that the page has got already, by its hash. */
  has: z.string().max(100).optional(),
  items: z.array(z.unknown()).max(500),
});

export type ItemAnswer = { readonly ok: true } | { readonly ok: false; readonly code: string; readonly message: string };

/** What the page decides in after anything that can change what it knows of its visitor. */
export interface DecisionContext {
  readonly release: { readonly number: number; readonly hash: string } | null;
  readonly facts: readonly (boolean | null)[];
  readonly pacing: {
    readonly campaigns: Readonly<Record<string, { lastAt?: number; shown: number; dismissed: number; converted: number }>>;
    readonly lastAt?: number;
  };
  /** The release itself, where the page has not got it and it is short; otherwise it is at `/r/SITE/HASH`. */
  readonly document?: Release;
  /** Values of the visitor that messages of the release put in. */
  readonly values?: Readonly<Record<string, string>>;
}

export interface BatchAnswer {
  readonly items: readonly ItemAnswer[];
  readonly context?: DecisionContext;
  /** The hash of the release that is live; null where there is none. */
  readonly release?: string | null;
  /** The server's clock, UTC ms. */
  readonly now: number;
}
