import type { CampaignDocument } from '@/core/campaigns/campaign';
import type { SiteDocument } from '@/core/exchange/siteDocument';
import { freeName, missingIn, onlyCampaign, withNewIds } from '@/core/exchange/siteDocument';
import { issueWords } from '@/core/parsing/parse';
import { picturesIn } from '@/core/messages/pictures';
import { inOrderOfUse } from '@/core/rules/rename';
import { referencesIn } from '@/core/rules/references';
import { documentOf, insertCampaign, listCampaigns } from '../db/campaigns';
import { listGoals, setMainGoal } from '../db/goals';
import { newId } from '../db/ids';
import { findPicture, keepPicture, listPictures } from '../db/pictures';
import { listPurposes, makePurpose, setPurpose } from '../db/purposes';
import type { Queryable } from '../db/queryable';
import { insertSegment, listSegments } from '../db/segments';
import type { Site } from '../db/sites';
import { setBrand, setBudget } from '../db/sites';
import { goals, insertPageSet, insertPlace, pageSets, places } from '../db/vocabulary';
import { takePicture } from '../pictures/take';
import { pictureUrl } from '../pictures/url';
import { circleThrough } from '../segments/bodies';

/** It could not be brought in, and nothing of it was. */
export class NotBroughtIn extends Error {
  readonly code = 'import.refused';
}

const MOST_PICTURES = 2000;

/**
 * Everything that people wrote for a site; visits, leads and releases stay where they are. `only`: of one campaign, or of what could be one, with what it
 * names. @throws NotBroughtIn where there is no such campaign
 */
export async function exportSite(
  db: Queryable,
  { id, name, budget, brand }: Site,
  { only }: { only?: string | { readonly id: string; readonly document: CampaignDocument } } = {},
): Promise<SiteDocument> {
  const [campaigns, segments, sets, spots, purposes, kept, named] = [
    await listCampaigns(db, id),
    await listSegments(db, id),
    await pageSets.list(db, id),
    await places.list(db, id),
    await listPurposes(db, id),
    await listPictures(db, id, MOST_PICTURES),
    await listGoals(db, id),
  ];
  const main = named.find(({ isMain }) => isMain)?.id;
  const whole: Omit<SiteDocument, 'pictures'> = {
    version: 1,
    kind: 'site',
    name,
    budget,
    brand,
    pageSets: sets.map(({ id: set, name: called, patterns }) => ({ id: set, name: called, patterns: [...patterns] })),
    places: spots.map(({ id: place, name: called, shape }) => ({ id: place, name: called, shape })),
    segments: segments.map(({ id: segment, name: called, lookback, people }) => ({ id: segment, name: called, lookback, people })),
    goals: named.map(({ id: goal, name: called, goal: body }) => ({ id: goal, name: called, goal: body })),
    ...(main ? { mainGoal: main } : {}),
    purposes: purposes.map(({ id: purpose, name: called }) => ({ id: purpose, name: called })),
    campaigns: campaigns.map((campaign) => ({
      id: campaign.id,
      ...(campaign.purpose ? { purpose: campaign.purpose } : {}),
      document: documentOf(campaign),
    })),
  };
  const document =
    only === undefined
      ? whole
      : typeof only === 'string'
        ? onlyCampaign(whole, only)
        : onlyCampaign({ ...whole, campaigns: [only] }, only.id);
  if (!document) throw new NotBroughtIn('This campaign was deleted elsewhere');
  const used = new Set(picturesIn([document.brand, document.campaigns]));
  const pictures = [];
  for (const { hash, name: file } of kept.filter((one) => used.has(one.hash))) {
    const bytes = await findPicture(db, id, hash);
    if (bytes) pictures.push({ hash, name: file, webp: bytes.toString('base64') });
  }
  return { ...document, pictures };
}

export interface BroughtIn {
  readonly campaigns: number;
  readonly segments: number;
  readonly pageSets: number;
  readonly places: number;
  readonly goals: number;
  readonly pictures: number;
}

/**
 * Brings a document into a site, all or nothing: with ids of its own, names with a number behind them where they are taken, campaigns as drafts
 * behind those that are there. Brand and budget are taken over where the site has none. Gives what came, and the
 * ids that campaigns have here. In a transaction. @throws NotBroughtIn
 */
export async function importSite(tx: Queryable, site: Site, document: SiteDocument): Promise<{ came: BroughtIn; made: readonly string[] }> {
  const missing = missingIn(document);
  if (missing.length > 0) throw new NotBroughtIn(missing.slice(0, 5).map(issueWords).join('; '));
  const bodies = Object.fromEntries(document.segments.map((segment) => [segment.id, segment]));
  for (const { id, name, people } of document.segments)
    if (circleThrough(id, people, bodies)) throw new NotBroughtIn(`segments: “${name}” refers back to itself`);
  const mapOf = (list: readonly { id: string }[], prefix: string) => new Map(list.map(({ id }) => [id, newId(prefix)]));
  const pictures = new Map<string, string>();
  for (const { hash, name, webp } of document.pictures) {
    const encoded = await takePicture(Buffer.from(webp, 'base64'));
    await keepPicture(tx, site.id, { ...encoded, name });
    pictures.set(hash, pictureUrl(site.key, encoded.hash));
  }
  const ids = {
    segments: mapOf(document.segments, 'seg'),
    sets: mapOf(document.pageSets, 'set'),
    places: mapOf(document.places, 'place'),
    campaigns: mapOf(document.campaigns, 'camp'),
    goals: mapOf(document.goals ?? [], 'goal'),
    pictures,
  };
  const [campaigns, segments, sets, spots] = [
    await listCampaigns(tx, site.id),
    await listSegments(tx, site.id),
    await pageSets.list(tx, site.id),
    await places.list(tx, site.id),
  ];
  const takenBy = (list: readonly { name: string }[]) => new Set(list.map(({ name }) => name.toLowerCase()));
  const idOf = (map: ReadonlyMap<string, string>, id: string): string => map.get(id) ?? id;
  const setNames = takenBy(sets);
  for (const { id, name, patterns } of document.pageSets)
    await insertPageSet(tx, site.id, { id: idOf(ids.sets, id), name: freeName(name, setNames), patterns });
  const placeNames = takenBy(spots);
  for (const { id, name, shape } of document.places)
    await insertPlace(tx, site.id, { id: idOf(ids.places, id), name: freeName(name, placeNames), shape });
  const segmentNames = takenBy(segments);
  for (const { id, name, lookback, people } of inOrderOfUse(document.segments, (one) => referencesIn(one.people).segments))
    await insertSegment(tx, {
      siteId: site.id,
      id: idOf(ids.segments, id),
      name: freeName(name, segmentNames),
      lookback,
      people: withNewIds(people, ids),
    });
  const here = await listGoals(tx, site.id);
  const goalNames = takenBy(here);
  for (const { id, name, goal } of document.goals ?? [])
    await goals.insert(tx, site.id, { id: idOf(ids.goals, id), name: freeName(name, goalNames), body: withNewIds(goal, ids) });
  if (document.mainGoal && !here.some(({ isMain }) => isMain)) await setMainGoal(tx, site.id, idOf(ids.goals, document.mainGoal));
  const campaignNames = takenBy(campaigns);
  for (const { id, document: one } of document.campaigns)
    await insertCampaign(tx, {
      siteId: site.id,
      id: idOf(ids.campaigns, id),
      document: { ...withNewIds(one, ids), name: freeName(one.name, campaignNames) },
    });
  await bringPurposes(tx, site.id, document, ids.campaigns);
  if (Object.keys(site.brand).length === 0) await setBrand(tx, site.id, { was: site.brand, brand: withNewIds(document.brand, ids) });
  if (Object.keys(site.budget).length === 0) await setBudget(tx, site.id, document.budget);
  const came = {
    campaigns: document.campaigns.length,
    segments: document.segments.length,
    pageSets: document.pageSets.length,
    places: document.places.length,
    goals: document.goals?.length ?? 0,
    pictures: pictures.size,
  };
  return { came, made: [...ids.campaigns.values()] };
}

/** Campaigns of one purpose are alike already: they are only put together again. */
async function bringPurposes(tx: Queryable, siteId: number, document: SiteDocument, campaigns: ReadonlyMap<string, string>): Promise<void> {
  const taken = new Set((await listPurposes(tx, siteId)).map(({ name }) => name.toLowerCase()));
  for (const { id, name } of document.purposes) {
    const [first, ...more] = document.campaigns.flatMap((one) => (one.purpose === id ? [campaigns.get(one.id) ?? ''] : []));
    if (first === undefined) continue;
    const purpose = newId('purpose');
    await makePurpose(tx, siteId, { id: purpose, name: freeName(name, taken), campaign: first });
    for (const campaign of more) await setPurpose(tx, siteId, { campaign, purpose });
  }
}
