import type { CampaignDocument } from '@/core/campaigns/campaign';
import { insertCampaign } from '../db/campaigns';
import { withTransaction } from '../db/pool';
import type { Site } from '../db/sites';
import { createSite, noteRefusal } from '../db/sites';
import { publish } from '../releases/publish';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { listAttention } from './attention';
import { loadCourses } from './course';
import type { LiveNews } from './live';
import { LiveSites } from './live';

const DAY_MS = 86_400_000;
let database: FreshDatabase;
let site: Site;
let visitors = 0;

beforeEach(async () => {
  database = await freshDatabase();
  site = await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
});
afterEach(() => database.drop());

/** A visit with one page view; an instant is ms before now. */
async function visit(
  ago: number,
  { watched = [] as string[], path = '/huts' } = {},
): Promise<{ visit: string; view: string; visitor: number }> {
  const [id, view, visitor] = [newUuid(), newUuid(), ++visitors];
  const at = new Date(Date.now() - ago);
  const { pool } = database;
  await pool.query(`insert into visitor (site_id, id, browser_id, first_seen, last_seen) values ($1, $2, $3, $4, $4)`, [
    site.id,
    visitor,
    newUuid(),
    at,
  ]);
  await pool.query(`insert into visit (site_id, id, visitor_id, started_at, last_at, channel) values ($1, $2, $3, $4, $4, 'search')`, [
    site.id,
    id,
    visitor,
    at,
  ]);
  await pool.query(`insert into page_view (site_id, id, visit_id, visitor_id, at, url, watched) values ($1, $2, $3, $4, $5, $6, $7)`, [
    site.id,
    view,
    id,
    visitor,
    at,
    `https://site.example${path}?x=1`,
    watched,
  ]);
  return { visit: id, view, visitor };
}

async function showing(campaign: string, of: { visit: string; view: string; visitor: number }): Promise<string> {
  const id = newUuid();
  await database.pool.query(
    `insert into showing (site_id, id, campaign_id, visitor_id, visit_id, view_id, at, release) values ($1, $2, $3, $4, $5, $6, now(), 1)`,
    [site.id, id, campaign, of.visitor, of.visit, of.view],
  );
  return id;
}

const campaign = (moment: CampaignDocument['rule']['moment']): CampaignDocument => ({
  name: 'Snow',
  goal: { kind: 'form' },
  rule: { moment },
  flow: { start: 'q', messages: [{ id: 'q', format: 'quiet', does: [{ kind: 'tag', tag: 'seen' }] }] },
});

async function release(moment: CampaignDocument['rule']['moment']): Promise<void> {
  await withTransaction(database.pool, (tx) =>
    insertCampaign(tx, { siteId: site.id, id: 'camp_1', document: campaign(moment), status: 'live' }),
  );
  await publish(database.pool, { siteId: site.id, memberId: null, name: 'One', note: '' });
}

const attention = async (): Promise<string[]> => (await listAttention(database.pool, site.id, Date.now())).map(({ code }) => code);

test('today is compared with the same weekday of the weeks before, and with no other day', async () => {
  for (let nth = 0; nth < 3; nth++) await visit(0);
  for (const [weeks, times] of [
    [1, 2],
    [2, 6],
    [3, 4],
  ] as const)
    for (let nth = 0; nth < times; nth++) await visit(weeks * 7 * DAY_MS);
  for (let nth = 0; nth < 9; nth++) await visit(3 * DAY_MS);
  const { visits, shown } = await loadCourses(database.pool, site.id, 'UTC');
  expect(visits.today.at(-1)).toBe(3);
  expect(visits.today).toHaveLength(new Date().getUTCHours() + 1);
  expect(visits.usual?.at(-1)).toEqual({ low: 2, middle: 4, high: 6 });
  expect(shown).toEqual({ today: visits.today.map(() => 0), usual: null });
});

test('where today begins depends on the time zone', async () => {
  const hours = new Date().getUTCHours();
  await visit(0);
  // Behind by as many hours as the day is old here, and one more: there it is still yesterday evening.
  const behind = await loadCourses(database.pool, site.id, `Etc/GMT+${Math.min(12, hours + 1)}`);
  const expectedHour = (hours - Math.min(12, hours + 1) + 24) % 24;
  expect(behind.visits.today).toHaveLength(expectedHour + 1);
});

test('a script that was never seen, and an address that is turned away', async () => {
  expect(await attention()).toEqual(['script.unseen']);
  await noteRefusal(database.pool, site.id, 'address', 'other.example');
  await visit(1000);
  const [item] = await listAttention(database.pool, site.id, Date.now());
  expect(item).toMatchObject({ code: 'address', what: 'other.example is turned away', mend: { href: '/setup' } });
});

test('a script that has gone silent is told only where there usually are visits', async () => {
  await visit(3 * 3_600_000);
  expect(await attention()).toEqual([]);
  for (let nth = 0; nth < 7; nth++) await visit(2 * DAY_MS);
  expect(await attention()).toEqual(['script.silent']);
});

test('a campaign that did not show in two hundred visits since its release is silent, until it shows', async () => {
  await release({ kind: 'exit' });
  await visit(0);
  expect(await attention()).toEqual([]);
  let last = await visit(-1000);
  for (let nth = 0; nth < 200; nth++) last = await visit(-1000);
  expect(await attention()).toEqual(['campaign.silent']);
  await showing('camp_1', last);
  expect(await attention()).toEqual([]);
});

test('a selector that was looked for and matched nothing is named', async () => {
  await release({ kind: 'reach', selector: '#prices' });
  await visit(0);
  // Nobody has looked for it yet.
  expect(await attention()).toEqual([]);
  const { view } = await visit(0, { watched: ['#prices'] });
  expect(await listAttention(database.pool, site.id, Date.now())).toMatchObject([
    { code: 'selector.silent', what: 'Nothing on the site matches #prices', mend: { href: '/campaigns/camp_1' } },
  ]);
  await database.pool.query(`insert into signal_piece (site_id, view_id, piece, signals) values ($1, $2, 0, $3)`, [
    site.id,
    view,
    JSON.stringify([{ t: 5, s: 'seen', selector: '#prices', share: 10 }]),
  ]);
  expect(await attention()).toEqual([]);
});

test('who listens is told of everything once, then of what is new', async () => {
  await release({ kind: 'exit' });
  const first = await visit(60_000);
  await visit(20 * 60_000);
  const live = new LiveSites(database.pool);
  const told: LiveNews[] = [];
  const stop = live.listen(site.id, { onNews: (news) => told.push(news), onTrouble: (cause) => expect(cause).toBeUndefined() });
  const until = async (done: () => boolean): Promise<void> => {
    for (let nth = 0; nth < 200 && !done(); nth++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(done()).toBe(true);
  };
  await until(() => told.length === 1);
  expect(told[0]).toMatchObject({ people: 1, order: [first.visit], pages: [{ path: '/huts', people: 1 }], happenings: [] });
  expect(told[0]?.changed.map(({ id }) => id)).toEqual([first.visit]);

  const second = await visit(0, { path: '/prices' });
  await showing('camp_1', second);
  await until(() => told.some(({ happenings }) => happenings.length === 1));
  const last = told.at(-1);
  expect(last?.order).toEqual([second.visit, first.visit]);
  expect(told.slice(1).flatMap(({ changed }) => changed.map(({ id }) => id))).toContain(second.visit);
  expect(told.slice(1).flatMap(({ changed }) => changed.map(({ id }) => id))).not.toContain(first.visit);
  expect(last?.happenings[0]).toMatchObject({
    kind: 'shown',
    subject: 'Snow',
    campaign: 'camp_1',
    visitor: second.visitor,
    path: '/prices',
  });
  stop();
  const sofar = told.length;
  await new Promise((resolve) => setTimeout(resolve, 2500));
  expect(told).toHaveLength(sofar);
}, 30_000);
