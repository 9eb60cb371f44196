import { execFileSync } from 'node:child_process';
import pg from 'pg';
import type { Directory } from '@/server/db/directory';
import { many, maybeOne } from '@/server/db/queryable';
import { findSiteByKey } from '@/server/db/sites';
import { moveSite } from '@/server/nodes/move';
import { readOptions, Usage } from './options';
import { withDirectory } from './site';

const HOME = 'home';
const homeUrl = (): string => process.env['CRINDLE_DATABASE_DIRECT_URL'] ?? process.env['CRINDLE_DATABASE_URL'] ?? '';

/** Which PostgreSQL servers there are, a new one, and a site's way from one to another. */
export async function nodesCommand(words: readonly string[], print: (line: string) => void): Promise<void> {
  const [what, ...rest] = words;
  switch (what) {
    case 'list':
      return withDirectory((directory) => listNodes(directory, print));
    case 'add':
      return withDirectory((directory) => addNode(directory, rest, print));
    case 'move':
      return moveTo(rest, print);
    case undefined:
    default:
      throw new Usage(`nodes: met ${what ?? 'nothing'}, expected list, add NAME URL or move SITE NAME [--as URL]`);
  }
}

async function listNodes(directory: Directory, print: (line: string) => void): Promise<void> {
  for (const { name, pool, sites } of await directory.servers()) {
    const answer = await pool.query<{ size: string }>(`select pg_size_pretty(pg_database_size(current_database())) as size`).then(
      ({ rows }) => rows[0]?.size ?? '',
      (cause: Error) => `away: ${cause.message}`,
    );
    print(`${(name ?? HOME).padEnd(20)} ${String(sites.length).padStart(6)} sites  ${answer}`);
  }
}

async function addNode(directory: Directory, [name, url]: readonly string[], print: (line: string) => void): Promise<void> {
  if (!name || !/^[a-z][a-z0-9-]{0,39}$/.test(name) || name === HOME)
    throw new Usage(`nodes add: the name is ${name ?? 'missing'}, expected small letters, digits and hyphens, and not "${HOME}"`);
  if (!url || !/^postgres(ql)?:\/\//.test(url))
    throw new Usage(`nodes add: the address is ${url ? 'another' : 'missing'}, expected postgres://…`);
  if (await maybeOne(directory.home, `select from node where name = $1 or url = $2`, [name, url]))
    throw new Usage(`nodes add: there is such a node already`);
  const client = new pg.Client({ connectionString: url });
  await client.connect().catch((cause: Error) => {
    throw new Usage(`nodes add: ${name} cannot be reached: ${cause.message}`);
  });
  const { rows } = await client.query<{ level: string }>(`select current_setting('wal_level') as level`);
  await client.end();
  execFileSync('node', ['scripts/migrate.mjs'], {
    env: { ...process.env, CRINDLE_DATABASE_URL: url, CRINDLE_DATABASE_DIRECT_URL: url },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  await directory.home.query(`insert into node (name, url) values ($1, $2)`, [name, url]);
  print(`${name} can take sites.`);
  if (rows[0]?.level !== 'logical') print(`Its wal_level is ${rows[0]?.level}: sites can come, and leave again only once it is logical.`);
}

/** The same server and database, whoever asks. */
const whereIs = (url: string): string => `${new URL(url).host}${new URL(url).pathname}`;

/** `--as`: the other server's address with a role that may copy by replication, where the one it was added with may not. */
async function moveTo(words: readonly string[], print: (line: string) => void): Promise<void> {
  const { option, rest } = readOptions(words, { values: ['--as'] });
  const given = option('--as');
  if (given !== undefined && !URL.canParse(given)) throw new Usage('nodes move: --as expects postgres://…');
  const as = (url: string): string => (given !== undefined && whereIs(url) === whereIs(given) ? given : url);
  await withDirectory((directory) => moveIn(directory, { words: rest, as }, print), as);
}

async function moveIn(
  directory: Directory,
  { words: [key, name], as }: { words: readonly string[]; as: (url: string) => string },
  print: (line: string) => void,
): Promise<void> {
  if (!key || !name) throw new Usage('nodes move: expected the key of a site and the name of a node, or home');
  const site = await findSiteByKey(directory.home, key);
  if (!site) throw new Usage(`nodes move: met ${key}, expected the key of a site`);
  const addresses = new Map(
    (await many<{ name: string; url: string }>(directory.home, `select name, url from node`)).map((node) => [node.name, node.url]),
  );
  const { rows, heldMs } = await moveSite(directory, {
    siteId: site.id,
    to: name === HOME ? undefined : name,
    urls: (node) => (node === undefined ? homeUrl() : as(addresses.get(node) ?? '')),
    log: (text) => print(`  ${text}`),
  });
  print(`${key} is on ${name} now: ${rows.toLocaleString('en')} rows; nothing could be written for ${(heldMs / 1000).toFixed(1)} s.`);
}
