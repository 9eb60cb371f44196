// What the studio's API takes, apart from whole rules, segments and campaigns: checked at the edge, and published in docs/openapi.json.
import { z } from 'zod';
import { ROLES } from '../db/members';
import type { Job } from '../db/failedTasks';
import { JOBS } from '../db/failedTasks';
import { FOUND_BY } from '../privacy/find';
import { brandSchema } from '@/core/brand/brand';
import { idSchema } from '@/core/messages/bounds';
import { answeringSchema } from '@/core/conversations/answering';
import { hoursSchema } from '@/core/conversations/hours';
import { LONGEST_LINE } from '@/core/conversations/line';
import { settingsSchemas } from '@/core/connections/kinds';
import { mappingSchema } from '@/core/connections/mapping';
import { CAMPAIGN_STATUSES, siteGoalSchema } from '@/core/campaigns/campaign';
import { placeShapeSchema } from '@/core/geo/place';
import { budgetSchema } from '@/core/pacing/pacing';
import type { Placement } from '@/core/pacing/placement';
import { plainPatternSchema } from '@/core/pages/pattern';
import { peopleConditionSchema } from '@/core/people/condition';
import { DIMENSIONS } from '@/core/results/report';
import { nameSchema, ruleSchema, segmentSchema } from '@/core/rules/schema';
import { EDITED_KINDS } from '../db/trash';
import { isZone } from '@/core/time/localTime';

const rehearsedDays = z.union([z.literal(7), z.literal(30), z.literal(90)]);

export const newPlaceSchema = z.strictObject({ name: nameSchema, shape: placeShapeSchema });

export const placeCountSchema = z.strictObject({ shape: placeShapeSchema });

export const changedPlaceSchema = z.strictObject({ name: nameSchema, shape: placeShapeSchema, revision: z.int().min(1) });

const idField = z.string().min(1).max(100);
const patternsSchema = z.array(plainPatternSchema()).max(200);
export const pageSetSchema = z.strictObject({ name: nameSchema, patterns: patternsSchema });

export const goalToSaveSchema = z.strictObject({ name: nameSchema, goal: siteGoalSchema });
export const changedGoalSchema = goalToSaveSchema.extend({ revision: z.int().min(1) });
export const reachedSchema = z.strictObject({ goal: siteGoalSchema, zone: z.string().max(80).refine(isZone, 'calendar.zone') });
/** The week’s results by mail, on Mondays of that zone. */
export const weeklySchema = z.strictObject({ wants: z.boolean(), zone: z.string().max(80).refine(isZone, 'calendar.zone') });

/** What the team says of a lead; what is left out stays. */
export const leadNotesSchema = z.strictObject({
  tags: z.array(z.string().trim().min(1).max(100)).max(50).optional(),
  note: z.string().max(10_000).optional(),
});
const leadIds = z.array(z.uuid()).min(1).max(1000);
/** Several leads at once: another tag for each, or erased for good. */
export const leadsSchema = z.discriminatedUnion('does', [
  z.strictObject({ does: z.literal('tag'), ids: leadIds, tag: z.string().trim().min(1).max(100) }),
  z.strictObject({ does: z.literal('erase'), ids: leadIds }),
]);

const named = { name: nameSchema };
/** A connection to be made: settings by its kind, and its secret, which is never given back. */
const given = z.string().min(1).max(500);
const secret = given.optional();
export const newConnectionSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('hook'), settings: settingsSchemas.hook, secret, ...named }),
  z.strictObject({ kind: z.literal('list'), settings: settingsSchemas.list, secret: given, ...named }),
  z.strictObject({ kind: z.literal('audience'), settings: settingsSchemas.audience, secret: given, ...named }),
  z.strictObject({ kind: z.literal('mail'), settings: settingsSchemas.mail, ...named }),
  z.strictObject({ kind: z.literal('weather'), settings: settingsSchemas.weather, ...named }),
  z.strictObject({ kind: z.literal('location'), settings: settingsSchemas.location, ...named }),
]);
/** The same changed; without a secret the one there is stays. */
const revised = { ...named, revision: z.int().min(1), secret };
export const changedConnectionSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('hook'), settings: settingsSchemas.hook, ...revised }),
  z.strictObject({ kind: z.literal('list'), settings: settingsSchemas.list, ...revised }),
  z.strictObject({ kind: z.literal('audience'), settings: settingsSchemas.audience, ...revised }),
  z.strictObject({ kind: z.literal('mail'), settings: settingsSchemas.mail, ...revised }),
  z.strictObject({ kind: z.literal('weather'), settings: settingsSchemas.weather, ...revised }),
  z.strictObject({ kind: z.literal('location'), settings: settingsSchemas.location, ...revised }),
]);
/** Which connections a campaign's leads go to, and what of them; null: everything. */
export const sendsSchema = z.strictObject({
  connections: z.array(z.strictObject({ id: idField, mapping: mappingSchema.nullable() })).max(20),
});
/** What would be sent of the campaign's last lead; with `send` it really is. */
export const tryMappingSchema = z.strictObject({ connection: idField, mapping: mappingSchema.nullable(), send: z.boolean() });
/** A connection keeps a segment in step, or no longer. */
export const keptSchema = z.strictObject({ connection: idField, is: z.boolean() });
/** What waits or has failed for a connection is sent again: one, or all of it. */
export const sendAgainSchema = z.strictObject({ connection: idField, delivery: z.uuid().optional() });

const lineText = z.string().trim().min(1).max(LONGEST_LINE);
/** What a member of the team does in a conversation. `id`: made where a line was written; sent again it is once. */
export const inThreadSchema = z.discriminatedUnion('does', [
  z.strictObject({ does: z.literal('answer'), id: z.uuid(), text: lineText, picture: z.uuid().optional() }),
  z.strictObject({ does: z.literal('writing') }),
  z.strictObject({ does: z.literal('note'), id: z.uuid(), text: lineText }),
  z.strictObject({ does: z.literal('give'), member: z.int().min(1) }),
  z.strictObject({ does: z.literal('close') }),
  z.strictObject({ does: z.literal('open') }),
  z.strictObject({ does: z.literal('tag'), tags: z.array(z.string().trim().min(1).max(100)).max(50) }),
]);
export const savedAnswerSchema = z.strictObject({ name: z.string().trim().min(1).max(100), text: lineText });
const somebody = { by: z.enum(FOUND_BY), value: z.string().trim().min(1).max(320) };
const visitorNumber = z
  .int()
  .min(1)
  .max(2 ** 31 - 1);
/** `claims`: the browsers that are taken for theirs though no signature says so; without it those that say to be nobody else. */
export const erasureSchema = z.strictObject({ ...somebody, claims: z.array(visitorNumber).max(200).optional() });
/** The same in an address: numbers with commas between. */
export const personSchema = z.strictObject({
  ...somebody,
  claims: z
    .string()
    .max(3000)
    .regex(/^(\d{1,10}(,\d{1,10})*)?$/, 'expected numbers of visitors with commas between')
    .optional(),
});
const jobs = Object.keys(JOBS) as [Job, ...Job[]];
export const failedSchema = z.strictObject({ does: z.enum(['again', 'aside']), job: z.enum(jobs), subject: z.string().min(1).max(200) });
export const claimSchema = z.strictObject({ by: z.enum(['email', 'customer']), value: z.string().min(1).max(2000) });
const keptDays = (least: number) => z.int().min(least).max(3650).nullable();
/** Days; null: until somebody erases it. */
export const keptDaysSchema = z.strictObject({ visits: keptDays(7), leads: keptDays(1), conversations: keptDays(1) });
const keptDaysInQuery = z.coerce.number().int().min(1).max(3650).optional();
export const keptQuerySchema = z.strictObject({ visits: keptDaysInQuery, leads: keptDaysInQuery, conversations: keptDaysInQuery });
const ownPassword = z.string().min(1).max(1000);
export const ownNameSchema = z.strictObject({ name: z.string().trim().min(1).max(200) });
export const newPasswordSchema = z.strictObject({ password: ownPassword, next: ownPassword });
export const ownPasswordSchema = z.strictObject({ password: ownPassword });
export const factorSchema = z.strictObject({ ticket: z.string().min(1).max(100), code: z.string().trim().min(1).max(20) });
export const roleSchema = z.strictObject({ role: z.enum(ROLES) });
export const invitationSchema = z.strictObject({ email: z.email().max(320), role: z.enum(ROLES) });
const untilInstant = z.number().min(0).max(8.64e15).nullable();
/** By hand here, or away, until then, UTC ms; null: as the hours say. */
export const presenceSchema = z.strictObject({ hereUntil: untilInstant, awayUntil: untilInstant });
/** What visitors see of somebody, and when they are here. */
export const colleagueSchema = z.strictObject({
  answers: z.boolean(),
  title: z.string().trim().max(80),
  introduction: z.string().trim().max(300),
  meeting: z.union([z.literal(''), z.url({ protocol: /^https?$/ }).max(2000)]),
  hours: hoursSchema.nullable(),
});
/** When somebody is busy elsewhere: the address of a calendar, or the text of a file; neither for none. */
export const calendarSchema = z.strictObject({
  url: z.union([z.literal(''), z.url({ protocol: /^https?$/ }).max(2000)]),
  allowPrivate: z.boolean(),
  text: z
    .string()
    .max(5 * 1024 * 1024)
    .nullable(),
});
/** Who gets a campaign's conversations; null: whoever is here, in turn. */
const moved = z.number().min(-100_000).max(100_000);
/** By message, in pixels. */
export const boardSchema = z.strictObject({
  moved: z
    .record(idSchema(), z.strictObject({ x: moved, y: moved }))
    .refine((all) => Object.keys(all).length <= 200, 'at most 200 messages'),
});
export const answeringToSaveSchema = z.strictObject({ answering: answeringSchema.nullable() });

/** The goal that the site is there for; null for none. */
export const mainGoalSchema = z.strictObject({ goal: idField.nullable() });

export const changedPageSetSchema = pageSetSchema.extend({ revision: z.int().min(1) });

/** `seen`: the print of what was looked at; where that is not what would go out any more, nothing does. */
export const releaseSchema = z.strictObject({
  name: z.string().trim().max(200),
  note: z.string().trim().max(2000),
  seen: z.string().max(40).optional(),
});

export const searchSchema = z.strictObject({ text: z.string().trim().min(1).max(200) });

const degrees = z.coerce.number().min(-1000).max(1000);

export const townsSchema = z.union([
  z.strictObject({ text: z.string().trim().min(1).max(100) }),
  z.strictObject({ west: degrees, south: degrees, east: degrees, north: degrees }),
]);

export const todaySchema = z.strictObject({ zone: z.string().max(80).refine(isZone, 'calendar.zone') });

const parameter = z
  .string()
  .min(1)
  .max(100)
  .regex(/^[^*\s&=?#]+\*?$|^\*$/, { error: 'a parameter’s name such as ref, or a beginning such as utm_*' });

export const privacySchema = z.strictObject({ consent: z.enum(['assumed', 'asked']), keptParameters: z.array(parameter).max(50) });

/** `was`: the brand as it was read, so that nobody's change is overwritten unseen. */
export const brandChangeSchema = z.strictObject({ was: brandSchema(), brand: brandSchema() });

/** Whether only signed persons are believed; `newSecret` makes one, in place of the last. */
export const signingSchema = z.strictObject({ isRequired: z.boolean().optional(), newSecret: z.literal(true).optional() });

const host = z.string().regex(/^[a-z0-9.-]+(:\d{1,5})?$/, { error: 'a host such as www.example.com, without https:// and path' });

export const addressesSchema = z.strictObject({ addresses: z.array(host).min(1).max(50) });

/** `script`: is what is there our page script? */
/** The site, of one's own, that something is copied to. */
export const elsewhereSchema = z.strictObject({
  site: z
    .int()
    .min(1)
    .max(2 ** 31 - 1),
});
/** `allowPrivate`: on this machine or inside the network, which an owner alone may ask for. */
export const lookSchema = z.strictObject({
  url: z.string().trim().min(1).max(2000),
  as: z.enum(['page', 'script']).optional(),
  allowPrivate: z.boolean().optional(),
});

export const newSiteSchema = z.strictObject({ name: nameSchema, address: host });

export const newPurposeSchema = z.strictObject({ name: nameSchema, campaign: idField });
export const purposeNameSchema = z.strictObject({ name: nameSchema });
/** Null leaves the purpose that it is of. */
export const purposeOfSchema = z.strictObject({ purpose: idField.nullable() });

/** `site`: where the starting point is kept. */
export const begunElsewhereSchema = elsewhereSchema.extend({ point: idField });
export const newStartingPointSchema = z.strictObject({ campaign: idField, use: z.string().trim().min(1).max(300) });
export const replacedPictureSchema = z.strictObject({ by: z.string().regex(/^[\w-]{22}$/) });

/** `page`: a path, or an address of the site's. `wants`: a field of the studio waits for what is pointed at. */
export const tryoutSchema = z.strictObject({
  page: z.string().trim().min(1).max(2000),
  campaign: idField.optional(),
  wants: z.enum(['page', 'element']).optional(),
});

export const goBackSchema = z.strictObject({ note: z.string().trim().max(2000) });

/** An instant with its zone, or none. */
const instant = z.iso.datetime({ offset: true }).nullable();
export const scheduleSchema = z
  .strictObject({ startsAt: instant, endsAt: instant })
  .refine(({ startsAt, endsAt }) => startsAt === null || endsAt === null || Date.parse(startsAt) < Date.parse(endsAt), {
    error: 'an end after the start',
    path: ['endsAt'],
  });

const utcMs = z.coerce.number().int().min(0).max(8.64e15);
const period = { from: utcMs.optional(), to: utcMs.optional(), zone: z.string().max(80).refine(isZone, 'calendar.zone') };
const isForwards = ({ from = 0, to = Infinity }: { from?: number | undefined; to?: number | undefined }): boolean => from < to;
const BACKWARDS = { error: 'calendar.upsideDown', path: ['to'] };
/** What visitors are told apart by besides what always is. */
const furtherTable = z.union([z.enum(DIMENSIONS), z.templateLiteral(['segment:', z.string().min(1).max(100)])]).optional();
export const zoneQuerySchema = z.strictObject({ zone: period.zone });
/** By itself since the campaign last became another. */
const release = z.coerce.number().int().min(1).optional();
/** `from` inclusive, `to` not: a period of one's own. `since`: the release with which a campaign became another. `points`: the difference that one would like to tell. */
export const resultsQuerySchema = z
  .strictObject({ ...period, since: release, by: furtherTable, points: z.coerce.number().min(0.1).max(50).optional() })
  .refine(isForwards, BACKWARDS);
export const overviewQuerySchema = z.strictObject({ from: utcMs, zone: period.zone });
export const resultsTableSchema = z
  .strictObject({ ...period, since: release, campaign: idField.optional(), by: furtherTable })
  .refine(isForwards, BACKWARDS);

export const statusSchema = z.strictObject({ status: z.enum(CAMPAIGN_STATUSES) });

export const orderSchema = z.strictObject({ campaigns: z.array(z.string().min(1).max(100)).min(1).max(1000) });

/** A rule or a segment, to be told what is wrong with it. */
export const lintSchema = z.union([z.strictObject({ rule: ruleSchema }), z.strictObject({ segment: segmentSchema })]);

export const portfolioSchema = z.strictObject({
  /** Ids in the order to try; those that are not switched on are left out. */
  campaigns: z.array(z.string().min(1).max(100)).max(1000),
  budget: budgetSchema(),
  days: rehearsedDays,
});

export const rehearseSchema = z.strictObject({
  campaign: z.string().min(1).max(100),
  place: z
    .string()
    .max(600)
    .regex(/^(overlay|top|bottom|corner|none|slot:.+)$/)
    .transform((text) => text as Placement),
  rule: ruleSchema,
  days: rehearsedDays,
  /** With the campaigns that are live, in the site's order and under its budget. */
  withOthers: z.boolean(),
});

export const recordedVisitsSchema = z.strictObject({ days: z.coerce.number().pipe(rehearsedDays) });

export const answersSchema = z.strictObject({
  days: rehearsedDays,
  /** The snapshot of visits that the answers are about. */
  snapshot: z.string().min(1).max(100),
  conditions: z.array(peopleConditionSchema()).max(200),
});

const edited = { kind: z.enum(EDITED_KINDS), id: z.string().min(1).max(100) };

/** What was deleted and is to come back. */
export const binSchema = z.strictObject(edited);

export const storedSchema = z.strictObject(edited);
export const editingSchema = z.strictObject({ ...edited, tab: z.uuid(), isLeaving: z.boolean().optional() });

export const visitsPageSchema = z.object({
  asOf: z.coerce.number().min(0).max(8.64e15),
  from: z.coerce.number().int().min(0).default(0),
  count: z.coerce.number().int().min(0).max(100).default(50),
});

export const threadsSchema = z.strictObject({
  state: z.enum(['open', 'closed']).optional(),
  mine: z.string().optional(),
  words: z.string().max(200).optional(),
  /** How many are listed at most. */
  most: z.coerce.number().int().min(1).max(2000).default(200),
});

export const someVisitsSchema = z.strictObject({ visits: z.array(z.uuid()).max(100) });

/** What is taken out: the one that is named, or all. */
export const oneOrAllSchema = z.object({ id: z.string().max(100).optional() });
