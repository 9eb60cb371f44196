import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import type pg from 'pg';
import { hashPassword } from '@/server/auth/password';
import { insertCampaign } from '@/server/db/campaigns';
import { createMember, joinSite } from '@/server/db/members';
import { withTransaction } from '@/server/db/pool';
import { insertSegment } from '@/server/db/segments';
import { createSite, findSiteByKey, setAddresses } from '@/server/db/sites';
import { insertPageSet, insertPlace, loadPageSets, loadPlaces } from '@/server/db/vocabulary';
import { publish } from '@/server/releases/publish';
import { segmentBodies } from '@/server/segments/bodies';
import { createCampaignPlay } from './simulator/campaigns';
import { simulate } from './simulator/simulate';
import { storeLives } from './simulator/store';
import { CAMPAIGNS } from './world/campaigns';
import { PAGE_SETS, PLACES, SEGMENTS } from './world/segments';
import { TRUTHS } from './world/truth';
import { DAY_MS } from '@/core/time/day';

export const DEMO = { siteKey: 'tarnhollowdemo', email: 'ines@tarnhollow.example', password: 'lantern-col', name: 'Ines Rauch' } as const;
/** Works on the same site, with the same password. */
export const COLLEAGUE = { email: 'jonas@tarnhollow.example', name: 'Jonas Weir' } as const;

export interface SeedOptions {
  readonly visits: number;
  readonly addresses: readonly string[];
  /** UTC ms: the end of the simulated time. */
  readonly now: number;
  readonly seed?: string;
  /** Where the ground truth is written; nowhere if undefined. */
  readonly truthFile?: string | undefined;
  readonly log: (line: string) => void;
}

/** Loads the demo once: the site, its owner, segments, campaigns, a first release, and simulated visits. If the site is there, only its addresses are set: ports may have changed. */
export async function seedDemo(pool: pg.Pool, { visits, addresses, now, seed = 'tarnhollow', truthFile, log }: SeedOptions): Promise<void> {
  const existing = await findSiteByKey(pool, DEMO.siteKey);
  if (existing) return setAddresses(pool, existing.id, addresses);
  const passwordHash = await hashPassword(DEMO.password);
  // The months of the simulated time get their partitions before the first row comes.
  for (let daysAgo = 0; daysAgo <= 70; daysAgo += 10)
    await pool.query(`select add_partitions((at_ms($1))::date)`, [now - daysAgo * DAY_MS]);
  const { siteId, memberId } = await withTransaction(pool, async (tx) => {
    const site = await createSite(tx, { key: DEMO.siteKey, name: 'Tarnhollow Huts', addresses, keptParameters: ['utm_*', 'day'] });
    const member = await createMember(tx, { email: DEMO.email, name: DEMO.name, passwordHash });
    await joinSite(tx, { siteId: site.id, memberId: member, role: 'owner' });
    const colleague = await createMember(tx, { ...COLLEAGUE, passwordHash });
    await joinSite(tx, { siteId: site.id, memberId: colleague, role: 'editor' });
    for (const set of PAGE_SETS) await insertPageSet(tx, site.id, set);
    for (const place of PLACES) await insertPlace(tx, site.id, place);
    for (const segment of SEGMENTS) await insertSegment(tx, { siteId: site.id, ...segment });
    for (const { id, status, document } of CAMPAIGNS) await insertCampaign(tx, { siteId: site.id, id, document, status });
    log(`  making ${visits} visits`);
    const campaigns = createCampaignPlay(
      CAMPAIGNS.flatMap(({ id, document }) => {
        const truth = TRUTHS.find(({ campaign }) => campaign === id);
        return truth ? [{ id, truth, ...document }] : [];
      }),
      { sets: await loadPageSets(tx, site.id), places: await loadPlaces(tx, site.id), segments: await segmentBodies(tx, site.id) },
      now,
    );
    const lives = simulate({ seed, visits, days: 60, until: now, origin: `http://${addresses[0] ?? 'tarnhollow.example'}`, campaigns });
    let told = 0;
    const stored = await storeLives(tx as pg.PoolClient, site.id, lives, {
      release: 1,
      onProgress: (done) => {
        if (done - told >= visits / 5 || done === visits) log(`  stored ${(told = done)} of ${visits} visits`);
      },
    });
    if (truthFile) {
      mkdirSync(dirname(truthFile), { recursive: true });
      writeFileSync(truthFile, `${JSON.stringify({ seed, until: new Date(now).toISOString(), ...stored, campaigns: TRUTHS }, null, 2)}\n`);
    }
    return { siteId: site.id, memberId: member };
  });
  await publish(pool, { siteId, memberId, name: 'First snow', note: 'The packing list in the journal, and nine more.' });
  // The simulated showings are of this release: it was out when they happened.
  await pool.query(`update release set published_at = at_ms($2) where site_id = $1 and number = 1`, [siteId, now - 45 * DAY_MS]);
  await pool.query('vacuum analyze');
}
