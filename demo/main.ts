// Makes the demo's site and its visits: `node dist/server/seed.mjs`.
import { endWith, readOptions, wholeNumber } from '@/cli/options';
import { createPool } from '@/server/db/pool';
import { seedDemo } from './seed';

async function seed(): Promise<void> {
  const { option } = readOptions(process.argv.slice(2), { values: ['--visits', '--days', '--addresses', '--seed', '--truth'] });
  const visits = wholeNumber('--visits', option('--visits'), { least: 0, most: 10_000_000, otherwise: 40_000 });
  const days = wholeNumber('--days', option('--days'), { least: 1, most: 500, otherwise: 60 });
  const pool = createPool();
  await seedDemo(pool, {
    visits,
    days,
    addresses: (option('--addresses') ?? '127.0.0.1:4704').split(','),
    now: Date.now(),
    seed: option('--seed') ?? 'tarnhollow',
    truthFile: option('--truth'),
    standins: process.env['CRINDLE_STANDINS'],
    log: (line) => console.error(line),
  });
  await pool.end();
}

endWith(seed());
