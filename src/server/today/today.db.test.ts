import pg from 'pg';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { insertCampaign } from '../db/campaigns';
import { withTransaction } from '../db/pool';
import type { Site } from '../db/sites';
import { createSite, noteRefusal } from '../db/sites';
import { publish } from '../releases/publish';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { eventually } from '../testing/eventually';
import { newUuid } from '../testing/items';
import { listAttention } from './attention';
import { loadCourses } from './course';
import type { LiveNews } from './live';
import { LiveSites } from './live';
import { DAY_MS } from '@/core/time/day';
/** A Wednesday, three hours and a bit after midnight in UTC. */
const NOW = Date.parse('2026-11-25T03:20:00Z');
let database: FreshDatabase;
let site: Site;
let visitors = 0;

beforeEach(async () => {
  database = await freshDatabase();
  site = await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
});
afterEach(() => database.drop());

/** A visit with one page view; an instant is ms before `NOW`. */
async function visit(
  ago: number,
  { watched = [] as string[], path = '/huts' } = {},
): Promise<{ visit: string; view: string; visitor: number }> {
  const [id, view, visitor] = [newUuid(NOW - ago), newUuid(NOW - ago), ++visitors];
  const at = new Date(NOW - ago);
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
    `insert into showing (site_id, id, campaign_id, visitor_id, visit_id, view_id, at, release) values ($1, $2, $3, $4, $5, $6, at_ms($7), 1)`,
    [site.id, id, campaign, of.visitor, of.visit, of.view, NOW],
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
  await database.pool.query(`update release set published_at = at_ms($2) where site_id = $1`, [site.id, NOW - 1]);
}

const attention = async (): Promise<string[]> => (await listAttention(database.pool, site.id, { now: NOW })).map(({ code }) => code);

test('today is compared with the same weekday of the weeks before, and with no other day', async () => {
  for (let nth = 0; nth < 3; nth++) await visit(0);
  for (const [weeks, times] of [
    [1, 2],
    [2, 6],
    [3, 4],
  ] as const)
    for (let nth = 0; nth < times; nth++) await visit(weeks * 7 * DAY_MS);
  for (let nth = 0; nth < 9; nth++) await visit(3 * DAY_MS);
  const { visits, shown } = await loadCourses(database.pool, site.id, { zone: 'UTC', now: NOW });
  expect(visits.today.at(-1)).toBe(3);
  expect(visits.today).toHaveLength(4);
  expect(visits.usual?.at(-1)).toEqual({ low: 2, middle: 4, high: 6 });
  expect(shown).toEqual({ today: visits.today.map(() => 0), usual: null });
});

test.each([
  { zone: 'UTC', hours: 4, visits: 1 },
  // There it is still Tuesday, 22:20, and five hours earlier was Tuesday too.
  { zone: 'America/New_York', hours: 23, visits: 2 },
  { zone: 'Pacific/Kiritimati', hours: 18, visits: 2 },
  // Summer time ends in Santiago in April: at this instant it is 00:20 there.
  { zone: 'America/Santiago', hours: 1, visits: 1 },
])('today began $hours hours ago in $zone', async ({ zone, hours, visits }) => {
  await visit(0);
  await visit(5 * 3_600_000);
  const course = await loadCourses(database.pool, site.id, { zone, now: NOW });
  expect([course.visits.today.length, course.visits.today.at(-1)]).toEqual([hours, visits]);
});

test('a script that was never seen, and an address that is turned away', async () => {
  expect(await attention()).toEqual(['script.unseen']);
  await noteRefusal(database.pool, site.id, 'address', 'other.example');
  await database.pool.query(`update refused set last_at = at_ms($1)`, [NOW - 1000]);
  await visit(1000);
  const [item] = await listAttention(database.pool, site.id, { now: NOW });
  expect(item).toMatchObject({ code: 'address', what: 'other.example is turned away', fix: { href: '/setup' } });
});

test('a database that may not be written is told before everything else', async () => {
  const pool = new pg.Pool({ connectionString: database.url, options: '-c default_transaction_read_only=on', max: 1 });
  expect((await listAttention(pool, site.id, { now: NOW })).map(({ code }) => code)).toEqual(['database.readOnly', 'script.unseen']);
  await pool.end();
  expect(await attention()).toEqual(['script.unseen']);
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
  expect(await listAttention(database.pool, site.id, { now: NOW })).toMatchObject([
    { code: 'selector.silent', what: 'Nothing on the site matches #prices', fix: { href: '/campaigns/camp_1' } },
  ]);
  await database.pool.query(`insert into signal_piece (site_id, view_id, piece, signals) values ($1, $2, 0, $3)`, [
    site.id,
    view,
    JSON.stringify([{ t: 5, s: 'seen', selector: '#prices', share: 10 }]),
  ]);
  expect(await attention()).toEqual([]);
});

test('whoever has left the last page, or hidden it, is on the site no more; whoever goes on to another one is', async () => {
  const [reads, closed, goesOn] = [await visit(60_000), await visit(60_000), await visit(5_000)];
  const ends = (of: { view: string }, signals: object[]) =>
    database.pool.query(`insert into signal_piece (site_id, view_id, piece, signals) values ($1, $2, 0, $3)`, [
      site.id,
      of.view,
      JSON.stringify(signals),
    ]);
  await ends(reads, [
    { s: 'hide', t: 10 },
    { s: 'show', t: 20 },
  ]);
  await ends(closed, [
    { s: 'click', t: 10, on: [] },
    { s: 'hide', t: 20 },
  ]);
  await ends(goesOn, [{ s: 'hide', t: 20 }]);
  const live = new LiveSites(() => database.pool, { clock: () => NOW, everyMs: 20 });
  const told: LiveNews[] = [];
  const stop = live.listen(site.id, { onNews: (news) => told.push(news), onTrouble: (cause) => expect(cause).toBeUndefined() });
  await eventually(() => told.length === 1);
  stop();
  expect(told[0]?.order).toEqual([goesOn.visit, reads.visit]);
});

test('who listens is told of everything once, then of what is new', async () => {
  await release({ kind: 'exit' });
  const first = await visit(60_000);
  await visit(20 * 60_000);
  const live = new LiveSites(() => database.pool, { clock: () => NOW, everyMs: 20 });
  const told: LiveNews[] = [];
  const stop = live.listen(site.id, { onNews: (news) => told.push(news), onTrouble: (cause) => expect(cause).toBeUndefined() });
  await eventually(() => told.length === 1);
  expect(told[0]).toMatchObject({ people: 1, order: [first.visit], pages: [{ path: '/huts', people: 1 }], happenings: [] });
  expect(told[0]?.changed.map(({ id }) => id)).toEqual([first.visit]);

  const second = await visit(0, { path: '/prices' });
  await showing('camp_1', second);
  await eventually(() => told.some(({ happenings }) => happenings.length === 1));
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
  // Whoever comes next is told three times meanwhile.
  let looks = 0;
  const stopNext = live.listen(site.id, { onNews: () => looks++, onTrouble: (cause) => expect(cause).toBeUndefined() });
  await eventually(() => looks >= 3);
  stopNext();
  expect(told).toHaveLength(sofar);
});
