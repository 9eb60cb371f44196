import type pg from 'pg';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import type { SegmentDocument } from '@/core/rules/schema';
import { compileRelease } from '@/core/release/release';
import { hashPassword } from '@/server/auth/password';
import { insertCampaign } from '@/server/db/campaigns';
import { createMember, joinSite } from '@/server/db/members';
import { withTransaction } from '@/server/db/pool';
import { insertSegment } from '@/server/db/segments';
import { createSite, findSiteByKey, setAddresses } from '@/server/db/sites';
import { publish } from '@/server/releases/publish';
import { simulate } from './simulator/simulate';
import { createDice } from './dice';
import { respond } from './simulator/respond';
import { storeShowings, storeVisits } from './simulator/store';

export const DEMO = { siteKey: 'tarnhollowdemo', email: 'ines@tarnhollow.example', password: 'lantern-col', name: 'Ines Rauch' } as const;

const like = (value: string) => ({ op: 'like' as const, value });

const SEGMENTS: readonly (SegmentDocument & { id: string; name: string })[] = [
  { id: 'seg_comparing', name: 'Comparing huts', lookback: 30, people: { kind: 'viewed', pages: [like('/huts/*')], times: { min: 2 } } },
  { id: 'seg_readers', name: 'Route readers', lookback: 30, people: { kind: 'viewed', pages: [like('/routes/*')], times: { min: 2 } } },
  {
    id: 'seg_left_booking',
    name: 'Started booking and left',
    lookback: 30,
    people: { all: [{ kind: 'viewed', pages: [like('/book')] }, { none: [{ kind: 'viewed', pages: [like('/book/done')] }] }] },
  },
  { id: 'seg_newsletter', name: 'Newsletter arrivals', lookback: 30, people: { kind: 'source', of: 'visit', channel: ['email'] } },
];

const CAMPAIGNS: readonly { id: string; live: boolean; document: CampaignDocument }[] = [
  {
    id: 'camp_packing',
    live: true,
    document: {
      name: 'Packing list',
      goal: { kind: 'form' },
      rule: {
        people: { kind: 'known', is: false },
        pages: { on: [like('/journal/*')] },
        moment: {
          all: [
            { kind: 'scroll', atLeast: 60 },
            { kind: 'delay', seconds: 20, counting: 'engaged' },
          ],
        },
        pacing: { again: { days: 14 }, stop: { dismissed: 2 } },
      },
      message: {
        format: 'popup',
        colour: '#6a5a1c',
        blocks: [
          { kind: 'heading', text: 'The packing list, on one page' },
          { kind: 'text', text: 'Everything in this article as a list you can print and tick off.' },
          { kind: 'form', field: 'email', label: 'Your email', submit: 'Send me the list', thanks: 'It is on its way up the mountain.' },
        ],
        closes: { button: true, dim: true, escape: true },
      },
    },
  },
  {
    id: 'camp_quiet_weeks',
    live: false,
    document: {
      name: 'Quiet weeks',
      goal: { kind: 'page', pages: [like('/book/done')], days: 3 },
      rule: {
        people: { kind: 'segment', id: 'seg_comparing' },
        pages: { on: [like('/huts/**')] },
        moment: { kind: 'exit' },
        pacing: { again: { days: 7 } },
      },
      message: {
        format: 'popup',
        blocks: [
          { kind: 'heading', text: 'Sunday to Thursday, a third less' },
          { kind: 'text', text: 'The huts are quiet in the middle of the week.' },
          { kind: 'button', label: 'See the quiet weeks', action: { kind: 'page', url: '/offers' } },
        ],
        closes: { button: true, dim: true, escape: true },
      },
    },
  },
];

/** The live campaigns as the page would have them, with who fits and how many of those who see the message answer it. */
function demoResponses(): Parameters<typeof respond>[1] {
  const live = CAMPAIGNS.filter((campaign) => campaign.live).map(({ id, document }) => ({ id, ...document }));
  const { release } = compileRelease(live, { number: 1, budget: {}, segments: {}, sets: {} });
  return release.campaigns.map((campaign) => ({ campaign, fits: ({ person }) => person.email === undefined, converts: 0.18 }));
}

/** Loads the demo once: the site, its owner, segments, campaigns, a first release, and simulated visits. If the site is there, only its addresses are set: ports may have changed. */
export async function seedDemo(
  pool: pg.Pool,
  { visits, addresses, now, log }: { visits: number; addresses: readonly string[]; now: number; log: (line: string) => void },
): Promise<void> {
  const existing = await findSiteByKey(pool, DEMO.siteKey);
  if (existing) return setAddresses(pool, existing.id, addresses);
  const passwordHash = await hashPassword(DEMO.password);
  const { siteId, memberId } = await withTransaction(pool, async (tx) => {
    const site = await createSite(tx, { key: DEMO.siteKey, name: 'Tarnhollow Huts', addresses });
    const member = await createMember(tx, { email: DEMO.email, name: DEMO.name, passwordHash });
    await joinSite(tx, { siteId: site.id, memberId: member, role: 'owner' });
    for (const segment of SEGMENTS) await insertSegment(tx, { siteId: site.id, ...segment });
    for (const { id, live, document } of CAMPAIGNS)
      await insertCampaign(tx, { siteId: site.id, id, document, status: live ? 'live' : 'draft' });
    log(`  making ${visits} visits`);
    const simulated = simulate({
      seed: 'tarnhollow',
      visits,
      days: 60,
      until: now,
      origin: `http://${addresses[0] ?? 'tarnhollow.example'}`,
    });
    const numbers = await storeVisits(tx, site.id, simulated, (done) => log(`  stored ${done} of ${visits} visits`));
    const showings = respond(simulated, demoResponses(), createDice('tarnhollow answers'));
    await storeShowings(tx, site.id, { showings, numbers, release: 1 });
    return { siteId: site.id, memberId: member };
  });
  await publish(pool, { siteId, memberId, name: 'First snow', note: 'The packing list in the journal.' });
  await pool.query('analyze');
}
