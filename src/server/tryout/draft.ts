import { picturesIn } from '@/core/messages/pictures';
import type { Draft } from '@/core/tryout/judge';
import { LRUCache } from 'lru-cache';
import { listCampaigns } from '../db/campaigns';
import type { Database } from '../db/directory';
import { findPictureSizes } from '../db/pictures';
import { loadNames } from '../db/recorded';
import { maybeOne, one } from '../db/queryable';
import { findSite } from '../db/sites';
import { loadPlaces, pageSets } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';

export interface LoadedDraft extends Draft {
  /** When something of it was last changed, UTC ms. */
  readonly at: number;
  /** Two that are alike are the same. */
  readonly print: string;
}

/** What is changed in the studio is tried within this. */
const FRESH_MS = 1500;

interface Kept {
  readonly at: number;
  readonly draft: Promise<LoadedDraft>;
}

/** One for each process: whoever tries asks once a second. What has not changed stays the same object. */
export function draftLoader(now: () => number): (db: Database, siteId: number) => Promise<LoadedDraft> {
  const kept = new LRUCache<number, Kept>({ max: 50 });
  return (db, siteId) => {
    const known = kept.get(siteId);
    if (known && now() - known.at < FRESH_MS) return known.draft;
    const entry: Kept = { at: now(), draft: load(db, siteId, known?.draft) };
    kept.set(siteId, entry);
    entry.draft.catch(() => kept.peek(siteId) === entry && kept.delete(siteId));
    return entry.draft;
  };
}

async function load(db: Database, siteId: number, last: Promise<LoadedDraft> | undefined): Promise<LoadedDraft> {
  const { print } = await one<{ print: string }>(db, PRINT, [siteId]);
  const before = await last?.catch(() => undefined);
  return before?.print === print ? before : loadDraft(db, siteId, print);
}

/** Of everything that is tried: when it was changed last, and what has no such instant itself. */
const PRINT = `select md5(concat_ws('|',
  (select string_agg(concat_ws(':', id, updated_at, position), ',' order by id) from campaign where site_id = $1),
  (select string_agg(concat_ws(':', id, updated_at), ',' order by id) from segment where site_id = $1),
  (select string_agg(concat_ws(':', id, updated_at), ',' order by id) from page_set where site_id = $1),
  (select string_agg(concat_ws(':', id, updated_at), ',' order by id) from place where site_id = $1),
  (select concat_ws(':', budget, brand, addresses) from site where id = $1),
  (select max(number) from release where site_id = $1))) as print`;

async function loadDraft(db: Database, siteId: number, print: string): Promise<LoadedDraft> {
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
    print,
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
