// Brings the database named by CRINDLE_DATABASE_URL (CRINDLE_DATABASE_DIRECT_URL where that is a pooler's) to the newest migration and makes this and next month's partitions.
import { runner } from 'node-pg-migrate';
import pg from 'pg';

const databaseUrl = process.env['CRINDLE_DATABASE_DIRECT_URL'] ?? process.env['CRINDLE_DATABASE_URL'];
if (!databaseUrl) {
  console.error('CRINDLE_DATABASE_URL is not set. Start through ./crindle, which sets it.');
  process.exit(1);
}

/** Gives the servers that it names in turn. */
async function migrate(url, where) {
  const applied = await runner({
    databaseUrl: url,
    dir: new URL('../db/migrations', import.meta.url).pathname,
    migrationsTable: 'migration',
    direction: 'up',
    log: () => undefined,
  });
  for (const { name } of applied) console.log(`  migrated ${name}${where}`);
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  for (const months of [-2, -1, 0, 1]) {
    // Without one the default partition takes its rows, until it can be made: no reason not to start.
    await client
      .query(`select add_partitions((now() + make_interval(months => $1))::date)`, [months])
      .catch((cause) => console.error(`  the partitions of a month could not be made: ${cause.message}`));
  }
  const { rows } = await client.query(`select name, url from node order by name`);
  await client.end();
  return rows;
}

// A node that is away keeps its sites to itself, and nothing else from starting.
for (const { name, url } of await migrate(databaseUrl, ''))
  await migrate(url, ` of ${name}`).catch((cause) =>
    console.error(`  the node ${name} could not be brought to the newest: ${cause.message}`),
  );
