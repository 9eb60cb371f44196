// Keeps a few visitors a minute coming to the demo site, through the collector as real ones would.
import { createDice } from '@/core/random/dice';
import { playLive } from './live';
import type { SimulatedVisit } from './simulate';
import { simulate } from './simulate';

const collector = `${process.env['CRINDLE_COLLECTOR'] ?? 'http://127.0.0.1:4701'}/`;
const origin = process.env['CRINDLE_SITE_ORIGIN'] ?? 'http://127.0.0.1:4704';
const siteKey = process.env['CRINDLE_SITE'] ?? 'tarnhollowdemo';
const perMinute = Number(process.env['CRINDLE_VISITORS_PER_MINUTE'] ?? 6);
const dice = createDice(`live ${Date.now()}`);
const wait = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
let isEnding = false;
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => ((isEnding = true), process.exit(0)));

function* visits(): Generator<SimulatedVisit> {
  for (;;)
    for (const life of simulate({ seed: `live ${dice.next()}`, visits: 500, days: 1, until: Date.now(), origin })) yield* life.visits;
}

for (const visit of visits()) {
  if (isEnding) break;
  playLive(visit, { collector, siteKey, origin, now: Date.now, wait, dice }).catch((cause: unknown) => console.error(cause));
  await wait((60_000 / perMinute) * dice.between(0.4, 1.6));
}
