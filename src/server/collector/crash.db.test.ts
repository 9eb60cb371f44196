import { createServer } from 'node:net';
import type { Item } from '@/core/wire/items';
import { many } from '../db/queryable';
import { createSite } from '../db/sites';
import { spawnCollector, startCollector } from '../testing/collectorProcess';
import { eventually } from '../testing/eventually';
import { freePort } from '../testing/freePort';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid, openItem, pieceItem } from '../testing/items';

const BROWSERS = 12;
const REQUESTS_EACH = 60;
const DESKTOP = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
let database: FreshDatabase;

beforeAll(async () => {
  database = await freshDatabase();
  await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
});
afterAll(() => database.drop());

/** Sends one batch until it is acknowledged, as the page script does. */
async function deliver(port: number, body: string): Promise<void> {
  const post = () =>
    fetch(`http://127.0.0.1:${port}/c`, { method: 'POST', body, headers: { origin: 'http://site.example', 'user-agent': DESKTOP } }).then(
      async (response) => response.ok && ((await response.json()) as { items: { ok: boolean }[] }).items.every(({ ok }) => ok),
      () => false,
    );
  await eventually(post, 'the batch is acknowledged');
}

test('a collector killed twice under load loses nothing it acknowledged and stores nothing twice', async () => {
  const port = await freePort();
  let collector = await startCollector(port, database.url);
  const acknowledged: string[] = [];
  const browse = async (): Promise<void> => {
    const browser = newUuid();
    const open = openItem();
    const send = async (items: Item[]): Promise<void> =>
      deliver(port, JSON.stringify({ key: 'sitekey123', browser, now: Date.now(), items }));
    await send([open]);
    for (let index = 0; index < REQUESTS_EACH; index++) {
      const id = newUuid();
      await send([
        pieceItem(open, { piece: index }),
        { kind: 'event', id, view: open.view, visit: open.visit, at: Date.now(), name: 'tick', props: { index } },
      ]);
      acknowledged.push(id);
    }
  };
  const load = Promise.all(Array.from({ length: BROWSERS }, browse));
  for (const share of [0.25, 0.6]) {
    await eventually(() => acknowledged.length >= BROWSERS * REQUESTS_EACH * share);
    collector.kill('SIGKILL');
    collector = await startCollector(port, database.url);
  }
  await load;
  collector.kill('SIGTERM');

  const events = await many<{ id: string }>(database.pool, `select id from event`);
  expect(acknowledged).toHaveLength(BROWSERS * REQUESTS_EACH);
  expect(events.map(({ id }) => id).sort()).toEqual([...acknowledged].sort());
  expect(await many(database.pool, `select count(*)::int as pieces, count(distinct view_id)::int as views from signal_piece`)).toEqual([
    { pieces: BROWSERS * REQUESTS_EACH, views: BROWSERS },
  ]);
  expect(await many(database.pool, `select count(*)::int as visitors from visitor`)).toEqual([{ visitors: BROWSERS }]);
});

test('a collector without a database says so, stays up, and works when it is back', async () => {
  const port = await freePort();
  const collector = await startCollector(port, database.url);
  const name = new URL(database.url).pathname.slice(1);
  await many(database.pool, `select pg_terminate_backend(pid) from pg_stat_activity where datname = $1 and pid <> pg_backend_pid()`, [
    name,
  ]);
  const body = JSON.stringify({ key: 'sitekey123', browser: newUuid(), now: Date.now(), items: [openItem()] });
  await deliver(port, body);
  expect(collector.exitCode).toBeNull();
  collector.kill('SIGTERM');
  await new Promise((resolve) => collector.once('exit', resolve));
  expect(collector.exitCode).toBe(0);
});

test('a taken port is told, not thrown', async () => {
  const port = await freePort();
  const blocker = createServer().listen(port, '127.0.0.1');
  const child = spawnCollector(port, database.url);
  let said = '';
  child.stderr?.on('data', (chunk: Buffer) => (said += chunk.toString()));
  const code = await new Promise((resolve) => child.once('exit', resolve));
  blocker.close();
  expect({ code, said: said.trim() }).toEqual({ code: 98, said: `The collector cannot start: port ${port} is another program’s` });
});

test('with nobody at the database’s address every request is told to come again', async () => {
  const port = await freePort();
  const nowhere = await freePort();
  const child = spawnCollector(port, `postgres://x:y@127.0.0.1:${nowhere}/z`);
  child.stderr?.resume();
  let response: Response | undefined;
  await eventually(async () => {
    response = await fetch(`http://127.0.0.1:${port}/c`, {
      method: 'POST',
      body: JSON.stringify({ key: 'sitekey123', browser: newUuid(), now: Date.now(), items: [] }),
      headers: { origin: 'http://site.example' },
    }).catch(() => undefined);
    return response !== undefined;
  }, 'the collector answers at all');
  expect(response?.status).toBe(503);
  expect(response?.headers.get('retry-after')).toBe('5');
  expect(await response?.json()).toEqual({ error: { code: 'database.away', message: expect.stringContaining('send it again') as string } });
  child.kill('SIGKILL');
});
