import { jsonSchemas } from '@/core/formats/jsonSchema';
import type { Right } from '../auth/rights';
import type { Endpoint } from '../api/endpoint';
import type { Json } from './shapes';
import answersOfAll from './answers.json';
import { bodyShapeOf, pathParameters, queryShapes, ref } from './shapes';

/** What is answered, from the types of the code: `node scripts/answers.mjs` writes it. */
export const ANSWERS: { readonly answers: Readonly<Record<string, Json>>; readonly schemas: Readonly<Record<string, Json>> } = answersOfAll;

const REFUSAL: Json = {
  type: 'object',
  properties: {
    error: {
      type: 'object',
      properties: {
        code: { type: 'string' },
        message: { type: 'string', description: 'In words for a person: what was met, what is expected, what is safe' },
        issues: {
          type: 'array',
          items: {
            type: 'object',
            properties: { code: { type: 'string' }, path: { type: 'array' }, met: { type: 'string' }, expected: { type: 'string' } },
          },
        },
      },
      required: ['code', 'message'],
    },
  },
  required: ['error'],
};

const NAMES: Readonly<Record<string, string>> = {
  'rule.schema.json': 'Rule',
  'segment.schema.json': 'Segment',
  'campaign.schema.json': 'Campaign',
  'budget.schema.json': 'Budget',
  'site.schema.json': 'SiteDocument',
};

/** The rule language's schemas as components: their inner names are shared and become components too. */
function components(): Record<string, Json> {
  const all: Record<string, Json> = { Refusal: REFUSAL, ...ANSWERS.schemas };
  for (const [file, schema] of Object.entries(jsonSchemas())) {
    const name = NAMES[file];
    if (!name) continue;
    const { $schema: _version, $defs = {}, ...rest } = schema as Json & { $defs?: Record<string, Json> };
    for (const [inner, one] of Object.entries($defs)) all[inner] = one;
    if (name !== 'Rule') all[name] = rest;
  }
  return JSON.parse(JSON.stringify(all).replaceAll('#/$defs/', '#/components/schemas/')) as Record<string, Json>;
}

/** Whom a right is for, where it is not for every member. */
const FOR: { readonly [R in Right | 'anybody']?: string } = {
  people: 'For owners, editors and agents.',
  answer: 'For owners, editors and agents.',
  export: 'For owners and editors.',
  edit: 'For owners and editors.',
  own: 'For owners.',
};

/** The studio's HTTP API as an OpenAPI 3.1 document. */
export function openApiDocument(endpoints: readonly Endpoint[]): Json {
  return {
    openapi: '3.1.0',
    info: {
      title: 'Crindle studio',
      version: '1',
      description:
        'What the studio’s screens ask. A request carries the session cookie that signing in sets; what changes something also comes from the studio’s own origin. A site is the member’s.',
    },
    components: {
      schemas: components(),
      securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'crindle_session' } },
    },
    security: [{ session: [] }],
    paths: Object.fromEntries(
      [...new Set(endpoints.map(({ path }) => path))]
        .sort()
        .map((path) => [
          path,
          Object.fromEntries(endpoints.filter((one) => one.path === path).map((one) => [one.method.toLowerCase(), operation(one)])),
        ]),
    ),
  };
}

function operation(endpoint: Endpoint): Json {
  const { method, path, right, says, answers, query, alsoAsked, type = 'application/json' } = endpoint;
  const asked = { ...(query && queryShapes(query)), ...alsoAsked };
  const parameters = [
    ...pathParameters(path),
    ...Object.entries(asked).map(([name, schema]) => ({
      name,
      in: 'query',
      schema,
      ...(schema['type'] === 'array' ? { explode: true } : {}),
    })),
  ];
  const shape = bodyShapeOf(endpoint);
  const schema = ANSWERS.answers[`${method} ${path}`];
  const refused = (description: string): Json => ({ description, content: { 'application/json': { schema: ref('Refusal') } } });
  return {
    summary: says,
    ...(FOR[right] ? { description: FOR[right] } : {}),
    ...(parameters.length ? { parameters } : {}),
    ...(shape ? { requestBody: { required: true, content: { 'application/json': { schema: shape } } } } : {}),
    responses: {
      200: { description: answers, content: { [type]: schema ? { schema } : {} } },
      401: refused('Signed out'),
      ...(FOR[right] ? { 403: refused('Not for this role, or not from the studio') } : {}),
      ...(method === 'GET' ? {} : { 409: refused('Changed elsewhere, used, or a name that is taken') }),
      ...(path.includes('{') ? { 404: refused('Not there any more') } : {}),
      ...(shape || Object.keys(asked).length
        ? { 422: refused('Something of the request is not as it should be; each field is named') }
        : {}),
      503: refused('The database cannot be reached'),
    },
  };
}
