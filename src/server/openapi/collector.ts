import { z } from 'zod';
import { MOST_SERVER_EVENTS, serverEventSchema } from '@/core/wire/serverEvents';
import { KINDS, PARTS } from '@/core/wire/pack';
import * as wire from '@/core/wire/items';
import { tryRequestSchema } from '@/core/tryout/asked';
import { answerCheckSchema } from '@/core/wire/answerCheck';
import type { Json } from './shapes';
import { pathParameters, pathsOf, ref, schemaOf } from './shapes';

/** As it is documented: what is taken is checked one by one. */
const serverEventsRequest = z.strictObject({ events: z.array(serverEventSchema).min(1).max(MOST_SERVER_EVENTS) });

/** "open" as the document calls it. */
const named = (kind: string): string => kind.charAt(0).toUpperCase() + kind.slice(1);
const ITEMS = Object.fromEntries(Object.entries(wire.ITEM_SCHEMAS).map(([kind, schema]) => [named(kind), schema]));

/** What a kind of signal has besides its time, as its own schema says, in the order in which it is packed. */
function packedShape(kind: (typeof KINDS)[number], number: number): Json {
  const names = PARTS[number] ?? [];
  const option = wire.signalSchema.options.find(({ shape }) => shape.s.value === kind);
  const { properties = {}, required = [] } = schemaOf(option ?? z.never()) as { properties?: Record<string, Json>; required?: string[] };
  return {
    type: 'array',
    title: kind,
    prefixItems: [{ type: 'number', minimum: 0 }, { const: number }, ...names.map((name) => properties[name] ?? {})],
    minItems: 2 + names.filter((name) => required.includes(name)).length,
    maxItems: 2 + names.length,
  };
}

const PACKED: Json = {
  type: 'array',
  maxItems: 2000,
  items: { oneOf: KINDS.map(packedShape) },
  description: `Each signal is a list: ms since the signal before it (since the opening for the first of a piece), its kind's number, then what the kind has: ${KINDS.map(
    (kind, number) => [number, kind, PARTS[number]?.length ? `(${PARTS[number].join(', ')})` : ''].join(' ').trim(),
  ).join('; ')}`,
};

const ERROR: Json = {
  type: 'object',
  properties: {
    error: { type: 'object', properties: { code: { type: 'string' }, message: { type: 'string' } }, required: ['code', 'message'] },
  },
  required: ['error'],
};

const ANSWER: Json = {
  type: 'object',
  description: 'Given only after everything that is ok has been committed.',
  properties: {
    items: {
      type: 'array',
      description: 'One for each item sent, in order.',
      items: {
        anyOf: [
          { type: 'object', properties: { ok: { const: true } }, required: ['ok'] },
          {
            type: 'object',
            properties: { ok: { const: false }, code: { type: 'string' }, message: { type: 'string' } },
            required: ['ok', 'code', 'message'],
          },
        ],
      },
    },
    context: {
      type: 'object',
      description:
        'After anything that can change what the page knows of its visitor: the live release, its facts, and what was shown before.',
      properties: {
        release: { type: ['object', 'null'], properties: { number: { type: 'integer' }, hash: { type: 'string' } } },
        facts: { type: 'array', items: { type: ['boolean', 'null'] } },
        pacing: { type: 'object' },
        document: { type: 'object', description: 'The release itself, where the page has not got it and it is short.' },
        values: { type: 'object', additionalProperties: { type: 'string' } },
      },
    },
    release: { type: ['string', 'null'], description: 'The hash of the release that is live.' },
    now: { type: 'number', description: 'The server’s clock, UTC ms.' },
  },
  required: ['items', 'now'],
};

interface Endpoint {
  readonly summary: string;
  readonly answers: string;
  readonly type: string;
  readonly schema?: Json;
  readonly body?: Json;
  readonly refused?: readonly (readonly [number, string])[];
}

/** Everything that the collector answers, by path and method; a test holds it to the routes that there are. */
export const COLLECTOR_ENDPOINTS: Readonly<Record<string, Partial<Record<'get' | 'post', Endpoint>>>> = {
  '/c': {
    post: {
      summary:
        'Take what a page sends: a batch of items, each checked and written on its own; the same item again changes nothing. Texts are kept as they are but for zero characters, which are left out, and halves of surrogate pairs, which become U+FFFD: that counts as ok',
      body: ref('Batch'),
      answers: 'What became of each item, and the context that the page decides in',
      type: 'application/json',
      schema: ref('Answer'),
      refused: [
        [400, 'Not JSON, or no batch'],
        [403, 'Not an address of the site'],
        [404, 'No site has that key'],
        [413, 'Larger than 256 KB'],
        [429, 'Too many requests from one address'],
        [503, 'Nothing was taken; `retry-after` says when to send it again'],
      ],
    },
  },
  '/check': {
    post: {
      summary: 'Whether an email can be written to, or a phone number be rung; nothing is kept of it',
      body: schemaOf(answerCheckSchema),
      answers: '{"ok": true} or {"ok": false}',
      type: 'application/json',
      refused: [
        [400, 'Neither an email nor a phone number'],
        [429, 'Too many requests from one address'],
      ],
    },
  },
  '/talk/{key}/{thread}': {
    get: {
      summary:
        'What is said in a conversation, for the browser that it is with (`?browser=UUID&after=NUMBER`): a stream of events for as long as the page listens; with `once` the first lines after `after`, as soon as there are some',
      answers: 'Events whose data are lines, whether it is open, whom it is with and whether somebody is here',
      type: 'text/event-stream',
      refused: [
        [400, 'No UUIDs, or no number'],
        [404, 'No site has that key and that address'],
        [503, 'Too many listen'],
      ],
    },
  },
  '/talk/{key}/{thread}/writing': {
    post: {
      summary: 'The visitor of a browser (`?browser=UUID`) is writing: told to the team, kept nowhere',
      answers: 'Nothing',
      type: 'application/json',
      refused: [
        [400, 'No UUIDs'],
        [404, 'No site has that key and that address'],
      ],
    },
  },
  '/talk/{key}/{thread}/pictures': {
    post: {
      summary:
        'A picture for a line that is to come, as the bytes of a file of at most 5 MB (`?browser=UUID`); it is encoded anew, and thrown away after a day if no line shows it',
      answers: '{"id", "width", "height"}',
      type: 'application/json',
      refused: [
        [400, 'No UUIDs'],
        [404, 'No site has that key and that address, or no page view of that browser'],
        [413, 'Larger than 5 MB'],
        [422, 'Not a picture that can be read'],
        [429, 'More pictures in an hour than anybody looks at'],
        [503, 'Too many at once'],
      ],
    },
  },
  '/talk/{key}/{thread}/pictures/{picture}': {
    get: {
      summary: 'A picture of a conversation, for the browser that it is with (`?browser=UUID`)',
      answers: 'The picture',
      type: 'image/webp',
      refused: [[404, 'No such picture in it']],
    },
  },
  '/events/{key}': {
    post: {
      summary:
        'Events that happened elsewhere, from the site’s own server (not from a page): at most 500 at once. `authorization: Bearer SECRET` with the secret that Setup makes. The same id again is the same event',
      body: schemaOf(serverEventsRequest),
      answers: 'For each event in order {"ok": true, "isNew": …} or {"ok": false, "code", "message"}',
      type: 'application/json',
      refused: [
        [400, 'Not such a list'],
        [403, 'Not the secret of that site'],
        [413, 'More than 512 KB'],
        [429, 'Too many requests from one address'],
      ],
    },
  },
  '/try.js': {
    get: { summary: 'What a tab loads that tries what is not published', answers: 'The script', type: 'text/javascript' },
  },
  '/try': {
    post: {
      summary: 'What a try-out asks: a token for a ticket, what shows and why, what can be picked; nothing of it is recorded',
      body: schemaOf(tryRequestSchema),
      answers: 'By what was asked',
      type: 'application/json',
      refused: [
        [400, 'None of the questions'],
        [401, 'There is no such try-out, or it is over'],
        [413, 'Larger than 2 MB'],
        [429, 'Too many requests from one address'],
      ],
    },
  },
  '/csp/{key}': {
    post: {
      summary:
        'What a browser kept away of the script by a page’s content security policy: a report as `report-uri` or the Reporting API sends it',
      answers: 'Nothing',
      type: 'application/json',
      refused: [[404, 'No site has that key']],
    },
  },
  '/page.js': { get: { summary: 'The page script', answers: 'The script, cached for five minutes', type: 'text/javascript' } },
  '/parts/{name}': {
    get: {
      summary: 'A part of the page script, named by its content',
      answers: 'The part, for ever',
      type: 'text/javascript',
      refused: [[404, 'No such part']],
    },
  },
  '/i/{key}/{file}': {
    get: {
      summary: 'A picture of a site’s messages, by its hash',
      answers: 'The picture, for ever',
      type: 'image/webp',
      refused: [[404, 'No picture has that address']],
    },
  },
  '/r/{key}/{hash}': {
    get: {
      summary: 'A release of a site, by its hash',
      answers: 'The release, for ever',
      type: 'application/json',
      refused: [[404, 'No release has that hash']],
    },
  },
  '/health': {
    get: {
      summary: 'Whether the collector and its database answer',
      answers: 'ok',
      type: 'application/json',
      refused: [[503, 'The database is away']],
    },
  },
  '/metrics': {
    get: {
      summary: 'What was taken, turned away and written; for the operator: from this machine, or with the token of CRINDLE_METRICS_TOKEN',
      answers: 'Prometheus’ text format',
      type: 'text/plain',
      refused: [[404, 'To anybody else']],
    },
  },
};

/** The collector's HTTP API as an OpenAPI 3.1 document. */
export function collectorDocument(): Json {
  const items = Object.entries(ITEMS).map(([name, schema]): [string, Json] => {
    const made = schemaOf(schema);
    const properties = made['properties'] as Record<string, Json>;
    return [name, name === 'Piece' ? { ...made, properties: { ...properties, signals: PACKED } } : made];
  });
  const batch = schemaOf(wire.batchSchema);
  return {
    openapi: '3.1.0',
    info: {
      title: 'Crindle collector',
      version: '1',
      description:
        'What the page script talks to. Bodies are JSON sent as text/plain, so that no preflight request is needed; any server can send the same.',
    },
    components: {
      schemas: {
        ...Object.fromEntries(items),
        Batch: {
          ...batch,
          properties: {
            ...(batch['properties'] as Json),
            items: { type: 'array', maxItems: 500, items: { anyOf: Object.keys(ITEMS).map(ref) } },
          },
        },
        Answer: ANSWER,
        Error: ERROR,
      },
    },
    paths: pathsOf(COLLECTOR_ENDPOINTS, operation),
  };
}

function operation(path: string, { summary, answers, type, schema, body, refused = [] }: Endpoint): Json {
  const parameters = pathParameters(path);
  return {
    summary,
    ...(parameters.length ? { parameters } : {}),
    ...(body ? { requestBody: { required: true, content: { 'text/plain': { schema: body }, 'application/json': { schema: body } } } } : {}),
    responses: {
      200: { description: answers, content: { [type]: schema ? { schema } : {} } },
      ...Object.fromEntries(
        refused.map(([status, description]) => [status, { description, content: { 'application/json': { schema: ref('Error') } } }]),
      ),
    },
  };
}
