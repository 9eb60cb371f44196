// What was backed up is the same once it is restored into an empty place, and nowhere else.
import { execFileSync, spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, statSync, truncateSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { seedDemo } from '@/demo/seed';
import type { FreshDatabase } from '@/server/testing/freshDatabase';
import { emptyDatabase, freshDatabase } from '@/server/testing/freshDatabase';

const ROOT = join(__dirname, '../..');
const KEY = Buffer.alloc(32, 5).toString('base64');
let database: FreshDatabase;
let empty: FreshDatabase;
let folder: string;
beforeEach(async () => {
  [database, empty] = [await freshDatabase(), await emptyDatabase()];
  folder = mkdtempSync(join(tmpdir(), 'crindle-backup-'));
  // PostgreSQL’s own user looks whether it could put a cluster there.
  chmodSync(folder, 0o755);
});
afterEach(async () => {
  rmSync(folder, { recursive: true });
  await Promise.all([database.drop(), empty.drop()]);
});

const crindle = (url: string, words: readonly string[], env: Record<string, string> = {}) => {
  const { status, stderr, stdout } = spawnSync('./crindle', words, {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, CRINDLE_DATABASE_URL: url, CRINDLE_DATA: join(folder, 'data'), ...env },
  });
  return { status, said: `${stdout}${stderr}` };
};
/** All rows of all tables as text, in an order that says nothing of how they are stored. */
const contents = (url: string): string[] =>
  execFileSync('pg_dump', ['--dbname', url, '--no-owner', '--inserts'], { encoding: 'utf8', maxBuffer: 1 << 29 })
    .split('\n')
    .filter((line) => !line.startsWith('--') && !line.startsWith('\\'))
    // A condition that was read in again has fewer brackets that say nothing.
    .map((line) => (line.includes(' CHECK ') ? line.replace(/[()]/g, '') : line))
    .sort();

test('a demo with its leads, pictures and secrets comes back row for row, with the key', async () => {
  await seedDemo(database.pool, {
    visits: 150,
    days: 5,
    addresses: ['127.0.0.1:1'],
    now: Date.parse('2026-11-27T12:00:00Z'),
    seed: 'backup',
    truthFile: undefined,
    standins: undefined,
    log: () => undefined,
  });
  const file = join(folder, 'crindle.tar');
  const made = crindle(database.url, ['backup', file], { CRINDLE_SECRET_KEY: KEY });
  expect(made).toMatchObject({ status: 0, said: expect.stringContaining('Written to') as string });
  // Nobody else on the machine reads it.
  expect(statSync(file).mode & 0o077).toBe(0);
  expect(crindle(database.url, ['backup', file])).toMatchObject({ status: 1, said: expect.stringContaining('is there already') as string });

  const back = crindle(empty.url, ['restore', file]);
  expect(back).toMatchObject({ status: 0, said: expect.stringContaining('Restored from') as string });
  expect(contents(empty.url)).toEqual(contents(database.url));
  expect(readFileSync(join(folder, 'data', 'key'), 'utf8').trim()).toBe(KEY);
  expect(statSync(join(folder, 'data', 'key')).mode & 0o077).toBe(0);
  // Where there is something already, nothing is touched.
  expect(crindle(empty.url, ['restore', file])).toMatchObject({
    status: 1,
    said: expect.stringContaining('There is data here already') as string,
  });
}, 240_000);

test('what is no backup, or is cut off, is refused in words and leaves nothing behind', async () => {
  const file = join(folder, 'crindle.tar');
  expect(crindle(database.url, ['backup'])).toMatchObject({ status: 1, said: expect.stringContaining('wants the file') as string });
  expect(crindle('postgres://crindle@127.0.0.1:1/none', ['backup', file])).toMatchObject({ status: 1 });
  expect(existsSync(file)).toBe(false);
  expect(crindle(empty.url, ['restore', file])).toMatchObject({ status: 1, said: expect.stringContaining('is not there') as string });
  expect(crindle(empty.url, ['restore', join(ROOT, 'package.json')])).toMatchObject({
    status: 1,
    said: expect.stringContaining('no backup of Crindle') as string,
  });
  crindle(database.url, ['backup', file]);
  truncateSync(file, Math.floor(statSync(file).size / 2));
  expect(crindle(empty.url, ['restore', file])).toMatchObject({ status: 1 });
  const { rows } = await empty.pool.query(`select from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r'`);
  expect(rows).toEqual([]);
}, 240_000);
