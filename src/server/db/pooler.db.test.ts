// Everything that talks to the database does so through a pooler as well, in few connections.
import type { ChildProcess } from 'node:child_process';
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import type { BatchAnswer, Item } from '@/core/wire/items';
import { startCollector } from '../testing/collectorProcess';
import { Cluster, Pooler } from '../testing/clusters';
import { eventually } from '../testing/eventually';
import { freePort } from '../testing/freePort';
import { newUuid, openItem, pieceItem } from '../testing/items';
import { createSite, setPrivacy } from './sites';
import { createPool } from './pool';
import { one } from './queryable';

const BROWSERS = 30;
const ROUNDS = 20;
const KEY = 'pooledsite1';
const DESKTOP = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
let cluster: Cluster;
let pooler: Pooler;
const children: ChildProcess[] = [];
const before = { ...process.env };

beforeAll(async () => {
  cluster = await Cluster.make(['max_connections=30']);
  pooler = await Pooler.before(cluster);
  process.env['CRINDLE_DATABASE_URL'] = pooler.url;
  process.env['CRINDLE_DATABASE_DIRECT_URL'] = cluster.url;
});
afterAll(async () => {
  process.env = before;
  for (const child of children) child.kill('SIGKILL');
  await pooler.remove();
  cluster.remove();
});

async function send(port: number, browser: string, items: Item[]): Promise<BatchAnswer | undefined> {
  const response = await fetch(`http://127.0.0.1:${port}/c`, {
    method: 'POST',
    body: JSON.stringify({ key: KEY, browser, now: Date.now(), items }),
    headers: { origin: 'http://pooled.example', 'user-agent': DESKTOP },
  });
  return response.ok ? ((await response.json()) as BatchAnswer) : undefined;
}

test('collectors write through it what they acknowledge, and hear past it what is announced', async () => {
  const pool = createPool(20);
  const site = await createSite(pool, { key: KEY, name: 'Pooled', addresses: ['pooled.example'] });
  const ports = [await freePort(), await freePort()];
  for (const port of ports)
    children.push(await startCollector(port, pooler.url, { CRINDLE_DATABASE_DIRECT_URL: cluster.url, NODE_ENV: 'production' }));
  const acknowledged: string[] = [];
  const browse = async (nth: number): Promise<void> => {
    const browser = newUuid();
    const open = openItem({ url: 'http://pooled.example/huts' });
    const deliver = (port: number, items: Item[]) =>
      eventually(async () => (await send(port, browser, items))?.items.every(({ ok }) => ok) ?? false, 'the batch is acknowledged');
    await deliver(ports[nth % 2] ?? 0, [open]);
    for (let round = 0; round < ROUNDS; round++) {
      const id = newUuid();
      const event: Item = { kind: 'event', id, view: open.view, visit: open.visit, at: Date.now(), name: 'tick', props: { round } };
      await deliver(ports[(nth + round) % 2] ?? 0, [pieceItem(open, { piece: round }), event]);
      acknowledged.push(id);
    }
  };
  await Promise.all(Array.from({ length: BROWSERS }, (_, nth) => browse(nth)));
  expect(
    await one(
      pool,
      `select (select count(*)::int from event where site_id = $1) as events, (select count(*)::int from visitor where site_id = $1) as visitors,
              (select count(*)::int from signal_piece where site_id = $1) as pieces, (select array_agg(id::text order by id) = $2::text[] from event where site_id = $1) as same`,
      [site.id, [...acknowledged].sort()],
    ),
  ).toEqual({ events: BROWSERS * ROUNDS, visitors: BROWSERS, pieces: BROWSERS * ROUNDS, same: true });
  // No more connections than the pooler has for everybody, and those that listen.
  const { connections } = await one<{ connections: number }>(
    pool,
    `select count(*)::int as connections from pg_stat_activity where datname = 'crindle' and backend_type = 'client backend'`,
  );
  expect(connections).toBeLessThanOrEqual(4 + ports.length);

  // Consent is asked from the moment on in which that is set: nobody looks for it every second where it is announced.
  const fresh = (port: number) => send(port, newUuid(), [openItem({ url: 'http://pooled.example/' })]);
  await setPrivacy(pool, site.id, { consent: 'asked', keptParameters: [] });
  for (const port of ports) {
    await eventually(async () => {
      const { visitors: had } = await one<{ visitors: number }>(pool, `select count(*)::int as visitors from visitor where site_id = $1`, [
        site.id,
      ]);
      await fresh(port);
      const { visitors } = await one<{ visitors: number }>(pool, `select count(*)::int as visitors from visitor where site_id = $1`, [
        site.id,
      ]);
      return visitors === had;
    }, 'the collector knows that consent is asked');
  }
  await pool.end();
});

test('the settings of a session are the pooler’s', async () => {
  const pool = createPool(2, { lockMs: 1 });
  expect(await one(pool, `select current_setting('lock_timeout') as lock, current_setting('statement_timeout') as statement`)).toEqual({
    lock: '4s',
    statement: '30s',
  });
  await pool.end();
});

test('the worker has its jobs past it', async () => {
  const port = await freePort();
  const worker = spawn('node', ['dist/server/worker.mjs'], {
    cwd: join(__dirname, '../../..'),
    env: { ...process.env, NODE_ENV: 'production', PORT: String(port), HOST: '127.0.0.1' },
    stdio: 'ignore',
  });
  children.push(worker);
  const pool = createPool(2);
  await pool.query(`update visit set started_at = started_at - interval '1 hour', last_at = last_at - interval '1 hour', closed_at = null`);
  await eventually(
    () =>
      fetch(`http://127.0.0.1:${port}/health`).then(
        ({ ok }) => ok,
        () => false,
      ),
    'the worker answers',
  );
  await cluster.ask('crindle', `select graphile_worker.add_job('close-visits')`);
  await eventually(
    async () => (await one<{ open: number }>(pool, `select count(*)::int as open from visit where closed_at is null`)).open === 0,
    'the worker has closed the visits',
  );
  await pool.end();
});
