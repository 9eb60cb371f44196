import type { ChildProcess } from 'node:child_process';
import { execFileSync, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import pg from 'pg';
import type { Rule } from '@/core/rules/schema';
import type { SegmentBody } from '@/core/people/subject';
import { seedDemo } from '@/demo/seed';
import { CAMPAIGNS } from '@/demo/world/campaigns';
import { SEGMENTS } from '@/demo/world/segments';
import { USUAL_PLAN } from '@/core/results/span';
import { analyse } from '@/server/analysis/analyse';
import { TABLES } from '@/server/results/report';
import type { AnswerTo, Task } from '@/server/analysis/task';
import { createPool } from '@/server/db/pool';
import { one } from '@/server/db/queryable';
import { once } from './median';
import { repeatSite } from './repeated';
import { sized } from './sized';

const ROOT = new URL('../..', import.meta.url).pathname;
const DAYS = 90;
/** The one that was made; another may have been begun before it. */
let SITE = 1;
/** From so many visits on there are enough visitors for what is counted to be kept. */
const KEPT_FROM = 100_000;
const numberAfter = (flag: string): number | undefined => {
  const at = process.argv.indexOf(flag);
  return at < 0 ? undefined : Number(process.argv[at + 1]);
};
const VISITS = numberAfter('--visits') ?? sized(1_000_000, 2000);
/** How many times over the days are asked, where there is no time for the simulator to make as many. */
const TIMES = numberAfter('--times') ?? 1;

/** A site of a million visits: made by the simulator, sealed, and asked through the analysis as the studio asks it. */
export async function benchScale(): Promise<void> {
  await inOwnDatabase(`scale_${VISITS}`, async (url) => {
    console.log(`A site of ${VISITS.toLocaleString('en')} visits in ${DAYS} days`);
    process.env['CRINDLE_DATABASE_URL'] = url;
    const pool = createPool(2);
    const isMade = (await one<{ is: boolean }>(pool, `select exists (select from site) as is`)).is;
    const made = await once(() =>
      seedDemo(pool, { visits: VISITS, days: DAYS, addresses: ['127.0.0.1:4704'], now: Date.now(), log: (line) => console.error(line) }),
    );
    if (!isMade) say('made and sealed by the simulator', made, 'simulating alone: 480,000');
    SITE = (await one<{ id: number }>(pool, `select id from site where key not like 'repeated%' order by id desc limit 1`)).id;
    if (TIMES > 1) {
      const repeated = await once(async () => (SITE = await repeatSite(pool, SITE, TIMES)));
      say(`its days ${TIMES} times over, under other visitors`, repeated);
    }
    await measure(pool);
    await pool.end();
  });
}

async function inOwnDatabase(name: string, work: (url: string) => Promise<void>): Promise<void> {
  const template = process.env['CRINDLE_DATABASE_URL'];
  if (!template) throw new Error('CRINDLE_DATABASE_URL is not set; run ./crindle bench scale');
  const url = new URL(template);
  url.pathname = '/postgres';
  const admin = new pg.Client({ connectionString: url.href });
  await admin.connect();
  const { rowCount } = await admin.query(`select from pg_database where datname = $1`, [name]);
  // What was made once serves the next run; a small one is made anew.
  if (VISITS < 100_000) await admin.query(`drop database if exists ${name} with (force)`);
  if (VISITS < 100_000 || !rowCount) await admin.query(`create database ${name}`);
  await admin.end();
  url.pathname = `/${name}`;
  execFileSync('node', [join(ROOT, 'scripts', 'migrate.mjs')], {
    cwd: ROOT,
    env: { ...process.env, CRINDLE_DATABASE_URL: url.href },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  try {
    await work(url.href);
  } finally {
    process.env['CRINDLE_DATABASE_URL'] = template;
  }
}

const say = (what: string, ms: number, goal = ''): void =>
  console.log(`  ${what.padEnd(58)} ${Math.round(ms).toLocaleString('en').padStart(9)} ms${goal ? ` (goal ${goal})` : ''}`);

async function measure(pool: pg.Pool): Promise<void> {
  const segments: SegmentBody[] = SEGMENTS.map(({ lookback, people }) => ({ lookback, people }));
  await pool.query(`delete from standing`);
  await pool.query(`delete from segment_line`);
  const first = await startAnalysis();
  try {
    await list('for the first time', segments);
    if (VISITS >= KEPT_FROM) await counted(pool);
  } finally {
    first.kill();
  }
  const analysis = await startAnalysis();
  try {
    await list('after a start', segments);
    memory('then', analysis);

    const viewed = (min: number): SegmentBody => ({
      lookback: 30,
      people: {
        all: [
          { kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }], times: { min } },
          { kind: 'visits', times: { min: 2 } },
        ],
      },
    });
    say('a segment never asked before', (await timed({ kind: 'size', site: SITE, segment: viewed(2) })).ms, '2,000');
    say('the next', (await timed({ kind: 'size', site: SITE, segment: viewed(3) })).ms, '100');
    const visits = (terms: Extract<Task, { kind: 'visits' }>['terms']) =>
      timed({ kind: 'visits', site: SITE, terms, asOf: Date.now(), from: 0, count: 60 });
    say('the list of visits', (await visits([])).ms, '1,000');
    say(
      'visits of a page from a source',
      (
        await visits([
          { kind: 'page', value: '/huts/*' },
          { kind: 'source', value: 'paid' },
        ])
      ).ms,
      '1,000',
    );

    // Every screen of the studio asks for this as it is opened.
    say('made ready for editors', (await timed({ kind: 'warm', site: SITE })).ms);
    const document = CAMPAIGNS.find(({ id }) => id === 'camp_quiet_weeks')?.document;
    if (!document) throw new Error('The demo has no campaign camp_quiet_weeks');
    const rehearse = (rule: Rule) =>
      timed({ kind: 'rehearse', site: SITE, days: 30, live: [], campaign: { id: 'bench', place: 'overlay', rule } });
    const first = await rehearse(document.rule);
    say(`a rule's first number (${first.answer.sure.toLocaleString('en')} showings)`, first.firstMs, '300');
    say('the same exact', first.exactMs, '3,000');
    say('and all its steps', first.ms);
    const next = await rehearse({ ...document.rule, moment: { kind: 'scroll', atLeast: 50 } });
    say('another moment: its number', next.firstMs, '250');
    const people = await rehearse({
      ...document.rule,
      people: {
        all: [
          { kind: 'visits', times: { min: 3 } },
          { kind: 'away', days: { min: 1 } },
        ],
      },
    });
    say('other people: their number', people.firstMs, '300');
    say('the same exact', people.exactMs, '3,000');
    for (const id of ['camp_warden', 'camp_packing', 'camp_basket']) {
      const goal = CAMPAIGNS.find((one) => one.id === id)?.document.goal;
      if (!goal) throw new Error(`The demo has no campaign ${id}`);
      const { showings } = await one<{ showings: number }>(
        pool,
        `select count(*)::int as showings from showing where site_id = $1 and campaign_id = $2`,
        [SITE, id],
      );
      const now = Date.now();
      const period = { from: 0, to: now, now, zone: 'Europe/Vienna' };
      const results = () =>
        timed({
          kind: 'results',
          looks: 'always',
          site: SITE,
          campaign: id,
          goal,
          variants: [],
          splits: [],
          planned: USUAL_PLAN,
          tables: TABLES,
          ...period,
        });
      await results();
      const { ms, answer } = await results();
      say(
        `results of ${showings.toLocaleString('en')} showings to ${answer.met.toLocaleString('en')} visitors`,
        ms,
        '1,000 for a million showings',
      );
    }
    memory('at the end', analysis);
    const { views } = await one<{ views: number }>(pool, `select count(*)::int as views from page_view`);
    console.log(`  ${views.toLocaleString('en')} page views on record`);
  } finally {
    analysis.kill();
    // Whatever is measured next has an analysis of its own.
    delete process.env['CRINDLE_ANALYSIS_URL'];
  }
}

/** As the list of segments is asked for: sizes and lines at once. */
async function list(when: string, segments: readonly SegmentBody[]): Promise<void> {
  const trends = timed({ kind: 'trends', site: SITE, segments, days: 30 });
  const sizes = await timed({ kind: 'sizes', site: SITE, segments });
  say(`${when}: the sizes of ${segments.length} segments`, sizes.ms, '6,000 with the lines');
  say(`${when}: their lines over 30 days, too`, (await trends).ms);
}

/** Resolves once what was counted is kept for the next start. */
async function counted(pool: pg.Pool): Promise<void> {
  for (let tries = 0; tries < 600; tries++) {
    const { kept } = await one<{ kept: number }>(pool, `select sum(length(bytes))::float8 as kept from standing`);
    if (kept) return console.log(`  ${(kept / 1e6).toFixed(1)} MB kept for the next start`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('What was counted is not kept');
}

/** `exactMs`: when a number was first given that is not of a sample. */
async function timed<T extends Task>(task: T): Promise<{ ms: number; firstMs: number; exactMs: number; answer: AnswerTo<T> }> {
  const began = performance.now();
  let [firstMs, exactMs] = [NaN, NaN];
  const note = (part: AnswerTo<T>): void => {
    const now = performance.now() - began;
    if (Number.isNaN(firstMs)) firstMs = now;
    if (Number.isNaN(exactMs) && !(part as { isSample?: boolean }).isSample) exactMs = now;
  };
  const answer = await analyse(task, { onPart: note });
  note(answer);
  return { ms: performance.now() - began, firstMs, exactMs, answer };
}

async function startAnalysis(): Promise<ChildProcess> {
  const port = 4790;
  process.env['CRINDLE_ANALYSIS_URL'] = `http://127.0.0.1:${port}`;
  const child = spawn('node', ['--enable-source-maps', join(ROOT, 'dist', 'server', 'analysis.mjs')], {
    cwd: ROOT,
    // As `./crindle start` starts it.
    env: { ...process.env, PORT: String(port), MALLOC_MMAP_THRESHOLD_: '131072' },
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  for (let tries = 0; tries < 100; tries++) {
    const isUp = await fetch(`http://127.0.0.1:${port}/health`).then(
      ({ ok }) => ok,
      () => false,
    );
    if (isUp) return child;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  child.kill();
  throw new Error('The analysis does not answer');
}

/** Resident, as the kernel counts it. */
function memory(when: string, { pid }: ChildProcess): void {
  const status = readFileSync(`/proc/${pid}/status`, 'utf8');
  const of = (name: string): string => (Number(new RegExp(`${name}:\\s+(\\d+)`).exec(status)?.[1] ?? NaN) / 1024).toFixed(0);
  console.log(`  resident ${when}: ${of('VmRSS')} MB, at most ${of('VmHWM')} MB (goal 1,500 with the studio)`);
}
