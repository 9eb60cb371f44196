import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { createSite } from '@/server/db/sites';
import { many } from '@/server/db/queryable';
import type { FreshDatabase } from '@/server/testing/freshDatabase';
import { freshDatabase } from '@/server/testing/freshDatabase';
import { newUuid } from '@/server/testing/items';

const ROOT = join(__dirname, '../..');
const folder = mkdtempSync(join(tmpdir(), 'crindle-exchange-'));
let database: FreshDatabase;

beforeAll(async () => {
  database = await freshDatabase();
  await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
});
afterAll(() => database.drop());

function crindle(...words: string[]): Promise<{ code: number; out: string; said: string }> {
  return new Promise((resolve) => {
    const env = { ...process.env, CRINDLE_DATABASE_URL: database.url };
    execFile('node', ['dist/server/cli.mjs', ...words], { cwd: ROOT, env }, (cause, out, said) =>
      resolve({ code: cause ? Number(cause.code) : 0, out, said }),
    );
  });
}

const NOW = Date.now();
const visit = (at: number, paths: string[], more: object = {}) => ({
  visit: newUuid(at),
  at,
  source: { channel: 'direct', utm: {} },
  views: paths.map((path, index) => ({
    view: newUuid(at + index * 60_000),
    at: at + index * 60_000,
    url: `https://s.example${path}`,
    title: path,
    leave: 30_000,
    engaged: 20,
    scroll: 70,
    signals: [
      { t: 2000, s: 'scroll', depth: 70 },
      { t: 25_000, s: 'exit' },
    ],
  })),
  events: [],
  ...more,
});
const visitors = [
  {
    visitor: 'anna',
    visits: [visit(NOW - 3 * 86_400_000, ['/huts/a', '/huts/b'])],
    known: true,
    traits: { plan: 'family' },
    tags: ['skier'],
    responses: [],
  },
  {
    visitor: 'jonas',
    visits: [visit(NOW - 2 * 86_400_000, ['/huts/a']), visit(NOW - 86_400_000, ['/book'])],
    traits: {},
    tags: [],
    responses: [],
  },
];

test('lines that are wrong are told and left out, the others are taken; twice is once', async () => {
  const file = join(folder, 'visits.jsonl');
  writeFileSync(
    file,
    [JSON.stringify(visitors[0]), '{"visitor":', JSON.stringify({ ...visitors[1], visits: [] }), '', JSON.stringify(visitors[1])].join(
      '\n',
    ),
  );
  const first = await crindle('import', 'visits', file, '--site', 'sitekey123');
  expect(first.code).toBe(1);
  expect(first.said).toMatch(/line 2: .*expected JSON/);
  expect(first.said).toMatch(/line 3: visits: met \[\], expected a length of at least 1/);
  expect(first.said).toContain('2 visitors taken, 2 lines left out');
  const count = () =>
    many(
      database.pool,
      `select (select count(*)::int from visitor) as visitors, (select count(*)::int from visit) as visits, (select count(*)::int from page_view) as views, (select count(*)::int from visitor_change) as changes`,
    );
  const before = await count();
  expect(before).toEqual([{ visitors: 2, visits: 3, views: 4, changes: 3 }]);
  await crindle('import', 'visits', file, '--site', 'sitekey123');
  expect(await count()).toEqual(before);
});

test('what was imported is counted, by lists and by SQL, and at an earlier instant', async () => {
  const file = join(folder, 'segment.json');
  writeFileSync(file, JSON.stringify({ lookback: 30, people: { kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }] } }));
  const count = async (...more: string[]): Promise<unknown> =>
    JSON.parse((await crindle('count', '--site', 'sitekey123', '--segment', file, ...more)).out);
  expect(await count()).toMatchObject({ people: 2, unknown: 0 });
  expect(await count('--engine', 'sql')).toMatchObject({ people: 2, unknown: 0 });
  const earlier = new Date(NOW - 2.5 * 86_400_000).toISOString();
  expect(await count('--at', earlier)).toMatchObject({ people: 1 });
  expect(await count('--at', earlier, '--engine', 'sql')).toMatchObject({ people: 1 });
});

test('a rule is rehearsed over it, and its showings are written a line each', async () => {
  const [rule, out] = [join(folder, 'rule.json'), join(folder, 'showings.jsonl')];
  writeFileSync(
    rule,
    JSON.stringify({ pages: { on: [{ op: 'like', value: '/huts/**' }] }, moment: { kind: 'exit' }, pacing: { again: { days: 7 } } }),
  );
  const { out: printed } = await crindle('rehearse', '--site', 'sitekey123', '--rule', rule, '--showings', out);
  expect(JSON.parse(printed)).toMatchObject({
    visitors: 2,
    visits: 3,
    views: 4,
    sure: 2,
    possible: 2,
    without: [
      { path: 'pages.on', showings: 2 },
      { path: 'moment', showings: 2 },
      { path: 'pacing', showings: 3 },
    ],
  });
  const lines = readFileSync(out, 'utf8')
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { view: string; at: number });
  expect(lines.map(({ view, at }) => [view, at])).toEqual(
    visitors.map(({ visits }) => [visits[0]?.views[0]?.view, (visits[0]?.at ?? 0) + 25_000]),
  );
});

test.each([
  { words: ['count', '--site', 'nobody', '--segment', 'x'], says: 'x is not there', code: 2 },
  { words: ['rehearse', '--site', 'sitekey123'], says: '--rule is missing', code: 2 },
  {
    words: ['rehearse', '--site', 'sitekey123', '--rule', 'x', '--days', '0'],
    says: '--days: met 0, expected a whole number from 1 to 540',
    code: 2,
  },
  { words: ['export', 'leads', '--site', 'sitekey123'], says: 'export: met leads, expected visits', code: 2 },
  { words: ['count', '--engine', 'guess'], says: '--engine: met guess, expected lists or sql', code: 2 },
  { words: ['dance'], says: 'There is no command dance', code: 2 },
  { words: ['evaluate', '/nowhere'], says: '/nowhere: met none of pages.jsonl, people.jsonl', code: 2 },
  { words: ['describe', '/nowhere.json'], says: '/nowhere.json is not there', code: 2 },
  { words: ['lint', '/tmp'], says: '/tmp is a folder, expected a file', code: 2 },
  { words: ['rehearse', '--site', 'sitekey123', '--rule', '/nowhere.json'], says: '/nowhere.json is not there', code: 2 },
  { words: ['import', 'log', '/etc/hostname', '--site', 'sitekey123'], says: 'none of its 1 lines is one of an access log', code: 1 },
  { words: ['lint', '/etc/hostname'], says: '/etc/hostname: expected JSON', code: 1 },
])('$words says $says', async ({ words, says, code }) => {
  const result = await crindle(...words);
  expect({ code: result.code, out: result.out }).toEqual({ code, out: '' });
  expect(result.said).toContain(says);
  expect(result.said).not.toMatch(/\n\s+at /);
});

test('an access log becomes visits: people told apart, robots and assets out, bad lines told; a second time changes nothing', async () => {
  const agent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
  const line = (address: string, time: string, path: string, rest = `200 10 "-" "${agent}"`): string =>
    `${address} - - [25/Oct/2026:${time} +0000] "GET ${path} HTTP/1.1" ${rest}`;
  const log = join(folder, 'access.log');
  writeFileSync(
    log,
    [
      line('192.0.2.10', '10:00:00', '/huts?utm_medium=email&token=1', `200 10 "https://trailnotes.example/" "${agent}"`),
      line('192.0.2.10', '10:00:05', '/site.css'),
      line('192.0.2.10', '10:03:00', '/huts/windgate'),
      line('192.0.2.10', '11:03:00', '/book'),
      line('192.0.2.11', '10:00:00', '/huts'),
      line('192.0.2.11', '10:00:00', '/huts', '200 10 "-" "SomeBot/1.0"'),
      'this is no line of a log',
      line('192.0.2.11', '10:00:30', '/nowhere', `404 10 "-" "${agent}"`),
      '',
    ].join('\n'),
  );
  const zipped = join(folder, 'access.log.gz');
  writeFileSync(zipped, gzipSync(readFileSync(log)));
  const stored = () =>
    many(
      database.pool,
      `select count(distinct visitor.id)::int as visitors, count(distinct visit.id)::int as visits, count(distinct page_view.id)::int as views
         from visitor join visit on visit.visitor_id = visitor.id and visit.site_id = visitor.site_id join page_view on page_view.visit_id = visit.id
        where page_view.url like 'https://log.example/%'`,
    );
  const first = await crindle('import', 'log', log, '--site', 'sitekey123', '--origin', 'https://log.example');
  expect(JSON.parse(first.out)).toEqual({ lines: 8, wrong: 1, robots: 1, assets: 1, others: 1, visitors: 2, visits: 3, views: 4 });
  expect(first.said).toContain('line 7: met "this is no line of a log", expected the Combined Log Format');
  expect(await stored()).toEqual([{ visitors: 2, visits: 3, views: 4 }]);
  await crindle('import', 'log', zipped, '--site', 'sitekey123', '--origin', 'https://log.example');
  expect(await stored()).toEqual([{ visitors: 2, visits: 3, views: 4 }]);
  expect(
    await many(database.pool, `select url, channel from page_view join visit on visit.id = visit_id where url like '%utm_medium%'`),
  ).toEqual([{ url: 'https://log.example/huts?utm_medium=email', channel: 'email' }]);
  // Nothing that is stored holds an address.
  const dump = JSON.stringify(
    await many(database.pool, `select to_jsonb(visitor) as v, (select jsonb_agg(to_jsonb(visit)) from visit) as visits from visitor`),
  );
  expect(dump).not.toContain('192.0.2.1');
});

test('a compressed log that breaks off is told, and so is an origin that is none', async () => {
  const cut = join(folder, 'cut.log.gz');
  writeFileSync(cut, gzipSync('x'.repeat(5000)).subarray(0, 20));
  expect(await crindle('import', 'log', cut, '--site', 'sitekey123')).toMatchObject({
    code: 2,
    said: expect.stringContaining('expected a whole gzip file') as string,
  });
  expect(await crindle('import', 'log', cut, '--site', 'sitekey123', '--origin', 'shop')).toMatchObject({
    code: 2,
    said: expect.stringContaining('--origin: met shop') as string,
  });
});
