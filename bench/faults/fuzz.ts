import { Worker } from 'node:worker_threads';
import type { Dice } from '@/core/random/dice';
import { createDice } from '@/core/random/dice';
import { packSignals } from '@/core/wire/pack';
import { freePort } from '@/server/testing/freePort';
import { startCollector } from '../ground';
import { sized } from '../sized';
import type { Sending, Wrongs } from './ground';
import { batchOf, inWords, makeSite, ORIGIN, send } from './ground';

const REQUESTS = sized(200_000, 4_000);
const TOGETHER = 32;
const LONGEST_HEALTH_MS = 200;

/** Asks for health over and over beside the load, in a thread of its own, and says the longest answer when told to end. */
const PROBE = `
const { parentPort, workerData } = require('node:worker_threads');
const http = require('node:http');
const agent = new http.Agent({ keepAlive: true });
let longest = 0, asked = 0, red = 0, over = false;
const ask = () => {
  const began = performance.now();
  const next = (status) => {
    asked++;
    longest = Math.max(longest, performance.now() - began);
    if (status !== 200) red++;
    if (over) parentPort.postMessage({ longest, asked, red });
    else setTimeout(ask, 20);
  };
  http.get({ host: '127.0.0.1', port: workerData, path: '/health', agent }, (r) => { r.resume(); r.on('end', () => next(r.statusCode)); }).on('error', () => next(0));
};
parentPort.on('message', () => (over = true));
ask();`;

/** Mutated requests over every route: no answer of 500 and above, no crash, no stall. */
export async function runFuzz(): Promise<Wrongs> {
  const { url, pool } = await makeSite();
  const collector = await startCollector(url, await freePort());
  const { port } = collector;
  const probe = new Worker(PROBE, { eval: true, workerData: port });
  const statuses = new Map<number, number>();
  const wrongs: string[] = [];
  let left = REQUESTS;
  await Promise.all(
    Array.from({ length: TOGETHER }, async (_, nth) => {
      const dice = createDice(`fuzz ${nth}`);
      while (left-- > 0) {
        const sending = mutated(dice);
        const { status, text } = await send(port, sending);
        statuses.set(status, (statuses.get(status) ?? 0) + 1);
        if (status >= 500 && wrongs.length < 20)
          wrongs.push(`${status} ${text.slice(0, 150)} for ${JSON.stringify(sending).slice(0, 400)}`);
        if (collector.process.exitCode !== null) left = 0;
      }
    }),
  );
  const told = new Promise<{ longest: number; asked: number; red: number }>((resolve) => probe.once('message', resolve));
  probe.postMessage('end');
  const { longest, asked, red } = await told;
  await probe.terminate();
  if (collector.process.exitCode !== null) wrongs.push(`The collector ended with ${collector.process.exitCode}`);
  if (longest > LONGEST_HEALTH_MS) wrongs.push(`/health took ${Math.round(longest)} ms, at most ${LONGEST_HEALTH_MS} are allowed`);
  if (red > 0) wrongs.push(`/health was red ${red} times`);
  collector.process.kill('SIGTERM');
  await pool.end();
  const counts = [...statuses].sort(([a], [b]) => a - b).map(([status, times]) => `${status || 'cut off'} ${inWords(times)}`);
  console.log(
    `fuzz: ${inWords(REQUESTS)} mutated requests, answered ${counts.join(', ')}; /health asked ${inWords(asked)} times, at most ${Math.round(longest)} ms`,
  );
  return wrongs;
}

const METHODS = ['GET', 'POST', 'PUT', 'DELETE', 'OPTIONS', 'HEAD', 'PATCH'];
const ROUTES = [
  '/c',
  '/page.js',
  '/parts/show-x.js',
  '/parts/..%2f..%2fetc',
  '/r/faultsite1/x',
  '/r/%00/x',
  '/r/x/%ff',
  '/health',
  '/metrics',
  '/',
  '/c/../c',
  '/%',
];

function mutated(dice: Dice): Sending {
  if (dice.chance(0.15))
    return {
      method: dice.pick(METHODS),
      path: dice.pick(ROUTES) + (dice.chance(0.3) ? `?${'x'.repeat(dice.whole(0, 3000))}` : ''),
      headers: oddHeaders(dice),
      body: dice.chance(0.5) ? 'x' : undefined,
    };
  let body: string | Buffer = batchOf(
    dice.uuid(Date.now()),
    items(dice).map((item) => (dice.chance(0.7) ? mutateValue(item, dice) : item)),
  );
  if (dice.chance(0.2)) body = body.slice(0, dice.whole(0, body.length));
  if (dice.chance(0.1)) {
    body = Buffer.from(body);
    for (let times = dice.whole(1, 5); times > 0 && body.length; times--) body[dice.whole(0, body.length - 1)] = dice.whole(0, 255);
  }
  if (dice.chance(0.02)) body = `${'['.repeat(dice.whole(1, 20_000))}`;
  if (dice.chance(0.002)) body = 'x'.repeat(300 * 1024);
  return { body, headers: dice.chance(0.1) ? oddHeaders(dice) : {} };
}

function oddHeaders(dice: Dice): Record<string, string> {
  return Object.fromEntries(
    [
      ['origin', dice.pick(['null', 'http://', 'https://faults.example:99999', ORIGIN, 'http://[::1', 'x'.repeat(2000)])],
      ['user-agent', dice.pick(['', 'Googlebot/2.1', 'x'.repeat(4000), '\u00ff\u00fe'])],
      ['content-type', dice.pick(['application/json', 'text/plain; charset=utf-16', 'x', 'multipart/form-data'])],
      ['accept-encoding', dice.pick(['br', 'gzip;q=0', '*', 'x,,,;q=z'])],
      ['x-forwarded-for', dice.pick(['1.2.3.4', '::1', 'x', '1.2.3.4, 5.6.7.8'])],
      ['dnt', dice.pick(['1', '0', 'x'])],
      ['content-encoding', dice.pick(['gzip', 'br', 'x'])],
    ].filter(() => dice.chance(0.4)) as [string, string][],
  );
}

/** One of each kind, with ids that belong together. */
function items(dice: Dice): unknown[] {
  const at = Date.now();
  const [view, visit, showing] = [dice.uuid(at), dice.uuid(at), dice.uuid(at)];
  const all: unknown[] = [
    {
      kind: 'open',
      view,
      visit,
      at,
      visitAt: at,
      url: `${ORIGIN}/a?b=1#c`,
      title: 'A',
      labels: ['x'],
      referrer: 'https://r.example/',
      language: 'de-AT',
      zone: 'Europe/Vienna',
      touchPoints: 1,
      hidden: false,
    },
    {
      kind: 'piece',
      view,
      piece: 0,
      signals: packSignals([
        { t: 0, s: 'input' },
        { t: 5, s: 'scroll', depth: 5 },
        { t: 9, s: 'click', on: ['a'] },
      ]),
      engaged: 9,
      scroll: 5,
      leave: 9,
      watched: ['a'],
    },
    { kind: 'event', view, visit, id: dice.uuid(at), at, name: 'booking', props: { value: 1, hut: 'x' } },
    { kind: 'person', id: dice.uuid(at), at, email: 'a@b.example', customerId: 'm', traits: { plan: 'x' } },
    { kind: 'mark', id: dice.uuid(at), at, tag: 'x', score: 1 },
    { kind: 'showing', view, visit, id: showing, campaign: 'c', release: 1, at, shown: true },
    { kind: 'outcome', showing, outcome: 'clicked', at },
    { kind: 'form', view, visit, id: dice.uuid(at), showing, campaign: 'c', at, url: ORIGIN, fields: { a: 'b' }, email: 'a@b.example' },
    { kind: 'fault', id: dice.uuid(at), at, entry: 'x', message: 'y' },
  ];
  return all.slice(0, dice.whole(1, all.length));
}

const ODD: readonly unknown[] = [
  ...[
    null,
    true,
    false,
    0,
    -1,
    1.5,
    1e300,
    -1e300,
    9e15,
    2 ** 31,
    2 ** 53,
    1e-300,
    '',
    ' ',
    '\u0000',
    'a\u0000b',
    '\ud83d',
    '\ud83d\ude00',
    'x'.repeat(5000),
  ],
  ...[
    [],
    {},
    [null],
    { '': 1 },
    { '\u0000': 1 },
    { __proto__: 1 },
    { toString: 1 },
    [[[[[[]]]]]],
    '0001-01-01',
    'NaN',
    '-0',
    '../..',
    "'; drop table visit; --",
    '%00',
  ],
];

/** Somewhere in the item something is another thing. */
function mutateValue(value: unknown, dice: Dice): unknown {
  if (typeof value !== 'object' || value === null || dice.chance(0.05)) return dice.pick(ODD);
  if (Array.isArray(value)) {
    const copy = [...(value as unknown[])];
    if (copy.length === 0 || dice.chance(0.2)) return [...copy, dice.pick(ODD)];
    const nth = dice.whole(0, copy.length - 1);
    copy[nth] = mutateValue(copy[nth], dice);
    return copy;
  }
  const entries = Object.entries(value);
  const nth = dice.whole(0, Math.max(0, entries.length - 1));
  if (entries.length === 0 || dice.chance(0.1))
    return { ...value, [dice.pick(['more', '__proto__', 'kind', '\u0000', 'x'.repeat(300)])]: dice.pick(ODD) };
  if (dice.chance(0.1)) return Object.fromEntries(entries.filter((_, index) => index !== nth));
  return Object.fromEntries(entries.map(([key, one], index) => [key, index === nth ? mutateValue(one, dice) : one]));
}
