// Everything that people wrote for a site, as one document: to keep, and to bring into another site.
import { z } from 'zod';
import { brandSchema } from '../brand/brand';
import { campaignSchema, siteGoalSchema } from '../campaigns/campaign';
import { placeShapeSchema } from '../geo/place';
import { hashIn } from '../messages/pictures';
import { budgetSchema } from '../pacing/pacing';
import { plainPatternSchema } from '../pages/pattern';
import type { Issue } from '../parsing/parse';
import { referencesIn } from '../rules/references';
import { nameSchema, segmentSchema } from '../rules/schema';

const idSchema = () => z.string().min(1).max(100);

export const siteDocumentSchema = z.strictObject({
  version: z.literal(1),
  kind: z.literal('site'),
  name: nameSchema,
  budget: budgetSchema(),
  brand: brandSchema(),
  pageSets: z.array(z.strictObject({ id: idSchema(), name: nameSchema, patterns: z.array(plainPatternSchema()).max(200) })).max(2000),
  places: z.array(z.strictObject({ id: idSchema(), name: nameSchema, shape: placeShapeSchema })).max(2000),
  segments: z.array(segmentSchema.extend({ id: idSchema(), name: nameSchema })).max(2000),
  /** A document of before there were any has none. */
  goals: z
    .array(z.strictObject({ id: idSchema(), name: nameSchema, goal: siteGoalSchema }))
    .max(1000)
    .optional(),
  mainGoal: idSchema().optional(),
  purposes: z.array(z.strictObject({ id: idSchema(), name: nameSchema })).max(1000),
  /** In the order in which they decide. */
  campaigns: z.array(z.strictObject({ id: idSchema(), purpose: idSchema().optional(), document: campaignSchema })).max(2000),
  pictures: z.array(z.strictObject({ hash: z.string().regex(/^[\w-]{22}$/), name: z.string().max(300), webp: z.base64() })).max(2000),
});
export type SiteDocument = z.infer<typeof siteDocumentSchema>;

/** Old ids and what takes their place; of pictures the old hash and the new address. */
export interface NewIds {
  readonly segments: ReadonlyMap<string, string>;
  readonly sets: ReadonlyMap<string, string>;
  readonly places: ReadonlyMap<string, string>;
  readonly campaigns: ReadonlyMap<string, string>;
  readonly goals: ReadonlyMap<string, string>;
  readonly pictures: ReadonlyMap<string, string>;
}

/** A document, or any part of one, that names everything by new ids; what is not in the maps stays as it is. */
export function withNewIds<T>(document: T, ids: NewIds): T {
  const to = (map: ReadonlyMap<string, string>, id: unknown): unknown => (typeof id === 'string' ? (map.get(id) ?? id) : id);
  const walk = (value: unknown): unknown => {
    if (typeof value === 'string') return ids.pictures.get(hashIn(value) ?? '') ?? value;
    if (Array.isArray(value)) return value.map(walk);
    if (typeof value !== 'object' || value === null) return value;
    const next = Object.fromEntries(Object.entries(value).map(([key, one]) => [key, walk(one)]));
    if (next['kind'] === 'segment') next['id'] = to(ids.segments, next['id']);
    if (next['kind'] === 'response') next['campaign'] = to(ids.campaigns, next['campaign']);
    if (next['kind'] === 'location' && Array.isArray(next['places']))
      next['places'] = next['places'].map((place: unknown) => to(ids.places, place));
    if (typeof next['set'] === 'string') next['set'] = to(ids.sets, next['set']);
    if ((next['kind'] === 'page' || next['kind'] === 'event') && 'named' in next) next['named'] = to(ids.goals, next['named']);
    return next;
  };
  return walk(document) as T;
}

/** What a document names and does not bring along: it could not be brought in. */
export function missingIn({ pageSets, places, segments, goals = [], campaigns }: SiteDocument): Issue[] {
  const known = {
    segments: new Set(segments.map(({ id }) => id)),
    sets: new Set(pageSets.map(({ id }) => id)),
    places: new Set(places.map(({ id }) => id)),
  };
  const check = (part: unknown, path: (string | number)[]): Issue[] =>
    (['segments', 'sets', 'places'] as const).flatMap((kind) =>
      referencesIn(part)
        [kind].filter((id) => !known[kind].has(id))
        .map((met) => ({ code: 'import.unknown', path, met, expected: `the id of one of its ${kind === 'sets' ? 'page sets' : kind}` })),
    );
  return [
    ...segments.flatMap(({ people }, index) => check(people, ['segments', index, 'people'])),
    ...goals.flatMap(({ goal }, index) => check(goal, ['goals', index, 'goal'])),
    ...campaigns.flatMap(({ document }, index) => check(document, ['campaigns', index, 'document'])),
  ];
}

type WithoutPictures = Omit<SiteDocument, 'pictures'>;

/** Of a site one campaign, with the segments, page sets, places and goals that it names, these with theirs, and nothing else; undefined where it has none such. */
export function onlyCampaign(site: WithoutPictures, id: string): WithoutPictures | undefined {
  const campaign = site.campaigns.find((one) => one.id === id);
  if (!campaign) return undefined;
  const { document } = campaign;
  const goal = 'named' in document.goal ? document.goal.named : undefined;
  const goals = (site.goals ?? []).filter((one) => one.id === goal);
  const segments = new Map<string, SiteDocument['segments'][number]>();
  const takeAlong = (part: unknown): void => {
    for (const named of referencesIn(part).segments) {
      const segment = site.segments.find((one) => one.id === named);
      if (!segment || segments.has(named)) continue;
      segments.set(named, segment);
      takeAlong(segment.people);
    }
  };
  takeAlong(document);
  const { sets, places } = referencesIn([document, goals, [...segments.values()]]);
  return {
    version: 1,
    kind: 'site',
    name: site.name,
    budget: {},
    brand: {},
    pageSets: site.pageSets.filter((one) => sets.includes(one.id)),
    places: site.places.filter((one) => places.includes(one.id)),
    segments: [...segments.values()],
    goals,
    purposes: [],
    campaigns: [{ id, document }],
  };
}

/** A name that is not taken, which it then is: with a number behind it where it has to be. */
export function freeName(wanted: string, taken: Set<string>): string {
  const start = wanted.slice(0, 190);
  let name = start;
  for (let number = 2; taken.has(name.toLowerCase()); number++) name = `${start} ${number}`;
  taken.add(name.toLowerCase());
  return name;
}
