import { createPool } from '@/server/db/pool';
import { seedDemo } from '@/demo/seed';

const [command, ...rest] = process.argv.slice(2);

switch (command) {
  case 'seed': {
    const visits = Number(option('--visits') ?? 2000);
    if (!Number.isInteger(visits) || visits < 0 || visits > 2_000_000)
      fail(`--visits: met ${option('--visits')}, expected a whole number from 0 to 2000000`);
    const pool = createPool();
    await seedDemo(pool, {
      visits,
      addresses: (option('--addresses') ?? '127.0.0.1:4704').split(','),
      now: Date.now(),
      log: (line) => console.error(line),
    });
    await pool.end();
    break;
  }
  default:
    fail(`There is no command ${command ?? ''}; see ./crindle help`);
}

function option(name: string): string | undefined {
  const at = rest.indexOf(name);
  return at < 0 ? undefined : rest[at + 1];
}

function fail(message: string): never {
  console.error(message);
  process.exit(2);
}
