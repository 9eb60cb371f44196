import { z } from 'zod';
import { campaignSchema, goalSchema } from '../campaigns/campaign';
import { placeShapeSchema } from '../geo/place';
import { siteDocumentSchema } from '../exchange/siteDocument';
import { flowSchema } from '../flows/flow';
import { momentSchema } from '../moments/moment';
import { budgetSchema, pacingSchema } from '../pacing/pacing';
import { pagesSchema } from '../pages/pages';
import { plainPatternSchema } from '../pages/pattern';
import { peopleConditionSchema } from '../people/condition';
import { lookbackSchema } from '../people/within';
import { MOST_LEAVES, MOST_LEVELS } from '../logic/expr';

type JsonSchema = Readonly<Record<string, unknown>>;

/** Conditions of one family joined by all, any or none; nesting and number are limited, which JSON Schema cannot say. */
function expression(name: string): JsonSchema {
  const parts = { type: 'array', items: { $ref: `#/$defs/${name}Expr` }, maxItems: MOST_LEAVES };
  const group = (join: string): JsonSchema => ({
    type: 'object',
    properties: { [join]: parts },
    required: [join],
    additionalProperties: false,
  });
  return {
    description: `Nested at most ${MOST_LEVELS} deep, with at most ${MOST_LEAVES} conditions in all.`,
    anyOf: [{ $ref: `#/$defs/${name}` }, group('all'), group('any'), group('none')],
  };
}

function plain(schema: z.ZodType): JsonSchema {
  const { $schema: _schema, ...rest } = z.toJSONSchema(schema, { unrepresentable: 'any' }) as Record<string, unknown>;
  return rest;
}

const definitions = (): JsonSchema => ({
  Condition: plain(peopleConditionSchema()),
  ConditionExpr: expression('Condition'),
  Moment: plain(momentSchema()),
  MomentExpr: expression('Moment'),
  Pages: plain(pagesSchema()),
  Pacing: plain(pacingSchema()),
  Rule: {
    type: 'object',
    properties: {
      version: { const: 1 },
      people: { $ref: '#/$defs/ConditionExpr' },
      pages: { $ref: '#/$defs/Pages' },
      moment: { $ref: '#/$defs/MomentExpr' },
      pacing: { $ref: '#/$defs/Pacing' },
    },
    additionalProperties: false,
  },
});

function document(title: string, body: JsonSchema): JsonSchema {
  return { $schema: 'https://json-schema.org/draft/2020-12/schema', title, ...body, $defs: definitions() };
}

/** The published formats, by the name of their file in docs/formats. */
export function jsonSchemas(): Readonly<Record<string, JsonSchema>> {
  const name = { type: 'string', minLength: 1, maxLength: 200 };
  const segment: JsonSchema = {
    type: 'object',
    properties: {
      version: { const: 1 },
      id: { type: 'string', minLength: 1, maxLength: 100 },
      name,
      lookback: plain(lookbackSchema()),
      people: { $ref: '#/$defs/ConditionExpr' },
    },
    required: ['lookback', 'people'],
    additionalProperties: false,
  };
  const campaign: JsonSchema = {
    type: 'object',
    properties: {
      version: { const: 1 },
      name,
      goal: plain(goalSchema),
      rule: { $ref: '#/$defs/Rule' },
      flow: plain(flowSchema()),
      holdout: plain(campaignSchema.shape.holdout),
      variants: plain(campaignSchema.shape.variants),
    },
    required: ['name', 'goal', 'rule', 'flow'],
    additionalProperties: false,
  };
  const { pageSets, places, purposes, pictures, brand } = siteDocumentSchema.shape;
  return {
    'rule.schema.json': document('Display rule', { $ref: '#/$defs/Rule' }),
    'segment.schema.json': document('Segment', segment),
    'campaign.schema.json': document('Campaign', campaign),
    'page-set.schema.json': {
      $schema: 'https://json-schema.org/draft/2020-12/schema',
      title: 'Page set',
      type: 'array',
      items: plain(plainPatternSchema()),
    },
    'place.schema.json': { $schema: 'https://json-schema.org/draft/2020-12/schema', title: 'Shape of a place', ...plain(placeShapeSchema) },
    'site.schema.json': document('Everything that people wrote for a site', {
      type: 'object',
      properties: {
        version: { const: 1 },
        kind: { const: 'site' },
        name,
        budget: plain(budgetSchema()),
        brand: plain(brand),
        pageSets: plain(pageSets),
        places: plain(places),
        segments: { type: 'array', items: segment },
        purposes: plain(purposes),
        campaigns: {
          type: 'array',
          items: {
            type: 'object',
            properties: { id: { type: 'string' }, purpose: { type: 'string' }, document: campaign },
            required: ['id', 'document'],
            additionalProperties: false,
          },
        },
        pictures: plain(pictures),
      },
      required: ['version', 'kind', 'name', 'budget', 'brand', 'pageSets', 'places', 'segments', 'purposes', 'campaigns', 'pictures'],
      additionalProperties: false,
    }),
    'budget.schema.json': { $schema: 'https://json-schema.org/draft/2020-12/schema', title: 'Budget of a site', ...plain(budgetSchema()) },
  };
}
