// Sites are moved between two real servers while they are visited, published, counted and sealed.
import type { ChildProcess } from 'node:child_process';
import pg from 'pg';
import { judgeEveryone } from '@/core/counting/countPeople';
import type { BatchAnswer, Item } from '@/core/wire/items';
import { seedDemo } from '@/demo/seed';
import { SiteMemory } from '../analysis/site';
import { tasksOn } from '../jobs/tasks';
import { listColleagues } from '../db/colleagues';
import { copyMembers, Directory, SiteMoving } from '../db/directory';
import { nodePool, withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many, one } from '../db/queryable';
import { ReadSide } from '../db/readSide';
import { createSite } from '../db/sites';
import { publish } from '../releases/publish';
import { startCollector } from '../testing/collectorProcess';
import { Cluster } from '../testing/clusters';
import { eventually } from '../testing/eventually';
import { freePort } from '../testing/freePort';
import { newUuid, openItem, pieceItem } from '../testing/items';
import { moveSite, NotMovable } from './move';

const KEY = 'movingsite1';
const BROWSERS = 8;
const DESKTOP = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
let home: Cluster;
let north: Cluster;
let homePool: pg.Pool;
let northPool: pg.Pool;
let directory: Directory;
let demo: number;
let siteId: number;
let collector: ChildProcess;
let port: number;

beforeAll(async () => {
  [home, north] = [await Cluster.make(['wal_level=logical']), await Cluster.make(['wal_level=logical'])];
  homePool = new pg.Pool({ connectionString: home.url });
  northPool = new pg.Pool({ connectionString: north.url });
  await seedDemo(homePool, { visits: 300, addresses: ['127.0.0.1:4704'], now: Date.now() - 3 * 3_600_000, log: () => undefined });
  demo = (await one<{ id: number }>(homePool, `select id from site`)).id;
  siteId = (await createSite(homePool, { key: KEY, name: 'Moving', addresses: ['moving.example'] })).id;
  await homePool.query(`insert into node (name, url) values ('north', $1)`, [north.url]);
  directory = new Directory(homePool, (url) => nodePool(url));
  port = await freePort();
  collector = await startCollector(port, home.url, { NODE_ENV: 'production' });
});
afterAll(async () => {
  collector.kill('SIGKILL');
  await Promise.all([homePool.end(), northPool.end(), directory.end()]);
  north.remove();
  home.remove();
});

const move = (site: number, to: string | undefined) =>
  moveSite(directory, { siteId: site, to, urls: (node) => (node === undefined ? home.url : north.url), log: () => undefined });
const countsOf = async (db: Queryable, site: number): Promise<Record<string, number>> =>
  Object.fromEntries(
    await Promise.all(
      [
        'visitor',
        'visit',
        'page_view',
        'signal_piece',
        'event',
        'showing',
        'outcome',
        'lead',
        'visitor_change',
        'release',
        'campaign',
        'sealed_visits',
      ].map(
        async (table) =>
          [table, (await one<{ n: number }>(db, `select count(*)::int as n from ${table} where site_id = $1`, [site])).n] as const,
      ),
    ),
  );

/** Visits the site until told to stop; gives the ids of events that were acknowledged. */
async function browse(isOver: () => boolean): Promise<{ browser: string; events: string[]; told: Set<number> }> {
  const browser = newUuid();
  const open = openItem({ url: 'http://moving.example/huts' });
  const [events, told]: [string[], Set<number>] = [[], new Set()];
  const deliver = async (items: Item[]): Promise<void> =>
    eventually(async () => {
      const response = await fetch(`http://127.0.0.1:${port}/c`, {
        method: 'POST',
        body: JSON.stringify({ key: KEY, browser, now: Date.now(), items }),
        headers: { origin: 'http://moving.example', 'user-agent': DESKTOP },
      });
      told.add(response.status);
      return response.ok && ((await response.json()) as BatchAnswer).items.every(({ ok }) => ok);
    }, 'the batch is acknowledged');
  await deliver([open]);
  for (let piece = 0; !isOver(); piece++) {
    const id = newUuid();
    await deliver([
      pieceItem(open, { piece }),
      { kind: 'event', id, view: open.view, visit: open.visit, at: Date.now(), name: 'tick', props: { piece } },
    ]);
    events.push(id);
  }
  return { browser, events, told };
}

test('a site goes to another server and comes back while it is visited: nothing is lost, nothing is there twice', async () => {
  let isOver = false;
  const load = Promise.all(Array.from({ length: BROWSERS }, () => browse(() => isOver)));
  await eventually(async () => ((await countsOf(homePool, siteId))['event'] ?? 0) > 50, 'the site is visited');
  await publish(directory.of(siteId), { siteId, memberId: null, name: 'Before', note: '' });
  await move(siteId, 'north');
  const afterMove = (await countsOf(northPool, siteId))['event'] ?? 0;
  await eventually(async () => ((await countsOf(northPool, siteId))['event'] ?? 0) > afterMove + 50, 'it is visited on the other server');
  expect(await publish(directory.of(siteId), { siteId, memberId: null, name: 'There', note: '' })).toBe(2);
  expect(Object.values(await countsOf(homePool, siteId)).every((count) => count === 0)).toBe(true);
  await move(siteId, undefined);
  const back = (await countsOf(homePool, siteId))['event'] ?? 0;
  await eventually(async () => ((await countsOf(homePool, siteId))['event'] ?? 0) > back + 50, 'it is visited at home again');
  isOver = true;
  const visited = await load;

  const acknowledged = visited.flatMap(({ events }) => events);
  expect((await many<{ id: string }>(homePool, `select id from event where site_id = $1`, [siteId])).map(({ id }) => id).sort()).toEqual(
    acknowledged.sort(),
  );
  expect(await countsOf(homePool, siteId)).toMatchObject({
    visitor: BROWSERS,
    visit: BROWSERS,
    page_view: BROWSERS,
    signal_piece: acknowledged.length,
    release: 2,
  });
  expect(Object.values(await countsOf(northPool, siteId)).every((count) => count === 0)).toBe(true);
  // Whoever came while it was held was asked to come again, and told nothing else.
  expect(new Set(visited.flatMap(({ told }) => [...told]))).toEqual(new Set([200, 503]));
  expect(await one(homePool, `select node, held_at from site where id = $1`, [siteId])).toEqual({ node: null, held_at: null });
  expect(await many(homePool, `select from pg_replication_slots`)).toEqual([]);
  expect(await many(northPool, `select from pg_subscription`)).toEqual([]);
});

test('on the other server a site is counted, sealed and closed as it was at home, and the others stay', async () => {
  const members = async (pool: pg.Pool) => {
    const input = await new SiteMemory(new ReadSide(pool), demo).counting();
    return [...judgeEveryone({ lookback: 540, people: { kind: 'visits', times: { min: 1 } } }, input)];
  };
  const [before, counts, other] = [await members(homePool), await countsOf(homePool, demo), await countsOf(homePool, siteId)];
  expect(counts['visit']).toBeGreaterThan(200);
  await move(demo, 'north');
  expect(await countsOf(northPool, demo)).toEqual(counts);
  expect(await countsOf(homePool, siteId)).toEqual(other);
  expect(await members(northPool)).toEqual(before);
  // Who is of the site is known there, too, and follows what changes at home.
  const colleagues = async (pool: pg.Pool) => (await listColleagues(pool, demo)).map(({ name }) => name);
  const team = await colleagues(homePool);
  expect(team.length).toBeGreaterThan(1);
  expect(await colleagues(northPool)).toEqual(team);
  await homePool.query(
    `delete from membership where site_id = $1 and member_id = (select max(member_id) from membership where site_id = $1)`,
    [demo],
  );
  await copyMembers(homePool, { siteId: demo, to: northPool });
  expect(await colleagues(northPool)).toEqual(await colleagues(homePool));
  expect(await colleagues(northPool)).toHaveLength(team.length - 1);
  await northPool.query(`update sealed_visits set history = null, timelines = null, digests = null, sealed_at = null`);
  await northPool.query(`update visit set closed_at = null where site_id = $1`, [demo]);
  const fresh = new Directory(homePool, (url) => nodePool(url));
  for (const name of ['seal', 'close-visits', 'housekeeping'])
    await tasksOn(fresh)[name]?.({}, { logger: { info: () => undefined, error: (words: string) => expect(words).toBe('') } } as never);
  expect(await one(northPool, `select count(*)::int as open from sealed_visits where sealed_at is null`)).toEqual({ open: 0 });
  expect(
    await one(
      northPool,
      `select count(*)::int as open from visit where site_id = $1 and closed_at is null and last_at < now() - interval '31 minutes'`,
      [demo],
    ),
  ).toEqual({ open: 0 });
  expect(await members(northPool)).toEqual(before);
  await fresh.end();
});

test('what stands in the way is said, and the site stays where it is', async () => {
  await expect(move(demo, 'south')).rejects.toThrow('There is no node south; there are north');
  await expect(move(demo, 'north')).rejects.toThrow('The site is there already');
  await expect(move(999, 'north')).rejects.toThrow('There is no site 999');
  await northPool.query(`delete from migration where id = (select max(id) from migration)`);
  await expect(move(siteId, 'north')).rejects.toThrow(NotMovable);
});

test('while a site is held it can be read and not written', async () => {
  await homePool.query(`update site set held_at = now() where id = $1`, [siteId]);
  const other = new Directory(homePool, (url) => nodePool(url));
  const db = other.of(siteId);
  expect((await db.query(`select name from site where id = $1`, [siteId])).rows).toEqual([{ name: 'Moving' }]);
  await expect(db.query(`update site set name = 'x' where id = $1`, [siteId])).rejects.toThrow(SiteMoving);
  await expect(withTransaction(db, (tx) => tx.query(`update site set name = 'x'`))).rejects.toThrow(SiteMoving);
  await homePool.query(`update site set held_at = null where id = $1`, [siteId]);
  await other.end();
});
