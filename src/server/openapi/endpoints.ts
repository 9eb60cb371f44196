import type { z } from 'zod';
import { LEAD_TERM_KINDS } from '@/core/leads/filter';
import { MEMBER_CHOICES, MEMBER_COLUMNS } from '@/core/people/memberColumns';
import { TERM_KINDS } from '@/core/visits/filter';
import * as requests from '../http/requests';
import type { Json } from './shapes';
import { ref, schemaOf } from './shapes';

// Every request of the studio's API in words and schemas; document.ts makes one document of them.
export type Method = 'get' | 'post' | 'put' | 'delete';

export interface Endpoint {
  readonly summary: string;
  readonly body?: Json;
  readonly query?: Readonly<Record<string, Json>>;
  readonly answers: string;
  readonly type?: string;
}

const LEAD_QUERY = Object.fromEntries(LEAD_TERM_KINDS.map((kind) => [kind, { type: 'string' }]));
const text: Json = { type: 'string', minLength: 1, maxLength: 200 };
const revision: Json = {
  type: 'integer',
  minimum: 1,
  description: 'The revision that was read; an older one than the stored is refused with 409.',
};
const days: Json = { enum: [7, 30, 90] };
const queryOf = (schema: z.ZodObject): Record<string, Json> =>
  Object.fromEntries(Object.entries(schema.shape).map(([name, one]) => [name, schemaOf(one as z.ZodType)]));
const and = (one: Json, properties: Readonly<Record<string, Json>>): Json => ({
  allOf: [one, { type: 'object', properties, required: Object.keys(properties) }],
});
const places = (name: string): string => `A place as \`${name}\` is drawn on the map: a GeoJSON polygon or multipolygon, or a circle.`;

/** Every request of the studio's API, by path and method; a test holds it to the routes that there are. */
export const ENDPOINTS: Readonly<Record<string, Partial<Record<Method, Endpoint>>>> = {
  '/api/pictures': {
    get: {
      summary: 'Pictures of the site, newest first',
      answers: 'A list of pictures with their size and the address they are served under',
    },
    post: {
      summary: 'A picture, as the bytes of a JPEG, PNG, WebP, GIF, AVIF or TIFF file of at most 5 MB; it is encoded anew',
      query: { name: text },
      answers: 'The picture as it is kept, with its address',
    },
  },
  '/api/today': {
    get: {
      summary: 'Today beside a usual day, and what needs attention',
      query: queryOf(requests.todaySchema),
      answers: 'Running totals by hour, and a list of what is off with its reason and fix',
    },
  },
  '/api/live': {
    get: {
      summary: 'Who is on the site and what happens there',
      answers: 'Events `news` (what changed, every two seconds) and `trouble`',
      type: 'text/event-stream',
    },
  },
  '/api/visits': {
    get: {
      summary: 'Recorded visits that meet all terms, newest first',
      query: {
        ...queryOf(requests.visitsPageSchema),
        ...Object.fromEntries(
          TERM_KINDS.map((kind) => [kind, { type: 'array', items: { type: 'string', maxLength: kind === 'who' ? 4000 : 300 } }]),
        ),
      },
      answers: 'How many visits and visitors there are, and the visits asked for',
    },
  },
  '/api/visits/some': {
    post: {
      summary: 'Recorded visits by their ids',
      body: schemaOf(requests.someVisitsSchema),
      answers: 'The visits with their page views, signals and showings',
    },
  },
  '/api/values': {
    get: {
      summary: 'What texts of messages can say of a visitor',
      answers: 'Names as written, with how many of the latest visitors have each',
    },
  },
  '/api/visitors/known': {
    get: {
      summary: 'Some visitors who are known, the one heard of last first',
      answers: 'Their names, and what texts of messages can put in of them',
    },
  },
  '/api/visitors/{id}/why': {
    get: {
      summary: 'Why each campaign shows or not at an instant of a page view',
      query: { view: { type: 'string', format: 'uuid' }, t: { type: 'number', minimum: 0, description: 'ms since the page was opened' } },
      answers: 'For every campaign its rule as a tree with the facts found, and the first cause of silence',
    },
  },
  '/api/segments': {
    post: { summary: 'A new segment', body: and(ref('Segment'), { name: text }), answers: 'The segment with its id' },
  },
  '/api/segments/{id}': {
    get: { summary: 'A segment', answers: 'The segment with its revision, and the campaigns and segments that name it' },
    put: {
      summary: 'Save a segment',
      body: and(ref('Segment'), { name: text, revision }),
      answers: 'The segment with its new revision',
    },
    delete: { summary: 'Delete a segment that nothing names', answers: 'Nothing more' },
  },
  '/api/segments/import': {
    post: {
      summary: 'Bring segments in, all or none',
      body: {
        anyOf: [
          and(ref('Segment'), { name: text }),
          { type: 'array', items: and(ref('Segment'), { name: text }), minItems: 1, maxItems: 500 },
        ],
      },
      answers: 'The new ids and names',
    },
  },
  '/api/segments/size': {
    post: {
      summary: 'How many people a segment under way holds',
      body: ref('Segment'),
      answers: 'People, of how many, of how many it is unknown, and some of their visits',
    },
  },
  '/api/segments/contributions': {
    post: {
      summary: 'What each condition of a segment under way takes',
      body: ref('Segment'),
      answers: 'How many more people there would be without each',
    },
  },
  '/api/segments/trend': {
    post: {
      summary: 'A segment under way over the last days',
      body: and(ref('Segment'), { days: { type: 'integer', minimum: 1, maximum: 90 } }),
      answers: 'Its size at each midnight, and in the last 7 and 30 days',
    },
  },
  '/api/segments/sizes': {
    get: {
      summary: 'The size of every segment',
      answers: 'Line by line as they are counted: people and visitors on record, by id and revision',
      type: 'application/x-ndjson',
    },
  },
  '/api/segments/trends': {
    get: { summary: 'Every segment over the last 30 days', answers: 'Sizes at each midnight, by id and revision' },
  },
  '/api/segments/overlap': {
    post: {
      summary: 'How many people any two segments share',
      body: {
        type: 'object',
        properties: { segments: { type: 'array', items: { type: 'string' }, maxItems: 19 }, draft: ref('Segment') },
        additionalProperties: false,
      },
      answers: 'The segments, and a matrix of people in both; a draft comes first',
    },
  },
  '/api/campaigns': { post: { summary: 'A new campaign, switched off', body: ref('Campaign'), answers: 'Its id' } },
  '/api/campaigns/{id}': {
    put: { summary: 'Save a campaign', body: and(ref('Campaign'), { revision }), answers: 'Its new revision' },
    post: {
      summary: 'Switch a campaign on or off',
      body: schemaOf(requests.statusSchema),
      answers: 'Nothing more; visitors see it with the next release',
    },
    delete: { summary: 'Delete a campaign that is switched off', answers: 'Nothing more' },
  },
  '/api/campaigns/order': {
    put: { summary: 'Put all campaigns in an order', body: schemaOf(requests.orderSchema), answers: 'Nothing more' },
  },
  '/api/campaigns/order/rehearse': {
    post: {
      summary: 'Rehearse all live campaigns together',
      body: {
        type: 'object',
        properties: { campaigns: { type: 'array', items: { type: 'string' } }, budget: ref('Budget'), days },
        required: ['campaigns', 'budget', 'days'],
        additionalProperties: false,
      },
      answers: 'Line by line, each in place of the one before: what each campaign shows together, alone, and what takes the rest',
      type: 'application/x-ndjson',
    },
  },
  '/api/lint': {
    post: {
      summary: 'What is wrong with a rule or a segment, by what the site has on record',
      body: schemaOf(requests.lintSchema),
      answers: 'Findings, each with its severity, the path of its node and, where there is one, the change that fixes it',
    },
  },
  '/api/rehearse': {
    post: {
      summary: 'Rehearse a rule over recorded visits',
      body: {
        type: 'object',
        properties: {
          campaign: text,
          place: { type: 'string', pattern: '^(overlay|top|bottom|corner|none|slot:.+)$' },
          rule: ref('Rule'),
          days,
          withOthers: { type: 'boolean', description: 'Among the live campaigns, in their order and under the budget' },
        },
        required: ['campaign', 'place', 'rule', 'days', 'withOthers'],
        additionalProperties: false,
      },
      answers: 'Line by line, each in place of the one before: counts, steps, every condition left out once, when and where it shows',
      type: 'application/x-ndjson',
    },
  },
  '/api/rehearse/visits': {
    get: {
      summary: 'The recorded visits of the last days, to rehearse over in the browser',
      query: { days },
      answers: 'The length of the columns in four bytes, the columns, the visits’ ids; an entity tag names the snapshot',
      type: 'application/octet-stream',
    },
  },
  '/api/rehearse/answers': {
    post: {
      summary: 'What people conditions say of each view of such a snapshot',
      body: schemaOf(requests.answersSchema),
      answers: 'For each condition its answers (base64), with page sets, budget and campaigns; whether the snapshot is still kept',
    },
  },
  '/api/editing': {
    post: {
      summary: 'Say that something is open in an editor',
      body: schemaOf(requests.editingSchema),
      answers: 'Who else has it open, and the revision that is stored',
    },
  },
  '/api/trash': {
    post: { summary: 'Bring back what was deleted', body: schemaOf(requests.binSchema), answers: 'Nothing more' },
  },
  '/api/tryouts/{id}': {
    get: { summary: 'What was pointed at on the site, for a field that waits for it', answers: 'The page or the element; null so far' },
  },
  '/api/site/look': {
    post: {
      summary:
        'Fetch a page as a stranger would, and say whether the script’s line stands in it and how; nothing inside the network is fetched',
      body: schemaOf(requests.lookSchema),
      answers: 'Where it was found and what was; of a script whether it is ours: current, older or none',
    },
  },
  '/api/site/import': {
    post: {
      summary: 'Bring in what /site.json took out of another site, all or nothing, under ids of its own',
      body: ref('SiteDocument'),
      answers: 'How many of what came in',
    },
  },
  '/api/sites': {
    post: {
      summary: 'Make another site, and go on there',
      body: schemaOf(requests.newSiteSchema),
      answers: 'Its id and its key',
    },
  },
  '/api/sites/{id}': { post: { summary: 'Go on at another site of one’s own', answers: 'Nothing more' } },
  '/api/team/{id}': { delete: { summary: 'Says that a browser is not one of the team’s any more', answers: 'Nothing more' } },
  '/api/campaigns/{id}/results': {
    get: {
      summary: 'What a campaign came to, of the visitors who first met it in a period',
      query: {
        from: { type: 'integer', description: 'UTC ms, inclusive' },
        to: { type: 'integer', description: 'UTC ms, exclusive' },
        zone: { type: 'string', description: 'IANA time zone in which days are told' },
        points: {
          type: 'number',
          description: 'A difference in points, of which it is said how many more visitors would tell it; 1 if not given',
        },
        by: { type: 'string', description: 'One table more: `page`, `day`, or `segment:ID` as it held at the first meeting' },
      },
      answers: 'Counts, rates with intervals, differences with spans, steps, and how the difference became known',
    },
  },
  '/api/campaigns/{id}/foretold': {
    get: {
      summary: 'Of the last whole days what the release in force gives over the recorded visits, beside what came',
      query: { zone: { type: 'string', description: 'IANA time zone in which days are told' } },
      answers: 'Days, oldest first, with the reasons of those that differ by more than 2 %',
    },
  },
  '/api/campaigns/{id}/ways': {
    get: {
      summary: 'How many showings went which way through a campaign’s messages',
      query: { from: { type: 'integer' }, to: { type: 'integer' }, zone: text },
      answers: 'Showings by message, from one to another, and how they ended',
    },
  },
  '/api/campaigns/{id}/history': {
    get: { summary: 'What was done to a campaign, and what each release made of it for visitors', answers: 'Lines, newest first' },
  },
  '/api/tryouts': {
    post: {
      summary:
        'Open a try-out: an address of the site that shows in one tab what is not published, to whoever opens it first within five minutes',
      body: schemaOf(requests.tryoutSchema),
      answers: 'Its id, and the address to open',
    },
  },
  '/api/releases': { post: { summary: 'Publish a release', body: schemaOf(requests.releaseSchema), answers: 'Its number' } },
  '/api/leads': {
    post: {
      summary: 'Another tag for several leads, or erase them for good',
      body: schemaOf(requests.leadsSchema),
      answers: 'How many',
    },
  },
  '/api/leads/{id}': {
    put: { summary: 'Tags and the note of a lead', body: schemaOf(requests.leadNotesSchema), answers: 'Nothing more' },
  },
  '/api/leads/{id}/withdrawn': {
    post: {
      summary: 'Whoever sent the lead took their consent back: they are taken out wherever their leads were sent',
      answers: 'Nothing more',
    },
  },
  '/api/site/events-secret': {
    post: { summary: 'A new secret for events from the site’s own server', answers: 'The secret, this once' },
  },
  '/api/connections': {
    get: { summary: 'Connections, with what was sent, waits and has failed', answers: 'Connections, without secrets' },
    post: {
      summary: 'A new connection',
      body: schemaOf(requests.newConnectionSchema),
      answers: 'Its id; of a web hook without a key the one that was made, this once',
    },
  },
  '/api/connections/{id}': {
    put: { summary: 'Save a connection', body: schemaOf(requests.changedConnectionSchema), answers: 'Its new revision' },
    delete: { summary: 'Delete a connection, with what waits for it', answers: 'Nothing more' },
  },
  '/api/connections/{id}/check': { post: { summary: 'Really ask a connection', answers: 'Whether it answers, and why not' } },
  '/api/deliveries': {
    post: {
      summary: 'Send again what waits or has failed for a connection',
      body: schemaOf(requests.sendAgainSchema),
      answers: 'How many',
    },
  },
  '/api/campaigns/{id}/sends': {
    get: {
      summary: 'Which connections a campaign’s leads go to, and what of them',
      answers: 'Ids and mappings, all connections, names of answers',
    },
    put: { summary: 'Choose them', body: schemaOf(requests.sendsSchema), answers: 'Nothing more' },
  },
  '/api/campaigns/{id}/sends/try': {
    post: {
      summary: 'What goes to a connection of the campaign’s last lead; with `send` it really goes',
      body: schemaOf(requests.tryMappingSchema),
      answers: 'The lead, what goes, and what the service answered',
    },
  },
  '/api/segments/{id}/kept': {
    get: {
      summary: 'Which connections keep a segment’s people, and how far that has got',
      answers: 'Counts, and all connections that keep people',
    },
    put: {
      summary: 'Keep a segment in step with a connection, or take everybody out there',
      body: schemaOf(requests.keptSchema),
      answers: 'Nothing more',
    },
    post: { summary: 'Compare at once who is in it with who is there', answers: 'How many connections are compared' },
  },
  '/api/campaigns/{id}/conversations': {
    get: {
      summary: 'What came of a campaign’s conversations with people',
      query: { from: { type: 'integer' }, to: { type: 'integer' } },
      answers: 'How many were answered and missed, how long they waited, by person',
    },
  },
  '/conversations.csv': {
    get: {
      summary: 'Conversations that wanted a person',
      query: { campaign: { type: 'string' } },
      answers: 'CSV (RFC 4180)',
      type: 'text/csv',
    },
  },
  '/api/campaigns/{id}/board': {
    get: { summary: 'How far the messages of a campaign were moved on its board', answers: '`moved`, by message, in pixels' },
    put: { summary: 'Set it', body: schemaOf(requests.boardSchema), answers: 'Nothing more' },
  },
  '/api/campaigns/{id}/answering': {
    get: { summary: 'Who gets a campaign’s conversations', answers: 'What is set, and who might' },
    put: { summary: 'Set it', body: schemaOf(requests.answeringToSaveSchema), answers: 'Nothing more' },
  },
  '/api/account': { put: { summary: 'One’s own name', body: schemaOf(requests.ownNameSchema), answers: 'Nothing more' } },
  '/api/account/password': {
    put: { summary: 'Another password; all other sessions end', body: schemaOf(requests.newPasswordSchema), answers: 'Nothing more' },
  },
  '/api/account/factor': {
    post: {
      summary: 'Begin with a second factor (RFC 6238)',
      body: schemaOf(requests.ownPasswordSchema),
      answers: 'A ticket, the secret and its picture',
    },
    put: { summary: 'From now on it is asked for', body: schemaOf(requests.factorSchema), answers: 'Spare codes, this once' },
    delete: { summary: 'No second factor any more', body: schemaOf(requests.ownPasswordSchema), answers: 'Nothing more' },
  },
  '/api/account/sessions': { delete: { summary: 'End all other sessions', answers: 'How many ended' } },
  '/api/account/sessions/{id}': { delete: { summary: 'End one session', answers: 'Nothing more' } },
  '/api/privacy/person': {
    get: {
      summary: 'How much of somebody is on record',
      query: queryOf(requests.personSchema),
      answers: 'Rows by table, browsers and emails',
    },
  },
  '/person.json': {
    get: { summary: 'Everything that is on record of somebody', query: queryOf(requests.personSchema), answers: 'JSON, table by table' },
  },
  '/api/privacy/erasures': {
    post: {
      summary: 'Erase somebody, here and at the connections that got something of them',
      body: schemaOf(requests.personSchema),
      answers: 'The receipt',
    },
  },
  '/api/privacy/kept': {
    put: {
      summary: 'For how many days visits, leads and conversations are kept',
      body: schemaOf(requests.keptDaysSchema),
      answers: 'Nothing more',
    },
  },
  '/api/members/invitations': {
    post: { summary: 'Invite somebody', body: schemaOf(requests.invitationSchema), answers: 'The link, and whether it was mailed' },
  },
  '/api/members/invitations/{id}': { delete: { summary: 'Take an invitation back', answers: 'Nothing more' } },
  '/api/members/{id}': {
    put: { summary: 'Another role', body: schemaOf(requests.roleSchema), answers: 'Nothing more' },
    delete: { summary: 'They are of this site no more', answers: 'Nothing more' },
  },
  '/api/conversations': {
    get: {
      summary: 'Conversations, whoever waits longest first, and who of the team is here',
      query: queryOf(requests.threadsSchema),
      answers: 'Conversations without their lines',
    },
  },
  '/api/conversations/live': {
    get: {
      summary: 'What changes in conversations',
      answers: 'Events: `changed` with the thread, `writing` with the one that its visitor writes in',
      type: 'text/event-stream',
    },
  },
  '/api/conversations/{id}': {
    get: { summary: 'A conversation with its lines; it is seen by then', answers: 'The conversation' },
    post: {
      summary: 'Answer, note, say that one is writing, hand over, close, open again, or tag; a line of the same id again is once',
      body: schemaOf(requests.inThreadSchema),
      answers: 'Nothing more',
    },
  },
  '/api/conversations/{id}/pictures': {
    post: {
      summary: 'A picture for an answer that is to show it, as the bytes of a file of at most 5 MB; it is encoded anew',
      answers: 'Its id and size in pixels',
    },
  },
  '/api/conversations/{id}/pictures/{picture}': {
    get: { summary: 'A picture of a conversation', answers: 'WebP', type: 'image/webp' },
  },
  '/api/conversations/{id}/who': { get: { summary: 'Who its visitor is, by what is on record', answers: 'Facts and segments' } },
  '/api/saved-answers': {
    get: { summary: 'Answers that are kept', answers: 'Names and texts' },
    post: { summary: 'Keep another', body: schemaOf(requests.savedAnswerSchema), answers: 'Its id' },
  },
  '/api/saved-answers/{id}': { delete: { summary: 'Delete one', answers: 'Nothing more' } },
  '/api/people/presence': {
    put: { summary: 'Be here, or away, by hand', body: schemaOf(requests.presenceSchema), answers: 'Nothing more' },
  },
  '/api/people/{id}/picture': {
    post: { summary: 'What visitors see somebody by: the bytes of a picture', answers: 'Its hash' },
    delete: { summary: 'The first letter of the name again', answers: 'Nothing more' },
  },
  '/api/people/{id}/calendar': {
    put: {
      summary: 'When somebody is busy elsewhere: a calendar’s address or text',
      body: schemaOf(requests.calendarSchema),
      answers: 'Nothing more',
    },
  },
  '/hours.ics': {
    get: {
      summary: 'Somebody’s hours of the next ninety days',
      query: { member: { type: 'integer' } },
      answers: 'iCalendar (RFC 5545)',
      type: 'text/calendar',
    },
  },
  '/api/people/{id}': {
    put: {
      summary: 'What visitors see of somebody, and their hours',
      body: schemaOf(requests.colleagueSchema),
      answers: 'Nothing more',
    },
  },
  '/api/goals': { post: { summary: 'A new goal', body: schemaOf(requests.goalToSaveSchema), answers: 'Its id' } },
  '/api/goals/{id}': {
    put: {
      summary: 'Save a goal, for every campaign that counts it',
      body: schemaOf(requests.changedGoalSchema),
      answers: 'Its new revision',
    },
    delete: { summary: 'Delete a goal; whoever counts it keeps it as their own', answers: 'Nothing more' },
  },
  '/api/goals/main': {
    put: {
      summary: 'Choose the goal that the site is there for',
      body: schemaOf(requests.mainGoalSchema),
      answers: 'Nothing more',
    },
  },
  '/api/goals/reached': {
    post: {
      summary: 'How often a goal, saved or not, was reached in the last thirty days',
      body: schemaOf(requests.reachedSchema),
      answers: 'How often, by how many visitors, and by day',
    },
  },
  '/api/results/weekly': {
    get: {
      summary: 'Whether whoever asks gets the week’s results by mail',
      answers: 'Whether, to which address, and whether mail can be sent',
    },
    put: { summary: 'Ask for the week’s results by mail, or stop them', body: schemaOf(requests.weeklySchema), answers: 'Nothing more' },
    post: {
      summary: 'Mail last week’s results to oneself now',
      body: schemaOf(requests.weeklySchema.pick({ zone: true })),
      answers: 'The address',
    },
  },
  '/api/page-sets': { post: { summary: 'A new page set', body: schemaOf(requests.pageSetSchema), answers: 'Its id' } },
  '/api/page-sets/{id}': {
    put: { summary: 'Save a page set', body: schemaOf(requests.changedPageSetSchema), answers: 'Its new revision' },
    delete: { summary: 'Delete a page set that nothing names', answers: 'Nothing more' },
  },
  '/api/places': {
    post: { summary: 'A new place', body: schemaOf(requests.newPlaceSchema), answers: `Its id. ${places('shape')}` },
  },
  '/api/places/{id}': {
    put: { summary: 'Save a place', body: schemaOf(requests.changedPlaceSchema), answers: 'Its new revision' },
    delete: { summary: 'Delete a place that nothing names', answers: 'Nothing more' },
  },
  '/api/places/count': {
    post: {
      summary: 'How many recent visitors are in a shape',
      body: schemaOf(requests.placeCountSchema),
      answers: 'Inside, located in all, and how exact half of the positions are',
    },
  },
  '/api/places/import': {
    post: {
      summary: 'Bring places in as GeoJSON, all or none',
      body: {
        type: 'object',
        description: 'A Feature or a FeatureCollection (RFC 7946); a Point with a `radius` among its properties is a circle',
      },
      answers: 'The new ids and names',
    },
  },
  '/api/map/borders': { get: { summary: 'The borders of the Earth’s countries', answers: 'TopoJSON' } },
  '/api/map/towns': {
    get: {
      summary: 'Towns whose name begins so, or the largest in sight',
      query: {
        text: { type: 'string', maxLength: 100 },
        west: { type: 'number' },
        south: { type: 'number' },
        east: { type: 'number' },
        north: { type: 'number' },
      },
      answers: 'Name, country, people and position, the largest first',
    },
  },
  '/api/map/visitors': { get: { summary: 'Where the visitors of the last 30 days were', answers: 'Positions with how many people' } },
  '/api/purposes': {
    get: { summary: 'Purposes, each with its campaigns', answers: 'Their names, and the names of the campaigns' },
    post: {
      summary: 'A purpose made of what a campaign is for',
      body: schemaOf(requests.newPurposeSchema),
      answers: 'Its id',
    },
  },
  '/api/purposes/{id}': {
    put: { summary: 'Another name', body: schemaOf(requests.purposeNameSchema), answers: 'Nothing more' },
  },
  '/api/campaigns/{id}/purpose': {
    put: {
      summary: 'Joins a purpose, whose people, pages and success it takes over, or leaves the one it is of',
      body: schemaOf(requests.purposeOfSchema),
      answers: 'Nothing more',
    },
  },
  '/api/starting-points': {
    post: {
      summary: 'Keeps a campaign as it is, for others to begin from',
      body: schemaOf(requests.newStartingPointSchema),
      answers: 'Its id',
    },
  },
  '/api/starting-points/{id}': { delete: { summary: 'Takes it away; campaigns begun from it stay', answers: 'Nothing more' } },
  '/api/pictures/{hash}': {
    post: {
      summary: 'Puts another picture in its place, in every campaign and in the brand',
      body: schemaOf(requests.replacedPictureSchema),
      answers: 'How many campaigns were changed; visitors see it with the next release',
    },
  },
  '/api/releases/{number}/back': {
    post: {
      summary: 'Publishes an earlier release once more, as the next one; drafts stay as they are',
      body: schemaOf(requests.goBackSchema),
      answers: 'The number of the new release',
    },
  },
  '/api/campaigns/{id}/schedule': {
    put: {
      summary: 'When the campaign begins and ends by itself; null for neither',
      body: schemaOf(requests.scheduleSchema),
      answers: 'Nothing more; pages hear of it when it comes',
    },
  },
  '/api/search': {
    get: {
      summary: 'Everything of the site whose name contains a text',
      query: queryOf(requests.searchSchema),
      answers: 'Segments, campaigns, page sets, places, visitors, leads and pages',
    },
  },
  '/api/site/addresses': {
    put: { summary: 'The site’s addresses', body: schemaOf(requests.addressesSchema), answers: 'Nothing more' },
  },
  '/api/site/budget': {
    put: {
      summary: 'What all campaigns together may show',
      body: ref('Budget'),
      answers: 'Nothing more; visitors see it with the next release',
    },
  },
  '/api/site/brand': {
    get: { summary: 'What all messages have in common: looks, senders and values', answers: 'The brand' },
    put: {
      summary: 'The brand, if it is still as it was read',
      body: schemaOf(requests.brandChangeSchema),
      answers: 'Nothing more; visitors see it with the next release',
    },
  },
  '/api/site/privacy': {
    put: {
      summary: 'Consent, and the parameters that are kept',
      body: schemaOf(requests.privacySchema),
      answers: 'Nothing more',
    },
  },
  '/api/site/signing': {
    put: {
      summary: 'Whether only persons that the site has signed are believed; a new secret to sign them with',
      body: schemaOf(requests.signingSchema),
      answers: 'The secret, where a new one was made: it is not shown again',
    },
  },
  '/api/site/check': {
    get: {
      summary: 'Whether the script is on the site',
      answers: 'Where it was seen, what was turned away, its faults, the release that is live',
    },
  },
  '/leads.csv': {
    get: {
      summary: 'Leads, all or those that the parameters of the list choose; a column for each answer',
      query: LEAD_QUERY,
      answers: 'CSV (RFC 4180)',
      type: 'text/csv',
    },
  },
  '/members.csv': {
    get: {
      summary: 'Whoever is in a segment now',
      query: {
        id: { type: 'string' },
        column: { type: 'array', items: { type: 'string', enum: [...MEMBER_COLUMNS] } },
        who: { type: 'string', enum: [...MEMBER_CHOICES] },
      },
      answers: 'CSV (RFC 4180)',
      type: 'text/csv',
    },
  },
  '/leads.jsonl': { get: { summary: 'The same as JSON lines', query: LEAD_QUERY, answers: 'A lead a line', type: 'application/jsonl' } },
  '/site.json': {
    get: { summary: 'Everything that people wrote for the site, to keep or to bring into another', answers: 'One document' },
  },
  '/results.csv': {
    get: {
      summary: 'Every table of a campaign’s results; without a campaign the versions of each that was met',
      query: {
        campaign: { type: 'string' },
        from: { type: 'integer' },
        to: { type: 'integer' },
        zone: { type: 'string' },
        by: { type: 'string' },
      },
      answers: 'CSV (RFC 4180)',
      type: 'text/csv',
    },
  },
  '/segments.json': { get: { summary: 'All segments, or the one named', query: { id: { type: 'string' } }, answers: 'Segments' } },
  '/places.geojson': {
    get: {
      summary: 'All places, or the one named',
      query: { id: { type: 'string' } },
      answers: 'GeoJSON (RFC 7946)',
      type: 'application/geo+json',
    },
  },
  '/openapi.json': { get: { summary: 'This document', answers: 'OpenAPI 3.1' } },
};
