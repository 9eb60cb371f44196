// What a list or a person costs does not grow with the site: no statement of a request reads much of a table of it where its answer is a page.
import { randomUUID } from 'node:crypto';
import { createCollector } from '../collector/server';
import { syncAudiences } from '../connections/audienceSync';
import { deliverDue } from '../connections/deliver';
import { mailAnswers, mailCopies, mailWaiting } from '../conversations/mails';
import { readCalendars } from '../conversations/readCalendars';
import { parts } from '../testing/collectorUnderTest';
import { newUuid, openItem, pieceItem, showingItem } from '../testing/items';
import { carryOutSchedules } from '../db/campaigns';
import { passOn } from '../db/threads';
import { listVisits } from '../db/visits';
import type { BigSite } from '../testing/bigSite';
import { bigSite, MOST_OF_A_PAGE } from '../testing/bigSite';
import type { FreshDatabase } from '../testing/freshDatabase';
import { serve } from './serve';
import { ENDPOINTS } from './table';

/** Of what an address names, something that is there. */
const NAMED = { '/visitors/{id}': '/visitors/5', '/campaigns/{id}': '/campaigns/camp_big', '{id}': randomUUID(), '{visit}': randomUUID() };

let site: BigSite;
beforeAll(async () => {
  site = await bigSite();
});
afterAll(() => site.end());

/** What is worked out of everything, and why that may be: each is asked for by nobody who waits for a page of a list. */
const WHOLE: Readonly<Record<string, string>> = {
  '/leads.csv': 'all leads go out',
  '/leads.jsonl': 'all leads go out',
  '/api/map/visitors': 'a point for everybody of 30 days',
};

test('what a list, a person or a screen is answered from is a few rows of a large site', async () => {
  const wrong: string[] = [];
  // What needs the analysis says here that it is away.
  jest.spyOn(console, 'error').mockImplementation(() => undefined);
  for (const { method, path } of ENDPOINTS.filter((one) => one.method === 'GET' && !(one.path in WHOLE))) {
    site.explained.seen.length = 0;
    const over = new AbortController();
    const address = Object.entries(NAMED).reduce((filled, [place, name]) => filled.replace(place, name), path);
    const response = await serve(
      new Request(`http://x${address}`, { method, headers: { host: 'x', cookie: `crindle_session=${site.token}` }, signal: over.signal }),
    );
    const isEndless = response.headers.get('content-type')?.includes('event-stream') ?? false;
    // An endless answer has begun with its first part.
    if (isEndless) await response.body?.getReader().read();
    else for await (const _part of response.body ?? []);
    over.abort();
    for (const { table, rows, sql } of site.explained.seen)
      if (rows > MOST_OF_A_PAGE) wrong.push(`${path}: ${rows} of ${table}: ${sql.replace(/\s+/g, ' ').slice(0, 200)}`);
  }
  expect(wrong).toEqual([]);
});

test('visits of a list are read with what was shown in them, and no other', async () => {
  site.explained.seen.length = 0;
  const visits = await listVisits(site.explained.pool, site.siteId, { limit: 50 });
  expect(visits.map(({ showings }) => showings.length)).toEqual(Array.from({ length: 50 }, () => 1));
  const rows = (table: string): number => site.explained.seen.filter((one) => one.table === table).reduce((sum, one) => sum + one.rows, 0);
  expect(rows('showing')).toBeGreaterThanOrEqual(50);
  expect(Math.max(rows('showing'), rows('page_view'), rows('outcome'), rows('visit'))).toBeLessThan(500);
});

/** Of what a statement of a round or of a batch may look at: a site's settings, and a few rows of whoever it is about. */
const FEW = 500;
const wrongIn = (what: string): string[] =>
  site.large.seen
    .filter(({ rows }) => rows > FEW)
    .map(({ table, rows, sql }) => `${what}: ${rows} of ${table}: ${sql.replace(/\s+/g, ' ').slice(0, 200)}`);

const nobody = { now: Date.now(), send: () => Promise.resolve() };

test.each<[string, (pool: FreshDatabase['pool']) => Promise<unknown>]>([
  ['schedules', (pool) => carryOutSchedules(pool)],
  ['deliveries', (pool) => deliverDue(pool)],
  ['calendars', (pool) => readCalendars(pool)],
  ['conversations passed on', (pool) => passOn(pool)],
  ['segments kept in step', (pool) => syncAudiences(pool)],
  ['mails to the team', (pool) => mailWaiting(pool, nobody)],
  ['mails with answers', (pool) => mailAnswers(pool, nobody)],
  ['copies of conversations', (pool) => mailCopies(pool, nobody)],
])('what the worker does every second or minute looks at a few rows of a large site: %s', async (what, round) => {
  site.large.seen.length = 0;
  await round(site.large.pool);
  expect(site.large.seen.length).toBeGreaterThan(0);
  expect(wrongIn(what)).toEqual([]);
});

test('what the collector asks and writes for one page is a few rows of a large site', async () => {
  const server = await createCollector({ pool: site.large.pool, parts, perMinute: 1e6 });
  const [known] = (
    await site.database.pool.query<{ browser: string }>(`select browser_id::text as browser from visitor where site_id = $1 and id = 77`, [
      site.siteId,
    ])
  ).rows;
  for (const browser of [known?.browser, newUuid()]) {
    const open = openItem({ url: 'https://big.example/p1', at: Date.now() - 5000 });
    const of = { view: open.view, visit: open.visit };
    const showing = showingItem(open, { at: Date.now() - 3000 });
    const at = Date.now() - 1000;
    const from = { ...of, showing: showing.id, campaign: 'camp_big', at };
    const batches = [
      [open, pieceItem(open)],
      [showing, { kind: 'event', id: newUuid(), ...of, at, name: 'booking', props: { value: 3 } }],
      [{ kind: 'person', id: newUuid(), at, email: 'w5@post.example', traits: { plan: 'x' } }],
      [{ kind: 'form', id: newUuid(), ...from, url: open.url, email: 'w6@post.example', fields: {} }],
      [{ kind: 'line', id: newUuid(), ...from, thread: newUuid(), by: 'visitor', text: 'Hello' }],
      [{ kind: 'denied' }],
      [],
    ];
    for (const items of batches) {
      site.large.seen.length = 0;
      const response = await server.inject({
        method: 'POST',
        url: '/c',
        payload: JSON.stringify({ key: 'bigsite0001', browser, now: Date.now(), items }),
        headers: { origin: 'https://big.example', 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) Chrome/140.0.0.0' },
      });
      expect([response.statusCode, response.json<{ items: { ok: boolean }[] }>().items.filter(({ ok }) => !ok)]).toEqual([200, []]);
      expect(wrongIn(items.map((item) => ('kind' in item ? item.kind : '')).join(', ') || 'a question')).toEqual([]);
    }
  }
  await server.close();
});
