import { createServer } from 'node:http';
import { run } from 'graphile-worker';
import type pg from 'pg';
import { Directory } from '../db/directory';
import { createPool, createReadSide, nodePool } from '../db/pool';
import { START_HEADER, startHeaders } from '../http/ownStart';
import { cannotStart } from '../http/ports';
import { deliverDue } from '../connections/deliver';
import { syncAudiences } from '../connections/audienceSync';
import { carryOutSchedules } from '../db/campaigns';
import { readCalendars } from '../conversations/readCalendars';
import { passOn } from '../db/threads';
import { tasksOn } from './tasks';

const pool = createPool(8, { isDirect: true });
const directory = new Directory(pool, (url) => nodePool(url, { max: 6 }));
const runner = await run({
  pgPool: pool,
  concurrency: 1,
  noHandleSignals: true,
  taskList: tasksOn(directory, createReadSide(pool, 2)),
  // Partitions are made a month ahead; sessions and failed sign-ins that are over are swept. Sealing that takes long is not begun twice.
  crontab:
    '0 3 * * * housekeeping\n* * * * * close-visits\n* * * * * conversation-mail ?max=3\n* * * * * seal ?jobKey=seal&max=3\n17 4 * * * let-go\n7,27,47 * * * * weekly-mail ?max=1',
});
await runner.addJob('housekeeping', {}, { jobKey: 'housekeeping-at-start' });

/** Done on every server again and again, so long after the last time began or as soon as that is over; a server that is away is asked again then. */
function again(name: string, work: (pool: pg.Pool) => Promise<unknown>, everyMs = 1000): () => void {
  let isAtIt = false;
  const timer = setInterval(() => {
    if (isAtIt) return;
    isAtIt = true;
    void directory
      .servers()
      .then((servers) => Promise.all(servers.map(({ pool: server }) => work(server))))
      .catch((cause: unknown) => console.error(`${name}: ${String(cause)}`))
      .finally(() => (isAtIt = false));
  }, everyMs);
  return () => clearInterval(timer);
}
const stops = [
  // To the second: a job of its own each minute would be too seldom.
  again('schedules', carryOutSchedules),
  // A lead is wanted at the other side at once.
  again('deliveries', deliverDue),
  // A calendar that was just named is read at once, others every hour.
  again('calendars', readCalendars),
  // Whoever waits for somebody who does not answer gets the next.
  again('conversations', (server) => passOn(server), 5000),
  // Whoever asks for it now does not wait for a quarter of an hour.
  again('segments kept in step', syncAudiences),
];

// Whoever watches over the processes asks here.
const health = createServer(
  ({ headers }, response) =>
    void response.writeHead(200, { 'content-type': 'application/json', ...startHeaders(headers[START_HEADER]) }).end('{"ok":true}'),
);
const port = Number(process.env['PORT'] ?? 4702);
health.on('error', (cause) => cannotStart('worker', port, cause));
health.listen(port, process.env['HOST'] ?? '127.0.0.1');

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    for (const stop of stops) stop();
    health.close();
    void runner
      .stop()
      .then(() => runner.promise)
      .then(() => Promise.all([pool.end(), directory.end()]))
      .then(() => process.exit(0));
  });
}
