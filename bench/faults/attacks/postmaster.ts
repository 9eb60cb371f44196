import { execFile } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import pg from 'pg';
import { ROOT } from '../../ground';
import { sized } from '../../sized';
import type { Wrongs } from '../ground';
import { inWords, pause } from '../ground';

const KILLS = sized(20, 2);
/** It has to be back within this, ms. */
const MOST_MS = 3_000;
const run = promisify(execFile);
const SHELL = 'set -e; for file in scripts/shell/*.sh; do . "$file"; done; choose_data; ';

/** PostgreSQL is killed again and again as it stands in `./crindle start`: it is back within seconds, on its port, with all that it had. */
export async function runPostmaster(): Promise<Wrongs> {
  const folder = mkdtempSync(join(tmpdir(), 'crindle-postmaster-'));
  chmodSync(folder, 0o755);
  const env = { ...process.env, CRINDLE_DATA: folder, ROOT };
  delete (env as NodeJS.ProcessEnv)['CRINDLE_DATABASE_URL'];
  const shell = async (command: string): Promise<string> =>
    (await run('bash', ['-c', `ROOT=${ROOT}; ${SHELL}${command}`], { cwd: ROOT, env })).stdout.trim();
  const wrongs: string[] = [];
  const away: number[] = [];
  try {
    const url = await shell('start_database "$DATA/db" on >&2; keep_database "$DATA/db"; printf %s "$CRINDLE_DATABASE_URL"');
    const ask = async (sql: string): Promise<number> => {
      const client = new pg.Client(url);
      client.on('error', () => undefined);
      try {
        await client.connect();
        return (await client.query<{ n: number }>(sql)).rows[0]?.n ?? 0;
      } finally {
        await client.end().catch(() => undefined);
      }
    };
    await ask('create table it (n int)');
    for (let nth = 1; nth <= KILLS; nth++) {
      await ask(`insert into it values (${nth})`);
      const pid = Number(readFileSync(join(folder, 'db/pg/postmaster.pid'), 'utf8').split('\n')[0]);
      process.kill(pid, 'SIGKILL');
      const began = performance.now();
      for (;;) {
        const there = await ask('select count(*)::int as n from it').catch(() => undefined);
        if (there === nth) break;
        if (there !== undefined) wrongs.push(`After the ${nth}. kill there are ${there} rows`);
        if (there !== undefined || performance.now() - began > 60_000) break;
        await pause(20);
      }
      away.push(performance.now() - began);
      // Whoever is killed time and again is started more seldom; here an hour lies between two kills.
      await pause(sized(1_500, 200));
    }
  } finally {
    await shell('stop_service database; stop_database "$DATA/db"');
    rmSync(folder, { recursive: true, force: true });
  }
  const longest = Math.max(...away);
  if (longest > MOST_MS) wrongs.push(`PostgreSQL was away for ${inWords(longest)} ms`);
  console.log(
    `postmaster: ${KILLS} SIGKILLs of PostgreSQL’s first process; it was back within ${inWords(longest)} ms each time, on its port and with all that it had`,
  );
  return wrongs;
}
