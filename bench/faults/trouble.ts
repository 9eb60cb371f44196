import pg from 'pg';
import { createDice } from '@/core/random/dice';
import { freePort } from '@/server/testing/freePort';
import { startCollector } from '../ground';
import type { Wrongs } from './ground';
import { batchOf, makeSite, ORIGIN, pause, send } from './ground';

const PATIENCE_MS = 20_000;

/** The database may be read only, and somebody holds what is to be written: told apart, with a time to come again, and well again by itself. */
export async function runTrouble(): Promise<Wrongs> {
  const { url, pool } = await makeSite();
  const collector = await startCollector(url, await freePort());
  const { port } = collector;
  const dice = createDice('trouble');
  const name = new URL(url).pathname.slice(1);
  const wrongs: string[] = [];
  const admin = new URL(url);
  admin.pathname = '/postgres';
  const client = new pg.Client({ connectionString: admin.href });
  await client.connect();

  const open = () => {
    const at = Date.now();
    return send(port, {
      body: batchOf(dice.uuid(at), [
        { kind: 'open', view: dice.uuid(at), visit: dice.uuid(at), at, visitAt: at, url: `${ORIGIN}/x`, referrer: '' },
      ]),
    });
  };
  const health = () => send(port, { path: '/health', method: 'GET' });
  /** The first answer that is as it should be; what was met last, if none comes in time. */
  const until = async (what: string, ask: typeof open, isRight: (answer: Awaited<ReturnType<typeof open>>) => boolean): Promise<void> => {
    const end = performance.now() + PATIENCE_MS;
    for (;;) {
      const answer = await ask();
      if (isRight(answer)) return;
      if (performance.now() > end) return void wrongs.push(`${what}: met ${answer.status} ${answer.text.slice(0, 150)}`);
      await pause(100);
    }
  };
  const outage = (code: string) => (answer: Awaited<ReturnType<typeof open>>) =>
    answer.status === 503 && answer.retryAfter !== undefined && answer.text.includes(code);

  await until('before', open, ({ status }) => status === 200);
  await client.query(`alter database ${name} set default_transaction_read_only = on`);
  await client.query(`select pg_terminate_backend(pid) from pg_stat_activity where datname = $1`, [name]);
  await until('read-only, a write', open, outage('database.readOnly'));
  await until('read-only, health', health, ({ status }) => status === 503);
  await client.query(`alter database ${name} reset default_transaction_read_only`);
  await client.query(`select pg_terminate_backend(pid) from pg_stat_activity where datname = $1`, [name]);
  await until('no longer read-only, a write', open, ({ status }) => status === 200);
  await until('no longer read-only, health', health, ({ status }) => status === 200);

  const holder = new pg.Client({ connectionString: url });
  await holder.connect();
  await holder.query('begin');
  await holder.query('lock table page_view in access exclusive mode');
  await until('locked, a write', open, outage('database.locked'));
  await holder.query('rollback');
  await holder.end();
  await until('no longer locked, a write', open, ({ status }) => status === 200);
  await until('no longer locked, health', health, ({ status }) => status === 200);
  collector.process.kill('SIGTERM');
  await client.end();
  await pool.end();
  console.log(
    `trouble: a database that may only be read, and one that is locked: ${wrongs.length ? `${wrongs.length} WRONG` : 'told apart, and well again by itself'}`,
  );
  return wrongs;
}
