import { execFile } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import pg from 'pg';

const run = promisify(execFile);
const SHELL = 'set -e; ROOT=$PWD; for file in scripts/shell/*.sh; do . "$file"; done; choose_data; ';

let folder: string;
const shell = async (command: string): Promise<string> =>
  (await run('bash', ['-c', SHELL + command], { env: { ...process.env, CRINDLE_DATA: folder } })).stdout.trim();

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'crindle-kept-'));
  chmodSync(folder, 0o755);
});
afterEach(async () => {
  await shell('stop_service database; stop_database "$DATA/db"');
  rmSync(folder, { recursive: true, force: true });
});

async function ask(url: string): Promise<unknown> {
  const client = new pg.Client(url);
  client.on('error', () => undefined);
  await client.connect();
  const { rows } = await client.query('select count(*)::int as kept from it');
  await client.end();
  return rows;
}

/** As soon as it answers, or what it says last. */
async function answered(url: string, until: number): Promise<unknown> {
  for (;;)
    try {
      return await ask(url);
    } catch (cause) {
      if (performance.now() > until) throw cause;
    }
}

test('PostgreSQL that was killed is started again on its port with all that it had, as often as it is, and it is written down', async () => {
  const url = await shell('start_database "$DATA/db" on >&2; keep_database "$DATA/db"; printf %s "$CRINDLE_DATABASE_URL"');
  const client = new pg.Client(url);
  await client.connect();
  await client.query('create table it (n int); insert into it select generate_series(1, 1000)');
  await client.end();
  for (const times of [1, 2]) {
    const pid = Number(readFileSync(join(folder, 'db/pg/postmaster.pid'), 'utf8').split('\n')[0]);
    process.kill(pid, 'SIGKILL');
    expect(await answered(url, performance.now() + 60_000)).toEqual([{ kept: 1000 }]);
    expect(
      await shell(`until grep -q '^${times} .* runs$' "$RUN/database.restarts"; do sleep 0.05; done; restarts_in_words database`),
    ).toContain(times === 1 ? 'started again once' : 'started again 2 times');
  }
});
