import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { expect, test } from '@playwright/test';
import type { APIRequestContext } from '@playwright/test';
import { Cluster } from '../src/server/testing/clusters';
import { newUuid, openItem, pieceItem } from '../src/server/testing/items';
import type { BatchAnswer, Item } from '../src/core/wire/items';
import { SecondProcess } from './second';
import { ask, cli, COLLECTOR, keeperUrl, openStudio, signIn, STUDIO } from './stack';

const BROWSERS = 24;
const ROUNDS = 25;
const PUBLISHED_BY_EACH = 8;
const DESKTOP = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
const KEY = `several${randomUUID().slice(0, 8)}`;

let siteId = 0;
let email = '';
const seconds: SecondProcess[] = [];

test.beforeAll(async () => {
  email = `${KEY}@tarnhollow.example`;
  const [site] = await ask<{ id: number }>(
    `insert into site (key, name, addresses) values ($1, 'Two Of Each', '{two.example}') returning id`,
    [KEY],
  );
  siteId = site?.id ?? 0;
  await ask(
    `with made as (insert into member (email, name, password_hash)
       select $1, 'Two Hands', password_hash from member where email = 'ines@tarnhollow.example' returning id)
     insert into membership (site_id, member_id, role) select $2, id, 'owner' from made`,
    [email, siteId],
  );
});
test.afterAll(async () => {
  for (const second of seconds) await second.kill();
  await ask(`delete from site where id = $1`, [siteId]);
  await ask(`delete from member where email = $1`, [email]);
});

/** Sends one batch until it is acknowledged, as the page script does, to each of `collectors` at once. */
async function deliver(collectors: readonly string[], browser: string, items: Item[]): Promise<void> {
  const body = JSON.stringify({ key: KEY, browser, now: Date.now(), items });
  const post = (collector: string) =>
    fetch(`${collector}/c`, { method: 'POST', body, headers: { origin: 'http://two.example', 'user-agent': DESKTOP } }).then(
      async (response) => response.ok && ((await response.json()) as BatchAnswer).items.every(({ ok }) => ok),
      () => false,
    );
  await Promise.all(collectors.map((collector) => expect.poll(() => post(collector), { intervals: [50] }).toBe(true)));
}

async function browse(collectors: readonly string[], done: () => void): Promise<string[]> {
  const browser = randomUUID();
  const open = openItem({ url: 'http://two.example/huts/upper-moss' });
  const acknowledged: string[] = [];
  await deliver(collectors, browser, [open]);
  for (let round = 0; round < ROUNDS; round++) {
    const id = newUuid();
    const items: Item[] = [
      pieceItem(open, { piece: round }),
      { kind: 'event', id, view: open.view, visit: open.visit, at: Date.now(), name: 'tick', props: { round } },
    ];
    // Every fourth goes to both: an answer was lost, and the page sent it again elsewhere.
    await deliver(round % 4 === 0 ? collectors : [collectors[round % 2] ?? COLLECTOR], browser, items);
    acknowledged.push(id);
    done();
  }
  return acknowledged;
}

async function post(request: APIRequestContext, studio: string, path: string, data: unknown): Promise<Record<string, unknown>> {
  const answer = await request.post(studio + path, { headers: { origin: studio }, data });
  expect(answer.status()).toBe(200);
  return (await answer.json()) as Record<string, unknown>;
}

test('two of each on one database, some of them killed under load, and none notices another', async ({ page }) => {
  test.slow();
  await signIn(page, email);
  // As one worker seals all days of the demo.
  const unseal = () => ask(`update sealed_visits set history = null, timelines = null, digests = null, sealed_at = null`);
  const untilSealed = () =>
    expect.poll(async () => (await ask(`select from sealed_visits where visits > 0 and sealed_at is null`)).length).toBe(0);
  await unseal();
  await ask(`select graphile_worker.add_job('seal', payload := '{}')`);
  await untilSealed();
  const collector = await SecondProcess.start('collector');
  const worker = await SecondProcess.start('worker');
  const analysis = await SecondProcess.start('analysis');
  const studio = await SecondProcess.start('studio', { CRINDLE_ANALYSIS_URL: analysis.url });
  seconds.push(collector, worker, analysis, studio);
  const before = await ask(`select day::text, digests::text[] from sealed_visits where visits > 0 order by site_id, day`);
  expect(before.length).toBeGreaterThan(30);

  // All days of the demo are sealed anew by both workers while the load is under way.
  await unseal();
  await ask(`select graphile_worker.add_job('seal', payload := '{}') from generate_series(1, 4)`);

  let rounds = 0;
  const load = Promise.all(Array.from({ length: BROWSERS }, () => browse([COLLECTOR, collector.url], () => void rounds++)));
  const publishing = Promise.all(
    [STUDIO, studio.url].map(async (each) => {
      const numbers: number[] = [];
      // The second studio is killed once: what it had not answered for is published again.
      while (numbers.length < PUBLISHED_BY_EACH)
        await post(page.request, each, '/api/releases', { name: `From ${each}`, note: '' }).then(
          ({ number }) => numbers.push(number as number),
          async () =>
            expect
              .poll(() =>
                fetch(`${studio.url}/sign-in`).then(
                  ({ ok }) => ok,
                  () => false,
                ),
              )
              .toBe(true),
        );
      return numbers;
    }),
  );
  await expect.poll(() => rounds, { intervals: [20] }).toBeGreaterThan((BROWSERS * ROUNDS) / 4);
  await Promise.all([studio.kill(), analysis.kill()]);
  await Promise.all([studio.begin(), analysis.begin()]);
  await expect.poll(() => rounds, { intervals: [20] }).toBeGreaterThan((BROWSERS * ROUNDS) / 2);
  await collector.kill();
  await collector.begin();
  const acknowledged = (await load).flat();
  const published = (await publishing).flat();

  // Nothing lost, nothing twice.
  const events = await ask<{ id: string }>(`select id from event where site_id = $1`, [siteId]);
  expect(events.map(({ id }) => id).sort()).toEqual([...acknowledged].sort());
  expect(
    await ask(
      `select (select count(*) from visitor where site_id = $1)::int as visitors, (select count(*) from visit where site_id = $1)::int as visits,
              count(*)::int as pieces, count(distinct view_id)::int as views from signal_piece where site_id = $1`,
      [siteId],
    ),
  ).toEqual([{ visitors: BROWSERS, visits: BROWSERS, pieces: BROWSERS * ROUNDS, views: BROWSERS }]);
  // Numbers of releases: none twice, none left out.
  expect(new Set(published).size).toBe(published.length);
  const releases = await ask<{ number: number }>(`select number from release where site_id = $1 order by 1`, [siteId]);
  expect(releases.map(({ number }) => number)).toEqual(releases.map((_, index) => index + 1));
  expect(releases.map(({ number }) => number)).toEqual(expect.arrayContaining(published));
  // Both studios count what came through both collectors, each by an analysis of its own.
  const people = { kind: 'did', event: 'tick', times: { min: ROUNDS } };
  for (const each of [STUDIO, studio.url])
    await expect
      .poll(async () => (await post(page.request, each, '/api/segments/size', { lookback: 30, people }))['people'])
      .toBe(BROWSERS);
  // What was sealed by two is what was sealed by one.
  await untilSealed();
  expect(await ask(`select day::text, digests::text[] from sealed_visits where visits > 0 order by site_id, day`)).toEqual(before);
});

test('a collector hears of a release that another process publishes as it is committed', async ({ page }) => {
  await signIn(page, email);
  const collector = await SecondProcess.start('collector');
  seconds.push(collector);
  const browser = randomUUID();
  const release = async (url: string) =>
    (
      (await (
        await fetch(`${url}/c`, {
          method: 'POST',
          body: JSON.stringify({ key: KEY, browser, now: Date.now(), items: [] }),
          headers: { origin: 'http://two.example', 'user-agent': DESKTOP },
        })
      ).json()) as BatchAnswer
    ).release;
  const hashNow = async () =>
    (await ask<{ hash: string }>(`select hash from release where site_id = $1 order by number desc limit 1`, [siteId]))[0]?.hash;
  await post(page.request, STUDIO, '/api/releases', { name: 'First', note: '' });
  for (const url of [COLLECTOR, collector.url]) await expect.poll(() => release(url)).toBe(await hashNow());
  for (const name of ['Second', 'Third', 'Fourth']) {
    await post(page.request, STUDIO, '/api/releases', { name, note: '' });
    const hash = await hashNow();
    for (const url of [COLLECTOR, collector.url]) await expect.poll(() => release(url), { intervals: [20] }).toBe(hash);
  }
});

test('a site that was moved to another server is worked on as before, and nothing of it is left where it was', async ({ page }) => {
  test.slow();
  const nodes = (...words: string[]): string =>
    execFileSync('node', cli('nodes', ...words), { env: { ...process.env, CRINDLE_DATABASE_URL: keeperUrl() }, encoding: 'utf8' });
  const north = await Cluster.make(['wal_level=logical']);
  try {
    expect(nodes('add', 'north', north.url)).toContain('north can take sites.');
    await signIn(page, email);
    const made = (await post(page.request, STUDIO, '/api/segments', {
      name: 'Made at home',
      lookback: 30,
      people: { kind: 'did', event: 'tick', times: { min: 1 } },
    })) as { id: string };
    const browser = randomUUID();
    const open = openItem({ url: 'http://two.example/huts/upper-moss' });
    const event = (): Item => ({
      kind: 'event',
      id: newUuid(),
      view: open.view,
      visit: open.visit,
      at: Date.now(),
      name: 'tick',
      props: {},
    });
    await deliver([COLLECTOR], browser, [open, event()]);
    expect(nodes('move', KEY, 'north')).toMatch(/is on north now: [\d,]+ rows/);
    expect(nodes('list')).toMatch(/north\s+1 sites/);
    expect(await ask(`select from visitor where site_id = $1`, [siteId])).toEqual([]);

    await deliver([COLLECTOR], browser, [event()]);
    await openStudio(page, `/segments/${made.id}`);
    const name = page.getByLabel('Name of the segment');
    await expect(name).toHaveValue('Made at home');
    await expect(page.getByRole('region', { name: 'Size' })).toContainText('people now');
    await name.fill('Renamed on the other server');
    await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
    for (const [path, words] of [
      ['/segments', 'Renamed on the other server'],
      ['/visits', /^\d+ visits? of \d+ visitors?$/],
      ['/today', 'Two Of Each'],
      ['/campaigns', 'No campaigns yet'],
      ['/leads', 'No leads yet'],
    ] as const) {
      await openStudio(page, path);
      await expect(page.getByText(words).first()).toBeVisible();
    }
    await post(page.request, STUDIO, '/api/releases', { name: 'From afar', note: '' });
    expect(await north.ask('crindle', `select name from release where site_id = $1 order by number desc limit 1`, [siteId])).toEqual([
      { name: 'From afar' },
    ]);
    expect(await north.ask('crindle', `select name from segment where site_id = $1`, [siteId])).toEqual([
      { name: 'Renamed on the other server' },
    ]);

    expect(nodes('move', KEY, 'home')).toMatch(/is on home now/);
    await deliver([COLLECTOR], browser, [event()]);
    expect(await ask(`select name from segment where site_id = $1`, [siteId])).toEqual([{ name: 'Renamed on the other server' }]);
    expect(await north.ask('crindle', `select from visitor where site_id = $1`, [siteId])).toEqual([]);
  } finally {
    await ask(`update site set node = null, held_at = null where id = $1`, [siteId]);
    await ask(`delete from node`);
    north.remove();
  }
});
