import { picturesIn } from '@/core/messages/pictures';
import type { Draft } from '@/core/tryout/judge';
import { LRUCache } from 'lru-cache';
import { listCampaigns } from '../db/campaigns';
import type { Database } from '../db/directory';
import { findPictureSizes } from '../db/pictures';
import { loadNames } from '../db/recorded';
import { maybeOne } from '../db/queryable';
import { findSite } from '../db/sites';
import { loadPlaces, pageSets } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';

export interface LoadedDraft extends Draft {
  /** When something of it was last changed, UTC ms. */
  readonly at: number;
}

/** What is changed in the studio is tried within this. */
const FRESH_MS = 1500;

/** One for each process: whoever tries asks once a second. */
export function draftLoader(now: () => number): (db: Database, siteId: number) => Promise<LoadedDraft> {
  const kept = new LRUCache<number, { readonly at: number; readonly draft: Promise<LoadedDraft> }>({ max: 50 });
  return (db, siteId) => {
    const known = kept.get(siteId);
    if (known && now() - known.at < FRESH_MS) return known.draft;
    const draft = loadDraft(db, siteId);
    const entry = { at: now(), draft };
    kept.set(siteId, entry);
    draft.catch(() => kept.peek(siteId) === entry && kept.delete(siteId));
    return draft;
  };
}

async function loadDraft(db: Database, siteId: number): Promise<LoadedDraft> {
  const [site, campaigns, segments, list, places, names, current] = await Promise.all([
    findSite(db, siteId),
    listCampaigns(db, siteId),
    segmentBodies(db, siteId),
    pageSets.list(db, siteId),
    loadPlaces(db, siteId),
    loadNames(db, siteId),
    maybeOne<{ number: number }>(db, `select max(number)::int as number from release where site_id = $1`, [siteId]),
  ]);
  const brand = site?.brand ?? {};
  return {
    campaigns: campaigns.filter(({ status }) => status !== 'ended'),
    segments,
    sets: Object.fromEntries(list.map(({ id, patterns }) => [id, patterns])),
    setNames: Object.fromEntries(list.map(({ id, name }) => [id, name])),
    places,
    budget: site?.budget ?? {},
    brand,
    sizes: await findPictureSizes(db, siteId, picturesIn([brand, campaigns.map(({ flow }) => flow)])),
    names,
    ownHosts: site?.addresses ?? [],
    number: (current?.number ?? 0) + 1,
    at: Math.max(0, ...campaigns.map(({ updatedAt }) => updatedAt.getTime()), ...list.map(({ updatedAt }) => updatedAt.getTime())),
  };
}
