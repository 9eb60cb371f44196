import { createDice } from '@/core/random/dice';
import { freePort } from '@/server/testing/freePort';
import { startCollector } from '../ground';
import { median } from '../median';
import { sized } from '../sized';
import type { Wrongs } from './ground';
import { batchOf, inWords, makeSite, openOf, pause, send } from './ground';

const VISITORS = 6;
const ALONE_MS = sized(5000, 1000);
const FLOOD_MS = sized(20_000, 2000);
const ATTACKERS = 20;
const ITEMS = 500;

interface Told {
  readonly ms: number[];
  refused: number;
}

/**
 * Visitors go on as they would while one address sends requests of 499 good items and a bad one, and one browser opens pages and asks without
 * end: how long do the visitors wait, and is any of them turned away?
 */
export async function runFlood(): Promise<Wrongs> {
  const { url, pool } = await makeSite();
  // Addresses are told by a header here, as behind a proxy: the flood has two, each visitor one.
  const collector = await startCollector(url, await freePort(), { CRINDLE_TRUST_PROXY: '1' });
  const { port } = collector;
  const alone = await visitFor(port, ALONE_MS);
  const state = { isOver: false };
  let [flooded, asked] = [0, 0];
  const attacks = [
    ...Array.from({ length: ATTACKERS }, async (_, nth) => {
      const dice = createDice(`attacker ${nth}`);
      for (; !state.isOver; flooded++) {
        const browser = dice.uuid(Date.now());
        const [view, visit] = [dice.uuid(Date.now()), dice.uuid(Date.now())];
        const events = Array.from({ length: ITEMS - 2 }, () => ({
          kind: 'event',
          id: dice.uuid(Date.now()),
          view,
          visit,
          at: Date.now(),
          name: 'x',
          props: {},
        }));
        const bad = { kind: 'event', id: dice.uuid(Date.now()), view: dice.uuid(0), visit, at: Date.now(), name: 'x', props: {} };
        const { status } = await send(port, {
          body: batchOf(browser, [openOf(view, visit), ...events, bad]),
          headers: { 'x-forwarded-for': '192.0.2.1' },
        });
        if (status !== 200) await pause(50);
      }
    }),
    ...Array.from({ length: ATTACKERS }, async () => {
      const dice = createDice('one browser');
      const browser = dice.uuid(0);
      for (; !state.isOver; asked++) {
        const items = asked % 2 ? [] : [openOf(dice.uuid(Date.now() + asked), dice.uuid(Date.now() + asked))];
        const { status } = await send(port, { body: batchOf(browser, items), headers: { 'x-forwarded-for': '192.0.2.2' } });
        if (status !== 200) await pause(50);
      }
    }),
  ];
  const beside = await visitFor(port, FLOOD_MS);
  state.isOver = true;
  await Promise.all(attacks);
  collector.process.kill('SIGTERM');
  await pool.end();
  const longest = Math.max(...beside.ms);
  console.log(
    `flood: ${inWords(flooded)} requests of ${ITEMS} items and ${inWords(asked)} of one browser; visitors beside it waited ` +
      `${inWords(median(beside.ms))} ms, at most ${inWords(longest)} (${inWords(median(alone.ms))} and ${inWords(Math.max(...alone.ms))} alone); ${beside.refused} of ${inWords(beside.ms.length)} turned away`,
  );
  return [
    ...(beside.refused ? [`${beside.refused} visitors were turned away beside the flood`] : []),
    ...(longest > 3000 ? [`A visitor waited ${inWords(longest)} ms beside the flood`] : []),
  ];
}

async function visitFor(port: number, ms: number): Promise<Told> {
  const told: Told = { ms: [], refused: 0 };
  const end = performance.now() + ms;
  await Promise.all(
    Array.from({ length: VISITORS }, async (_, nth) => {
      const dice = createDice(`visitor ${nth}`);
      while (performance.now() < end) {
        const [browser, view, visit] = [dice.uuid(Date.now()), dice.uuid(Date.now()), dice.uuid(Date.now())];
        const answer = await send(port, {
          body: batchOf(browser, [openOf(view, visit)]),
          headers: { 'x-forwarded-for': `198.51.100.${nth}` },
        });
        told.ms.push(answer.ms);
        if (answer.status !== 200) told.refused++;
        await pause(dice.between(20, 80));
      }
    }),
  );
  return told;
}
