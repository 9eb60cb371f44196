import { BRAND } from './world/brand';
import { mkdirSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { dirname } from 'node:path';
import type pg from 'pg';
import { hashPassword } from '@/server/auth/password';
import { insertCampaign } from '@/server/db/campaigns';
import { createMember, joinSite } from '@/server/db/members';
import { withTransaction } from '@/server/db/pool';
import { ReadSide } from '@/server/db/readSide';
import { insertSegment } from '@/server/db/segments';
import { createSite, findSiteByKey, setAddresses, setBrand } from '@/server/db/sites';
import { setMainGoal } from '@/server/db/goals';
import { goals, insertPageSet, insertPlace } from '@/server/db/vocabulary';
import { publish } from '@/server/releases/publish';
import { sealVisits } from '@/server/sealed/seal';
import { seedConnections } from './connections';
import { seedConversations } from './conversations';
import { doShare, doShares } from './simulator/share';
import { CAMPAIGNS } from './world/campaigns';
import { GOALS, MAIN_GOAL } from './world/goals';
import { PAGE_SETS, PLACES, SEGMENTS } from './world/segments';
import { TRUTHS } from './world/truth';
import { DAY_MS } from '@/core/time/day';

export const DEMO = { siteKey: 'tarnhollowdemo', email: 'ines@tarnhollow.example', password: 'lantern-col', name: 'Ines Rauch' } as const;
/** Works on the same site, with the same password. */
export const COLLEAGUE = { email: 'jonas@tarnhollow.example', name: 'Jonas Weir' } as const;

export interface SeedOptions {
  readonly visits: number;
  /** Over how many days they are spread. */
  readonly days?: number;
  readonly addresses: readonly string[];
  /** UTC ms: the end of the simulated time. */
  readonly now: number;
  readonly seed?: string;
  /** Where the ground truth is written; nowhere if undefined. */
  readonly truthFile?: string | undefined;
  /** Address of the services that stand in for others; without it the site has no connections. */
  readonly standins?: string | undefined;
  readonly log: (line: string) => void;
}

/** Loads the demo once: the site, its owner, segments, campaigns, a first release, and simulated visits. If the site is there, only its addresses are set: ports may have changed. */
export async function seedDemo(
  pool: pg.Pool,
  { visits, days = 60, addresses, now, seed = 'tarnhollow', truthFile, standins, log }: SeedOptions,
): Promise<void> {
  const existing = await findSiteByKey(pool, DEMO.siteKey);
  if (existing) {
    await setAddresses(pool, existing.id, addresses);
    if (standins) await seedConnections(pool, existing.id, { url: standins, isNew: false });
    return;
  }
  await forgetHalfLoaded(pool);
  const passwordHash = await hashPassword(DEMO.password);
  // The months of the simulated time get their partitions before the first row comes.
  for (let daysAgo = 0; daysAgo <= days + 10; daysAgo += 10)
    await pool.query(`select add_partitions((at_ms($1))::date)`, [now - daysAgo * DAY_MS]);
  const { siteId, memberId, colleagueId } = await withTransaction(pool, async (tx) => {
    const site = await createSite(tx, { key: LOADING, name: 'Tarnhollow Huts', addresses, keptParameters: ['utm_*', 'day'] });
    await setBrand(tx, site.id, { was: {}, brand: BRAND });
    const member = await createMember(tx, { email: DEMO.email, name: DEMO.name, passwordHash });
    await joinSite(tx, { siteId: site.id, memberId: member, role: 'owner' });
    const colleague = await createMember(tx, { ...COLLEAGUE, passwordHash });
    await joinSite(tx, { siteId: site.id, memberId: colleague, role: 'editor' });
    for (const set of PAGE_SETS) await insertPageSet(tx, site.id, set);
    for (const place of PLACES) await insertPlace(tx, site.id, place);
    for (const segment of SEGMENTS) await insertSegment(tx, { siteId: site.id, ...segment });
    for (const { id, name, goal } of GOALS) await goals.insert(tx, site.id, { id, name, body: goal });
    await setMainGoal(tx, site.id, MAIN_GOAL);
    for (const { id, status, document } of CAMPAIGNS) await insertCampaign(tx, { siteId: site.id, id, document, status });
    return { siteId: site.id, memberId: member, colleagueId: colleague };
  });
  log(`  making ${visits} visits`);
  let told = 0;
  const onProgress = (done: number): void => {
    if (done - told >= visits / 5 || done === visits) log(`  stored ${(told = done)} of ${visits} visits`);
  };
  const simulation = {
    work: 'simulate' as const,
    siteId,
    seed,
    visits,
    days,
    until: now,
    origin: `http://${addresses[0] ?? 'tarnhollow.example'}`,
  };
  const stored =
    visits < MANY
      ? await doShare(pool, simulation, onProgress)
      : await doShares(
          sharesOf(visits).map((own, nth) => ({ ...simulation, seed: `${seed} ${nth}`, visits: own })),
          { threads: availableParallelism(), onProgress },
        );
  if (truthFile) {
    mkdirSync(dirname(truthFile), { recursive: true });
    writeFileSync(truthFile, `${JSON.stringify({ seed, until: new Date(now).toISOString(), ...stored, campaigns: TRUTHS }, null, 2)}\n`);
  }
  await publish(pool, { siteId, memberId, name: 'First snow', note: 'The packing list in the journal, and nine more.' });
  // The simulated showings are of this release: it was out when they happened.
  await pool.query(`update release set published_at = at_ms($2) where site_id = $1 and number = 1`, [siteId, now - 45 * DAY_MS]);
  // Of many rows that takes longer than a statement otherwise may.
  const client = await pool.connect();
  await client.query('set statement_timeout = 0');
  await client.query('vacuum analyze');
  client.release(true);
  log(`  sealing the days that are over`);
  if (visits < MANY) await sealVisits(new ReadSide(pool), siteId, { now });
  else {
    const parts = availableParallelism();
    await doShares(
      Array.from({ length: parts }, (_, part) => ({ work: 'seal', siteId, now, part, parts })),
      { threads: parts },
    );
  }
  if (standins) await withTransaction(pool, (tx) => seedConnections(tx, siteId, { url: standins, isNew: true }));
  await withTransaction(pool, (tx) => seedConversations(tx, siteId, { ines: memberId, jonas: colleagueId, now }));
  await pool.query(`update site set key = $2 where id = $1`, [siteId, DEMO.siteKey]);
}

/** The key of the site while it is being loaded: nobody takes a half for the whole. */
const LOADING = `${DEMO.siteKey}loading`;
/** From so many visits on the work is shared among threads. */
const MANY = 20_000;
/** Visits of one person all lie in one share; the same number of visits is cut into the same shares on every machine. */
const SHARE = 20_000;

function sharesOf(visits: number): number[] {
  const shares = Math.ceil(visits / SHARE);
  return Array.from({ length: shares }, (_, nth) => Math.floor(((nth + 1) * visits) / shares) - Math.floor((nth * visits) / shares));
}

/** What a load left that was broken off. */
async function forgetHalfLoaded(pool: pg.Pool): Promise<void> {
  const half = await findSiteByKey(pool, LOADING);
  if (!half) return;
  await withTransaction(pool, async (tx) => {
    await tx.query('set local statement_timeout = 0');
    // Tables without a reference to the site first.
    for (const table of ['signal_piece', 'page_view']) await tx.query(`delete from ${table} where site_id = $1`, [half.id]);
    await tx.query(`delete from member where id in (select member_id from membership where site_id = $1)`, [half.id]);
    await tx.query(`delete from site where id = $1`, [half.id]);
  });
}
