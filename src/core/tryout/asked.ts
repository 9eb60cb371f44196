// What the dock of a try-out asks of the collector. The page imports types only; the schemas run on the server.
import { z } from 'zod';
import type { CampaignStatus } from '../campaigns/campaign';
import { factShape, pretendShape } from '../facts/facts';
import { CHANNELS, OUTCOMES, WEATHERS } from '../history/visitor';
import type { Device, Location, Weather } from '../history/visitor';
import type { Truth } from '../logic/truth';
import type { Release } from '../release/release';
import type { Family, Phrase } from '../rules/describe';
import type { Explanation } from '../rules/explain';
import { signalSchema } from '../wire/items';

const instant = () => z.number().min(0).max(8.64e15);
const ms = () => z.number().min(0).max(4e10);
const short = () => z.string().max(200);
const name = () => z.string().min(1).max(200);
const plainValue = () => z.union([z.string().max(2000), z.number(), z.boolean(), z.null()]);
const values = () =>
  z.record(z.string().min(1).max(200), plainValue()).refine((record) => Object.keys(record).length <= 200, { error: 'values.tooMany' });
const id = () => z.string().min(1).max(100);

/** What the visitor of a try-out is taken to be, over what they do and what is found. What is left out is as it is. */
export const pretendSchema = z.strictObject({
  /** The number of a recorded visitor, whose history it goes on from. */
  visitor: z
    .int()
    .min(1)
    .max(2 ** 31 - 1)
    .optional(),
  place: z
    .strictObject({
      country: z.string().regex(/^[A-Z]{2}$/),
      region: short().optional(),
      city: short().optional(),
      lat: z.number().min(-90).max(90).optional(),
      lon: z.number().min(-180).max(180).optional(),
    })
    .optional(),
  weather: z.strictObject({ is: z.enum(WEATHERS).optional(), celsius: z.number().min(-90).max(70).optional() }).optional(),
  source: z
    .strictObject({
      channel: z.enum(CHANNELS),
      referrer: short().optional(),
      utm: z.strictObject({
        source: short().optional(),
        medium: short().optional(),
        campaign: short().optional(),
        term: short().optional(),
        content: short().optional(),
      }),
    })
    .optional(),
  known: z.boolean().optional(),
  traits: values().optional(),
  tags: z.array(name()).max(200).optional(),
  score: z.number().min(-1e6).max(1e6).optional(),
  /** In a segment or not, whatever it asks for. */
  segments: z.record(id(), z.boolean()).optional(),
  responses: z
    .array(z.strictObject({ campaign: id(), outcome: z.enum(OUTCOMES), daysAgo: z.number().min(0).max(540) }))
    .max(200)
    .optional(),
  staffed: z.boolean().optional(),
  ...pretendShape(),
  /** Which form of a campaign is shown: a variant's name. */
  variants: z.record(id(), name()).optional(),
  /** Campaigns that take part though the next release would leave them out, or the other way round. */
  takes: z.record(id(), z.boolean()).optional(),
});
export type Pretend = z.infer<typeof pretendSchema>;

const pageSchema = { url: z.string().max(4000), title: z.string().max(500).optional(), labels: z.array(short()).max(50).optional() };

/** What was done in the try-out so far, oldest first; the last view is the page it is at. */
export const triedSchema = z.strictObject({
  visits: z
    .array(
      z.strictObject({
        at: instant(),
        referrer: z.string().max(4000),
        views: z
          .array(z.strictObject({ ...pageSchema, at: instant(), engaged: z.number().min(0), scroll: z.number().min(0).max(100) }))
          .max(500),
        events: z.array(z.strictObject({ at: instant(), name: name(), props: values() })).max(500),
      }),
    )
    .min(1)
    .max(100),
  known: z.boolean(),
  traits: values(),
  tags: z.array(name()).max(500),
  score: z.number(),
  responses: z.array(z.strictObject({ campaign: id(), outcome: z.enum(OUTCOMES), at: instant() })).max(2000),
});
export type Tried = z.infer<typeof triedSchema>;

const pacingSchema = z.strictObject({
  campaigns: z.record(
    id(),
    z.strictObject({ lastAt: instant().optional(), shown: z.int().min(0), dismissed: z.int().min(0), converted: z.int().min(0) }),
  ),
  lastAt: instant().optional(),
  visit: z.strictObject({ startedAt: instant(), showings: z.int().min(0), campaigns: z.array(id()).max(1000) }),
});

const of = { key: z.string().min(1).max(60), token: z.string().min(1).max(100) };

export const judgeSchema = z.strictObject({
  kind: z.literal('judge'),
  ...of,
  /** By the clock of the try-out, UTC ms. */
  now: instant(),
  tried: triedSchema,
  /** The page view under way: when it opened, how long the visit had lasted, been engaged and clicked by then, and what has happened in it. */
  course: z.strictObject({
    opened: instant(),
    hidden: z.boolean(),
    lasted: ms(),
    engaged: ms(),
    clicks: z.int().min(0),
    signals: z.array(signalSchema).max(5000),
    /** ms since the page opened. */
    t: ms(),
  }),
  pacing: pacingSchema,
  /** Places that messages hold. */
  held: z.array(short()).max(20),
  knows: z.strictObject(factShape('open', 'piece', 'page')),
  pretend: pretendSchema,
  /** The campaign whose rule is looked at. */
  chosen: id().optional(),
  /** The hash of what is to be shown, where the page has it already. */
  has: z.string().max(100).optional(),
});
export type Judge = z.infer<typeof judgeSchema>;

export const CHOICES = ['towns', 'visitors', 'sources', 'segments', 'campaigns', 'events', 'tags', 'traits', 'languages'] as const;

/** What was pointed at, as the field that waits for it takes it. */
export const pointedSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('page'), op: z.enum(['is', 'like']), value: z.string().min(1).max(2000) }),
  z.strictObject({ kind: z.literal('element'), selector: z.string().min(1).max(500) }),
]);
export type Pointed = z.infer<typeof pointedSchema>;

export const tryRequestSchema = z.discriminatedUnion('kind', [
  /** What the address said is good once: it is changed for a token that nobody else has seen. */
  z.strictObject({ kind: z.literal('begin'), key: of.key, ticket: z.string().min(1).max(100) }),
  judgeSchema,
  z.strictObject({ kind: z.literal('choices'), ...of, of: z.enum(CHOICES), said: short() }),
  z.strictObject({ kind: z.literal('leave'), ...of }),
  /** How often what could be picked is on record. */
  z.strictObject({ kind: z.literal('recorded'), ...of, could: z.array(pointedSchema).max(20) }),
  z.strictObject({ kind: z.literal('pointed'), ...of, picked: pointedSchema }),
  /** The browser itself, as it is recorded outside of try-outs. */
  z.strictObject({ kind: z.literal('ours'), ...of, browser: z.string().regex(/^[0-9a-f-]{36}$/), is: z.boolean().optional() }),
]);

export interface JudgedCampaign {
  readonly id: string;
  readonly name: string;
  readonly status: CampaignStatus;
  /** Part of what is tried: the next release has it, or it was asked for. */
  readonly takes: boolean;
  readonly value: Truth;
  /** The first cause of its silence. */
  readonly cause?: { readonly family: Family; readonly part: string; readonly asked: string; readonly found: string } | undefined;
}

export interface Chosen {
  readonly id: string;
  readonly phrases: readonly Phrase[];
  readonly explanation: Explanation;
  readonly variants: readonly string[];
}

/** What a try-out decides in, and why. */
export interface Judged {
  readonly release: { readonly number: number; readonly hash: string };
  readonly document?: Release;
  readonly facts: readonly Truth[];
  readonly values: Readonly<Record<string, string>>;
  /** When something of what is tried was last changed, UTC ms. */
  readonly draftAt: number;
  readonly campaigns: readonly JudgedCampaign[];
  readonly chosen?: Chosen | undefined;
  /** As found, where nothing else is pretended. */
  readonly found: { readonly place?: Location | undefined; readonly weather?: Weather | undefined; readonly device?: Device | undefined };
  /** Names of cookies that rules ask for. */
  readonly cookies: readonly string[];
}

/** Page views of the last thirty days; of an element undefined where nobody looked for it or clicked on it. */
export interface OnRecord {
  readonly views?: number | undefined;
  readonly pages?: number | undefined;
}

/** One thing to pick; `does` is put over what is pretended. */
export interface Choice {
  readonly label: string;
  readonly hint?: string | undefined;
  readonly value: unknown;
}
