import { randomBytes } from 'node:crypto';
import pg from 'pg';

export interface FreshDatabase {
  readonly pool: pg.Pool;
  readonly url: string;
  readonly drop: () => Promise<void>;
}

/** An empty, migrated database of its own: a copy of the one that CRINDLE_DATABASE_URL names. */
export const freshDatabase = (): Promise<FreshDatabase> => makeDatabase((migrated) => migrated);

/** One with nothing in it, not even tables. */
export const emptyDatabase = (): Promise<FreshDatabase> => makeDatabase(() => 'template0');

async function makeDatabase(like: (migrated: string) => string): Promise<FreshDatabase> {
  const template = process.env['CRINDLE_DATABASE_URL'];
  if (!template) throw new Error('CRINDLE_DATABASE_URL is not set; run ./crindle test database');
  const name = `test_${process.pid}_${randomBytes(4).toString('hex')}`;
  const url = new URL(template);
  const source = url.pathname.slice(1);
  url.pathname = '/postgres';
  const admin = new pg.Client({ connectionString: url.href });
  await admin.connect();
  await admin.query(`create database ${name} template ${like(source)}`);
  url.pathname = `/${name}`;
  const pool = new pg.Pool({ connectionString: url.href, max: 6 });
  pool.on('error', () => undefined); // Tests end backends on purpose.
  return {
    pool,
    url: url.href,
    drop: async () => {
      await pool.end();
      await admin.query(`drop database ${name} with (force)`);
      await admin.end();
    },
  };
}
