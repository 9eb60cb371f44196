import { createHash } from 'node:crypto';
import type { CampaignStatus } from '@/core/campaigns/campaign';
import type { ReleaseSource } from '@/core/release/words';
import type { Release, ReleasedFacts } from '@/core/release/release';
import type { Places } from '@/core/geo/place';
import type { PageSets } from '@/core/pages/pattern';
import { queueRelease } from './connections';
import type { Queryable } from './queryable';
import { many, maybeOne, one } from './queryable';

export interface CurrentRelease {
  readonly number: number;
  readonly hash: string;
  readonly facts: ReleasedFacts;
  /** Page sets and places as they were when the release was made. */
  readonly sets: PageSets;
  readonly places: Places;
  readonly document: Release;
  /** What it was made of; null for a release of before that was kept. */
  readonly source: ReleaseSource | null;
  /** Of the document as text, in letters. */
  readonly length: number;
}

export async function findCurrentRelease(db: Queryable, siteId: number): Promise<CurrentRelease | undefined> {
  return maybeOne<CurrentRelease & Record<string, unknown>>(
    db,
    `select number, hash, document, source, length(document::text) as length, facts -> 'conditions' as facts, facts -> 'sets' as sets, coalesce(facts -> 'places', '{}') as places
       from release where site_id = $1 order by number desc limit 1`,
    [siteId],
  );
}

/** A release as pages get it: without campaigns that are paused, not yet begun, or over. */
export interface ServedRelease extends CurrentRelease {
  /** As it was published. */
  readonly published: Release;
}

/** Those that are held back from pages; one that was switched off goes with the next release. */
const HELD_BACK: readonly CampaignStatus[] = ['paused', 'scheduled', 'ended'];

/** What pages get now; undefined where nothing is published. */
export async function findServedRelease(db: Queryable, siteId: number): Promise<ServedRelease | undefined> {
  const current = await findCurrentRelease(db, siteId);
  if (!current) return undefined;
  const held = await many<{ id: string }>(db, `select id from campaign where site_id = $1 and status = any($2::text[])`, [
    siteId,
    HELD_BACK,
  ]);
  const ids = new Set(held.map(({ id }) => id));
  const { document } = current;
  if (!document.campaigns.some(({ id }) => ids.has(id))) return { ...current, published: document };
  const served = { ...document, campaigns: document.campaigns.filter(({ id }) => !ids.has(id)) };
  return { ...current, document: served, published: document, hash: hashOf(served), length: JSON.stringify(served).length };
}

export async function findRelease(
  db: Queryable,
  siteId: number,
  number: number,
): Promise<(CurrentRelease & { readonly name: string }) | undefined> {
  return maybeOne<CurrentRelease & { name: string } & Record<string, unknown>>(
    db,
    `select number, name, hash, document, source, length(document::text) as length, facts -> 'conditions' as facts, facts -> 'sets' as sets,
            coalesce(facts -> 'places', '{}') as places
       from release where site_id = $1 and number = $2`,
    [siteId, number],
  );
}

export async function findReleaseByHash(db: Queryable, siteId: number, hash: string): Promise<Release | undefined> {
  return (
    await maybeOne<{ document: Release }>(
      db,
      `select document from release where site_id = $1 and hash = $2 order by number desc limit 1`,
      [siteId, hash],
    )
  )?.document;
}

export const hashOf = (document: Release): string => createHash('sha256').update(JSON.stringify(document)).digest('base64url').slice(0, 22);

export async function insertRelease(
  db: Queryable,
  {
    siteId,
    memberId,
    name,
    note,
    document,
    facts,
    sets,
    places,
    source,
    backTo,
  }: {
    siteId: number;
    memberId: number | null;
    name: string;
    note: string;
    document: Release;
    facts: ReleasedFacts;
    sets: PageSets;
    places: Places;
    source: ReleaseSource | null;
    /** The release that it is the same as. */
    backTo?: number;
  },
): Promise<void> {
  await db.query(
    `insert into release (site_id, number, name, note, document, facts, hash, member_id, source, back_to)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
    [
      siteId,
      document.number,
      name,
      note,
      document,
      { conditions: facts, sets, places },
      hashOf(document),
      memberId,
      source,
      backTo ?? null,
    ],
  );
  await queueRelease(db, siteId, document.number);
}

/** The number the next release will have. Locks the site's row, so that two people publishing at once get two numbers. */
export async function nextReleaseNumber(db: Queryable, siteId: number): Promise<number> {
  await one(db, `select id from site where id = $1 for no key update`, [siteId]);
  const { next } = await one<{ next: number }>(db, `select coalesce(max(number), 0) + 1 as next from release where site_id = $1`, [siteId]);
  return next;
}

export interface ReleaseLine {
  readonly number: number;
  readonly name: string;
  readonly note: string;
  readonly publishedAt: Date;
  readonly by: string | null;
  readonly campaigns: number;
  readonly backTo: number | null;
  readonly source: ReleaseSource | null;
}

export async function listReleases(db: Queryable, siteId: number): Promise<ReleaseLine[]> {
  return many<ReleaseLine & Record<string, unknown>>(
    db,
    `select number, release.name, note, published_at as "publishedAt", member.name as by, jsonb_array_length(document -> 'campaigns') as campaigns,
            back_to as "backTo", source
       from release left join member on member.id = release.member_id
      where site_id = $1 order by number desc limit 100`,
    [siteId],
  );
}
