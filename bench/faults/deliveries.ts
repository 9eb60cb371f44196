import { spawn } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import type { AddressInfo } from 'node:net';
import type pg from 'pg';
import type { Dice } from '@/core/random/dice';
import { createDice } from '@/core/random/dice';
import type { BatchAnswer } from '@/core/wire/items';
import { boundTo } from '@/server/connections/deliver';
import { encrypt } from '@/server/connections/secrets';
import { insertConnection, sendAgain, setConnectionsOfCampaign } from '@/server/db/connections';
import { withTransaction } from '@/server/db/pool';
import { many, one } from '@/server/db/queryable';
import { freePort } from '@/server/testing/freePort';
import type { FaultKind } from '@/standins/faults';
import { FAULTS } from '@/standins/faults';
import type { HookReceived, MemberReceived } from '@/standins/receivers';
import { LIST_KEY } from '@/standins/receivers';
import { createStandins } from '@/standins/server';
import { ROOT, serverEnv, startCollector, startServer } from '../ground';
import type { Target } from '../ground';
import { sized } from '../sized';
import type { Wrongs } from './ground';
import { batchOf, inWords, makeSite, ORIGIN, pause, send } from './ground';
import { killDatabase } from './kills';

const LEADS = sized(10_000, 400);
const WORKER_KILLS = sized(24, 3);
const DATABASE_KILLS = sized(4, 1);
const SENDERS = 16;
/** Each fault of each connection in turn, for so long. */
const FAULT_MS = sized(4_000, 800);

/**
 * Forms are sent while both connections misbehave in every way there is, one after the other, and workers and PostgreSQL are killed. What has not arrived
 * stands in the list of what waits, with its reason; sent again once the services behave, every lead is at both exactly once.
 */
export async function runDeliveries(): Promise<Wrongs> {
  process.env['CRINDLE_SECRET_KEY'] = randomBytes(32).toString('base64');
  const { url, pool, siteId } = await makeSite();
  const standins = createStandins();
  await standins.listen({ port: 0, host: '127.0.0.1' });
  const base = `http://127.0.0.1:${(standins.server.address() as AddressInfo).port}`;
  await connect(pool, siteId, base);
  const collector = await startCollector(url, await freePort());
  const workers = [await startWorker(url), await startWorker(url)];
  const dice = createDice('deliveries');
  const state = { isOver: false };
  const misbehaving = misbehave(base, state, () => again(pool, siteId));
  const killing = killAround(url, workers, dice);
  const emails = await sendForms(collector);
  while (killing.left() > 0) await pause(200);
  state.isOver = true;
  const [faults, kills] = await Promise.all([misbehaving, killing.done]);
  const wrongs: string[] = [];

  // In the midst of it: whatever has not arrived stands in the list, and whatever was tried says why.
  const { leads, waiting, failed, unsaid } = await one<{ leads: number; waiting: number; failed: number; unsaid: number }>(
    pool,
    `select (select count(*)::int from lead) as leads, count(*) filter (where state = 'waiting')::int as waiting, count(*) filter (where state = 'failed')::int as failed,
            count(*) filter (where state <> 'sent' and tries > 0 and reason = '')::int as unsaid from delivery`,
  );
  if (unsaid > 0) wrongs.push(`${unsaid} that were tried and have not arrived say no reason`);
  const reasons = await many<{ reason: string; count: number }>(
    pool,
    `select note as reason, count(*)::int as count from exchange where note <> '' group by 1 order by 2 desc limit 12`,
  );
  for (const service of ['hook', 'lists']) await setFault(base, service, 'none');
  const sentBy = Date.now() + 300_000;
  for (let left = 1; left > 0 && Date.now() < sentBy; await pause(500)) {
    left = (await one<{ left: number }>(pool, `select count(*)::int as left from delivery where state <> 'sent'`)).left;
    await again(pool, siteId);
  }
  wrongs.push(...(await compare(pool, base, emails)));
  const twice = await sentTwice(base);
  for (const { process: child } of [collector, ...workers]) child.kill('SIGTERM');
  await standins.close();
  await pool.end();
  console.log(
    `deliveries: ${inWords(leads)} leads to two connections through ${faults} faults, ${kills.workers} kills of workers and ${kills.database} of PostgreSQL; ` +
      `before the services behaved ${inWords(waiting)} waited and ${inWords(failed)} had failed for good; ${inWords(twice)} were sent twice under one id; ` +
      (wrongs.length ? `${wrongs.length} WRONG` : 'every lead is here, and at both exactly once'),
  );
  for (const { reason, count } of reasons) console.log(`  of the last exchanges ${count}: ${reason}`);
  return wrongs;
}

async function connect(pool: pg.Pool, siteId: number, base: string): Promise<void> {
  await pool.query(
    `insert into campaign (site_id, id, name, status, position, goal, rule, flow) values ($1, 'camp', 'Packing list', 'live', 1, '{"kind":"form"}', '{}', '{"start":"a","messages":[]}')`,
    [siteId],
  );
  const secret = (id: string, text: string): Buffer => encrypt(text, boundTo(siteId, id));
  const settings = { url: base, allowPrivate: true };
  await insertConnection(pool, siteId, {
    id: 'hook',
    name: 'Hook',
    body: { kind: 'hook', settings: { ...settings, url: `${base}/hook` } },
    secret: secret('hook', 'whsec_a2V5'),
  });
  await insertConnection(pool, siteId, {
    id: 'list',
    name: 'List',
    body: { kind: 'list', settings: { ...settings, list: 'letters' } },
    secret: secret('list', LIST_KEY),
  });
  await withTransaction(pool, (tx) =>
    setConnectionsOfCampaign(
      tx,
      siteId,
      'camp',
      ['hook', 'list'].map((id) => ({ id, mapping: null })),
    ),
  );
}

async function startWorker(url: string): Promise<Target> {
  const port = await freePort();
  return startServer(port, '/health', () =>
    spawn('node', ['dist/server/worker.mjs'], { cwd: ROOT, env: serverEnv(url, port), stdio: ['ignore', 'ignore', 'ignore'] }),
  );
}

const setFault = (base: string, service: string, fault: FaultKind) =>
  fetch(`${base}/faults/${service}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ fault, address: emailOf(7) }),
  });

/** As the marketer does it by one click; while the database is down nobody can. */
const again = (pool: pg.Pool, siteId: number): Promise<unknown> =>
  Promise.all(['hook', 'list'].map((connection) => sendAgain(pool, siteId, { connection }))).catch(() => undefined);

async function misbehave(base: string, state: { readonly isOver: boolean }, change: () => Promise<unknown>): Promise<number> {
  let faults = 0;
  for (let nth = 0; !state.isOver || nth < FAULTS.length; nth++) {
    await setFault(base, 'hook', FAULTS[nth % FAULTS.length] ?? 'none');
    await setFault(base, 'lists', FAULTS[(nth + 3) % FAULTS.length] ?? 'none');
    await change();
    faults += 2;
    await pause(FAULT_MS);
  }
  return faults;
}

function killAround(
  url: string,
  workers: Target[],
  dice: Dice,
): { left: () => number; done: Promise<{ workers: number; database: number }> } {
  let left = WORKER_KILLS + DATABASE_KILLS;
  const done = (async () => {
    const kills = { workers: 0, database: 0 };
    while (left > 0) {
      await pause(dice.between(300, sized(2_500, 700)));
      if (left % Math.ceil((WORKER_KILLS + DATABASE_KILLS) / DATABASE_KILLS) === 0 && (await killDatabase())) kills.database++;
      else {
        const nth = dice.whole(0, workers.length - 1);
        workers[nth]?.process.kill('SIGKILL');
        workers[nth] = await startWorker(url);
        kills.workers++;
      }
      left--;
    }
    return kills;
  })();
  return { left: () => left, done };
}

const emailOf = (nth: number): string => `walker${nth}@post.example`;

/** Every form until it is acknowledged. */
async function sendForms({ port }: Target): Promise<string[]> {
  let next = 0;
  const emails: string[] = [];
  await Promise.all(
    Array.from({ length: SENDERS }, async (_, sender) => {
      const dice = createDice(`forms ${sender}`);
      for (let nth = next++; nth < LEADS; nth = next++) {
        const now = Date.now();
        const [browser, view, visit] = [dice.uuid(now), dice.uuid(now), dice.uuid(now)];
        const email = emailOf(nth);
        const items = [
          { kind: 'open', view, visit, at: now, visitAt: now, url: `${ORIGIN}/huts`, title: 'Huts', referrer: '' },
          {
            kind: 'form',
            id: dice.uuid(now),
            view,
            visit,
            showing: dice.uuid(now),
            campaign: 'camp',
            at: now,
            email,
            fields: { plan: `Party of ${nth}` },
            url: `${ORIGIN}/huts`,
          },
        ];
        for (;;) {
          const { status, text } = await send(port, { body: batchOf(browser, items) });
          if (status === 200 && (JSON.parse(text) as BatchAnswer).items.every(({ ok }) => ok)) break;
          if (status === 200) throw new Error(text.slice(0, 300));
          await pause(50);
        }
        emails.push(email);
      }
    }),
  );
  return emails;
}

const hooks = async (base: string) => (await (await fetch(`${base}/hook.json`)).json()) as HookReceived[];
const members = async (base: string) => (await (await fetch(`${base}/lists.json`)).json()) as MemberReceived[];

async function sentTwice(base: string): Promise<number> {
  const times = [
    ...(await hooks(base)).map(({ times: n }) => n),
    ...(await members(base)).flatMap(({ deliveries }) => Object.values(deliveries)),
  ];
  return times.filter((n) => n > 1).length;
}

async function compare(pool: pg.Pool, base: string, emails: readonly string[]): Promise<string[]> {
  const wrongs: string[] = [];
  const leads = new Map(
    (await many<{ id: string; email: string }>(pool, `select id::text, email from lead`)).map(({ id, email }) => [id, email]),
  );
  if (leads.size !== emails.length || new Set(leads.values()).size !== emails.length)
    wrongs.push(`${leads.size} leads are here of ${emails.length}`);
  const got = (await hooks(base)).map(({ body }) => JSON.parse(body) as { data: { id: string; email: string } });
  const ids = new Set(got.map(({ data }) => data.id));
  if (ids.size !== got.length) wrongs.push('a lead came to the web hook under two ids');
  const missing = [...leads.keys()].filter((id) => !ids.has(id)).length;
  if (missing > 0 || got.length !== leads.size) wrongs.push(`${missing} leads are missing at the web hook, which has ${got.length}`);
  if (got.some(({ data }) => leads.get(data.id) !== data.email)) wrongs.push('a lead at the web hook is another one');
  const there = new Map((await members(base)).map((member) => [member.member, member]));
  const hashes = new Set([...leads.values()].map((email) => createHash('sha256').update(email).digest('hex')));
  const absent = [...hashes].filter((hash) => !there.has(hash)).length;
  if (absent > 0 || there.size !== hashes.size) wrongs.push(`${absent} leads are missing at the list, which has ${there.size}`);
  const doubled = [...there.values()].filter(({ deliveries }) => Object.keys(deliveries).length !== 1).length;
  if (doubled > 0) wrongs.push(`${doubled} came to the list under two ids`);
  return wrongs;
}
