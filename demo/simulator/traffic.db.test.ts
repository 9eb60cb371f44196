import type { ChildProcess } from 'node:child_process';
import { one } from '@/server/db/queryable';
import { createSite } from '@/server/db/sites';
import { startCollector } from '@/server/testing/collectorProcess';
import { freePort } from '@/server/testing/freePort';
import { eventually } from '@/server/testing/eventually';
import type { FreshDatabase } from '@/server/testing/freshDatabase';
import { freshDatabase } from '@/server/testing/freshDatabase';
import { createDice } from '@/core/random/dice';
import { playLive } from './live';
import { simulate } from './simulate';

// An hour at four visits a minute, played three hundred times as fast.
const [VISITS, AT_ONCE, SPEED] = [240, 40, 300];
let database: FreshDatabase;
let collector: ChildProcess | undefined;
beforeAll(async () => {
  database = await freshDatabase();
  await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
});
afterAll(async () => {
  // Left running by a test that failed, it would keep the run from ending.
  collector?.kill('SIGKILL');
  await database.drop();
});

test('an hour of visitors, with the collector killed and restarted: everything is there to the last row, once', async () => {
  const port = await freePort();
  collector = await startCollector(port, database.url, { CRINDLE_TRUST_PROXY: '1' });
  const visits = [...simulate({ seed: 'traffic', visits: VISITS, days: 1, until: Date.now(), origin: 'http://site.example' })].flatMap(
    (life) => life.visits,
  );
  const startedAt = Date.now();
  const options = {
    collector: `http://127.0.0.1:${port}/`,
    siteKey: 'sitekey123',
    origin: 'http://site.example',
    now: () => startedAt + (Date.now() - startedAt) * SPEED,
    wait: (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms / SPEED)),
    dice: createDice('traffic'),
  };
  const waiting = [...visits];
  const restarts = (async () => {
    for (const [signal, share] of [
      ['SIGKILL', 0.7],
      ['SIGTERM', 0.5],
      ['SIGKILL', 0.3],
    ] as const) {
      await eventually(() => waiting.length <= VISITS * share, 'some visits have begun');
      const running = collector;
      const ended = new Promise((resolve) => running?.once('exit', resolve));
      running?.kill(signal);
      await ended;
      collector = await startCollector(port, database.url, { CRINDLE_TRUST_PROXY: '1' });
    }
  })();
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      for (let visit = waiting.pop(); visit; visit = waiting.pop()) await playLive(visit, options);
    }),
  );
  await restarts;
  collector?.kill('SIGTERM');

  const views = visits.flatMap((visit) => visit.views);
  const signals = views.flatMap((view) => view.signals);
  expect(
    await one(
      database.pool,
      `select (select count(*)::int from visitor) as visitors, (select count(*)::int from visit) as visits, (select count(*)::int from page_view) as views,
              (select sum(jsonb_array_length(signals))::int from signal_piece) as signals, (select count(*)::int from event) as events`,
    ),
  ).toEqual({
    visitors: new Set(visits.map(({ person }) => person.browserId)).size,
    visits: visits.length,
    views: views.length,
    signals: signals.length,
    events: signals.filter(({ s }) => s === 'event').length,
  });
}, 180_000);
