import { execFileSync, spawn } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { finished } from 'node:stream/promises';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { v7 as uuidv7 } from 'uuid';
import type { BatchAnswer, Item, PieceItem, SentItem } from '@/core/wire/items';
import { packSignals } from '@/core/wire/pack';
import { createSite } from '@/server/db/sites';
import type { Target } from './ground';
import { freePort } from '@/server/testing/freePort';
import { makeDatabase, ROOT, serverEnv, startCollector, started, startServer } from './ground';
import { median } from './median';
import { sized } from './sized';

const DATABASE = 'bench_collect';
const KEY = 'benchsite1';
const ORIGIN = 'http://bench.example';
const BROWSER = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
const TOGETHER = 64;
const ROUNDS = sized(3, 1);
/** What the page script sends in one request at most, in bytes. */
const BATCH_BYTES = 48_000;
const SINGLE_REQUESTS = sized(6000, 200);
const FULL_REQUESTS = sized(150, 4);
const COPIED_PIECES = sized(60_000, 1000);
const ROUTE_REQUESTS = sized(8000, 100);
const KILL_REQUESTS = sized(10_000, 600);
/** Clock ticks of /proc, in µs. */
const TICK_US = 10_000;

/** Acknowledged signals against COPY, the collector against a Next route that does the same, and what is left after both sides were killed. */
export async function benchCollect(): Promise<void> {
  const url = await makeDatabase(DATABASE);
  const pool = new pg.Pool({ connectionString: url, max: 4 });
  pool.on('error', () => undefined); // The database is killed on purpose below.
  const collector = await startCollector(url, await freePort());
  try {
    await createSite(pool, { key: KEY, name: 'Bench', addresses: [new URL(ORIGIN).host] });
    console.log(`Collecting, ${TOGETHER} requests under way at a time, every answer after its commit`);
    await measureAgainstCopy(collector, pool);
    const route = await startRoute(url);
    await measureAgainstRoute(collector, route);
    route.process.kill('SIGKILL');
    await countAfterKills(url, pool, collector);
  } finally {
    for (const { process } of started) process.kill('SIGKILL');
    await pool.end();
  }
}

async function measureAgainstCopy(collector: Target, pool: pg.Pool): Promise<void> {
  await playRequests(collector.port, await singleRequests(collector.port, SINGLE_REQUESTS / 4)); // Warm.
  const rates: Record<'single' | 'full' | 'copy', number[]> = { single: [], full: [], copy: [] };
  for (let round = 0; round < ROUNDS; round++) {
    rates.single.push(await signalRate(collector.port, await singleRequests(collector.port, SINGLE_REQUESTS)));
    rates.full.push(await signalRate(collector.port, await fullRequests(collector.port, FULL_REQUESTS)));
    rates.copy.push(await copyRate(pool));
  }
  const [single, full, copy] = [median(rates.single), median(rates.full), median(rates.copy)];
  const line = (what: string, rate: number) =>
    console.log(`  ${what.padEnd(34)} ${Math.round(rate).toLocaleString('en')} signals/s, ${(rate / copy).toFixed(2)} of COPY (goal 0.25)`);
  console.log(`  ${'COPY into signal_piece'.padEnd(34)} ${Math.round(copy).toLocaleString('en')} signals/s`);
  line(`requests of ${BATCH_BYTES / 1000} KB`, full);
  line('requests of one piece of 12 signals', single);
}

async function measureAgainstRoute(collector: Target, route: Target): Promise<void> {
  const [own, routed]: [number[], number[]] = [[], []];
  await playRequests(route.port, await singleRequests(collector.port, ROUTE_REQUESTS)); // Warm.
  for (let round = 0; round < ROUNDS; round++) {
    own.push(await cpuARequest(collector, await singleRequests(collector.port, ROUTE_REQUESTS)));
    routed.push(await cpuARequest(route, await singleRequests(collector.port, ROUTE_REQUESTS)));
  }
  const [ours, theirs] = [median(own), median(routed)];
  console.log(
    `  CPU a request: collector ${Math.round(ours)} µs, Next route ${Math.round(theirs)} µs: ${(theirs / ours).toFixed(1)} times (goal 10)`,
  );
}

/** Requests are sent again until acknowledged, as the page script does; then the rows are counted. */
async function countAfterKills(url: string, pool: pg.Pool, first: Target): Promise<void> {
  const kill = process.env['CRINDLE_BENCH_KILL'];
  await pool.query('truncate signal_piece');
  const bodies = await singleRequests(first.port, KILL_REQUESTS);
  const wanted = new Set(bodies.flatMap(({ pieces }) => pieces));
  let collector = first;
  let acknowledged = 0;
  let again = 0;
  const deliver = async ({ body }: Sending): Promise<void> => {
    while (await post(collector.port, body).catch(String)) {
      again += 1;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    acknowledged += 1;
  };
  const reached = async (share: number): Promise<void> => {
    while (acknowledged < KILL_REQUESTS * share) await new Promise((resolve) => setTimeout(resolve, 2));
  };
  const load = inParallel(bodies, deliver);
  await reached(0.3);
  collector.process.kill('SIGKILL');
  collector = await startCollector(url, first.port);
  if (kill) {
    await reached(0.6);
    execFileSync('bash', ['-c', kill], { stdio: 'ignore' });
  }
  await load;
  // The pool's idle connections died with the database.
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<{ piece: string }>(`select view_id || ' ' || piece as piece from signal_piece`);
  await client.end();
  collector.process.kill('SIGTERM');
  const found = new Set(rows.map(({ piece }) => piece));
  const missing = [...wanted].filter((piece) => !found.has(piece)).length;
  const killed = kill ? 'the collector and PostgreSQL killed' : 'the collector killed (PostgreSQL only by ./crindle bench collect)';
  console.log(
    `  ${acknowledged.toLocaleString('en')} requests acknowledged with ${killed} on the way, ${again} sent again: ${rows.length.toLocaleString('en')} rows, ${missing} missing`,
  );
  if (missing > 0 || rows.length !== wanted.size) throw new Error('The rows are not those that were acknowledged');
}

interface Sending {
  readonly body: string;
  readonly signals: number;
  /** View and number of each piece. */
  readonly pieces: readonly string[];
}

/** Opened page views, so that pieces have what they belong to. */
async function openViews(port: number, count: number): Promise<{ browser: string; view: string; visit: string }[]> {
  const views = Array.from({ length: count }, () => ({ browser: uuidv7(), view: uuidv7(), visit: uuidv7() }));
  await inParallel(views, async ({ browser, view, visit }) => {
    const at = Date.now();
    const open = {
      kind: 'open' as const,
      view,
      visit,
      at,
      visitAt: at,
      url: `${ORIGIN}/huts/upper-moss`,
      title: 'Upper Moss',
      referrer: '',
    };
    await mustPost(port, batchOf(browser, [open]));
  });
  return views;
}

/** As the page script writes it. */
function batchOf(browser: string, items: readonly Item[]): string {
  const sent = items.map((item): SentItem => (item.kind === 'piece' ? { ...item, signals: packSignals(item.signals) } : item));
  return JSON.stringify({ key: KEY, browser, now: Date.now(), items: sent });
}

function pieceOf({ view }: { view: string }, piece: number): PieceItem {
  const from = piece * 20_000;
  return {
    kind: 'piece',
    view,
    piece,
    signals: Array.from({ length: 12 }, (_, nth) => {
      const t = from + nth * 1500;
      if (nth % 4 === 3) return { t, s: 'click' as const, on: ['.route-card', '#next'], what: 'a Ridge walk' };
      return nth % 4 === 1 ? { t, s: 'input' as const } : { t, s: 'scroll' as const, depth: nth * 5 };
    }),
    engaged: from + 15_000,
    scroll: 55,
    leave: from + 20_000,
  };
}

/** One piece a request; 20 requests a view. */
async function singleRequests(port: number, count: number): Promise<Sending[]> {
  const views = await openViews(port, Math.ceil(count / 20));
  return Array.from({ length: count }, (_, index) => {
    const view = views[index % views.length] as (typeof views)[number];
    const piece = Math.floor(index / views.length);
    return { body: batchOf(view.browser, [pieceOf(view, piece)]), signals: 12, pieces: [`${view.view} ${piece}`] };
  });
}

/** As many pieces as one request takes: what a page sends after it could not for long. */
async function fullRequests(port: number, count: number): Promise<Sending[]> {
  const views = await openViews(port, count);
  return views.map((view) => {
    const pieces: PieceItem[] = [];
    const envelope = batchOf('', []).length - 1;
    for (let bytes = 0; bytes < BATCH_BYTES - 1500;) {
      pieces.push(pieceOf(view, pieces.length));
      bytes += batchOf('', pieces.slice(-1)).length - envelope;
    }
    return { body: batchOf(view.browser, pieces), signals: pieces.length * 12, pieces: pieces.map(({ piece }) => `${view.view} ${piece}`) };
  });
}

async function playRequests(port: number, sendings: readonly Sending[]): Promise<number> {
  const started = performance.now();
  await inParallel(sendings, ({ body }) => mustPost(port, body));
  return performance.now() - started;
}

async function signalRate(port: number, sendings: readonly Sending[]): Promise<number> {
  const ms = await playRequests(port, sendings);
  return (sendings.reduce((sum, { signals }) => sum + signals, 0) / ms) * 1000;
}

async function copyRate(pool: pg.Pool): Promise<number> {
  const rows = Array.from({ length: COPIED_PIECES }, (_, index) => {
    const { view, piece, signals } = pieceOf({ view: uuidv7() }, index % 20);
    return `1\t${view}\t${piece}\t${JSON.stringify(signals)}\n`;
  });
  const client = await pool.connect();
  try {
    const started = performance.now();
    const copy = client.query(copyFrom('copy signal_piece (site_id, view_id, piece, signals) from stdin'));
    for (let at = 0; at < rows.length; at += 500)
      if (!copy.write(rows.slice(at, at + 500).join(''))) await new Promise((resolve) => copy.once('drain', resolve));
    copy.end();
    await finished(copy);
    return ((COPIED_PIECES * 12) / (performance.now() - started)) * 1000;
  } finally {
    client.release();
  }
}

async function cpuARequest(target: Target, sendings: readonly Sending[]): Promise<number> {
  const before = cpuTicks(target.process.pid as number);
  await playRequests(target.port, sendings);
  return ((cpuTicks(target.process.pid as number) - before) * TICK_US) / sendings.length;
}

/** User and system time of a process and its children so far, in clock ticks. */
function cpuTicks(pid: number): number {
  const stats = readdirSync('/proc').flatMap((name) => {
    if (!/^\d+$/.test(name)) return [];
    try {
      // After the name in brackets come state, parent, …; the 14th and 15th fields are the times.
      const fields = readFileSync(`/proc/${name}/stat`, 'utf8')
        .replace(/^.*\) /s, '')
        .split(' ');
      return [{ pid: Number(name), parent: Number(fields[1]), ticks: Number(fields[11]) + Number(fields[12]) }];
    } catch {
      return []; // It ended while we were looking.
    }
  });
  const sum = (of: number): number =>
    stats.filter((one) => one.pid === of).reduce((total, { ticks }) => total + ticks, 0) +
    stats.filter(({ parent }) => parent === of).reduce((total, child) => total + sum(child.pid), 0);
  return sum(pid);
}

const agent = new Agent({ keepAlive: true, maxSockets: TOGETHER });

/** Empty once every item is acknowledged; otherwise what was answered. */
function post(port: number, body: string): Promise<string> {
  return new Promise((resolve, reject) => {
    const headers = { origin: ORIGIN, 'user-agent': BROWSER, 'content-type': 'text/plain', 'content-length': Buffer.byteLength(body) };
    const sent = request({ host: '127.0.0.1', port, path: '/c', method: 'POST', agent, headers }, (response) => {
      let text = '';
      response.setEncoding('utf8');
      response.on('data', (part: string) => (text += part));
      response.on('error', reject);
      response.on('end', () => {
        const isAcknowledged = response.statusCode === 200 && (JSON.parse(text) as BatchAnswer).items.every(({ ok }) => ok);
        resolve(isAcknowledged ? '' : `${response.statusCode} ${text.slice(0, 200)}`);
      });
    });
    sent.on('error', reject);
    sent.end(body);
  });
}

async function mustPost(port: number, body: string): Promise<void> {
  const refusal = await post(port, body);
  if (refusal) throw new Error(`A request was refused: ${refusal}`);
}

async function inParallel<T>(items: readonly T[], work: (item: T) => Promise<void>): Promise<void> {
  const left = items.values();
  await Promise.all(
    Array.from({ length: TOGETHER }, async () => {
      for (const item of left) await work(item);
    }),
  );
}

/** A Next application of one route, built for production. */
async function startRoute(url: string): Promise<Target> {
  console.error('  building the Next route (under a minute)');
  const folder = `${ROOT}dist/bench-route`;
  mkdirSync(`${folder}/app/c`, { recursive: true });
  writeFileSync(`${folder}/app/c/route.ts`, `export { GET, POST } from '@/bench/nextRoute';\nexport const dynamic = 'force-dynamic';\n`);
  // Without one of its own the studio's would be taken, and with it half the studio.
  writeFileSync(`${folder}/instrumentation.ts`, 'export function register(): void {}\n');
  writeFileSync(
    `${folder}/app/layout.tsx`,
    `export default function Layout({ children }: { children: React.ReactNode }) {\n  return <html><body>{children}</body></html>;\n}\n`,
  );
  writeFileSync(
    `${folder}/tsconfig.json`,
    JSON.stringify({
      extends: '../../tsconfig.json',
      compilerOptions: { paths: { '@/bench/*': ['../../bench/*'], '@/*': ['../../src/*'] } },
      include: ['app'],
    }),
  );
  writeFileSync(
    `${folder}/next.config.mjs`,
    `export default { typescript: { ignoreBuildErrors: true }, serverExternalPackages: ['pg'], turbopack: { root: ${JSON.stringify(ROOT)} } };\n`,
  );
  const next = `${ROOT}node_modules/next/dist/bin/next`;
  const port = await freePort();
  const env = { ...serverEnv(url, port), NEXT_TELEMETRY_DISABLED: '1' };
  execFileSync('node', [next, 'build', folder], { cwd: folder, env, stdio: ['ignore', 'ignore', 'inherit'] });
  return startServer(port, '/c', () =>
    spawn('node', [next, 'start', folder, '-p', String(port), '-H', '127.0.0.1'], {
      cwd: folder,
      env,
      stdio: ['ignore', 'ignore', 'inherit'],
    }),
  );
}
