import { createServer } from 'node:http';
import { run } from 'graphile-worker';
import { Directory } from '../db/directory';
import { createPool, createReadSide, nodePool } from '../db/pool';
import { START_HEADER, startHeaders } from '../http/ownStart';
import { deliverDue } from '../connections/deliver';
import { carryOutSchedules } from '../db/campaigns';
import { tasksOn } from './tasks';

const pool = createPool(4, { isDirect: true });
const directory = new Directory(pool, (url) => nodePool(url, { max: 2 }));
const runner = await run({
  pgPool: pool,
  concurrency: 1,
  noHandleSignals: true,
  taskList: tasksOn(directory, createReadSide(pool, 2)),
  // Partitions are made a month ahead; sessions and failed sign-ins that are over are swept. Sealing that takes long is not begun twice.
  crontab: '0 3 * * * housekeeping\n* * * * * close-visits\n* * * * * seal ?jobKey=seal&max=3\n7,27,47 * * * * weekly-mail ?max=1',
});
await runner.addJob('housekeeping', {}, { jobKey: 'housekeeping-at-start' });

// To the second: a job of its own each minute would be too seldom.
const SCHEDULE_MS = 1000;
let isCarryingOut = false;
const schedule = setInterval(() => {
  if (isCarryingOut) return;
  isCarryingOut = true;
  void directory
    .servers()
    .then((servers) => Promise.all(servers.map((server) => carryOutSchedules(server.pool))))
    // A server that is away is asked again in a second.
    .catch((cause: unknown) => console.error(`schedules: ${String(cause)}`))
    .finally(() => (isCarryingOut = false));
}, SCHEDULE_MS);

// What waits for connections, too: a lead is wanted at the other side at once.
const DELIVER_MS = 1000;
let isDelivering = false;
const deliver = setInterval(() => {
  if (isDelivering) return;
  isDelivering = true;
  void directory
    .servers()
    .then((servers) => Promise.all(servers.map((server) => deliverDue(server.pool))))
    .catch((cause: unknown) => console.error(`deliveries: ${String(cause)}`))
    .finally(() => (isDelivering = false));
}, DELIVER_MS);

// Whoever watches over the processes asks here.
const health = createServer(
  ({ headers }, response) =>
    void response.writeHead(200, { 'content-type': 'application/json', ...startHeaders(headers[START_HEADER]) }).end('{"ok":true}'),
);
health.listen(Number(process.env['PORT'] ?? 4702), process.env['HOST'] ?? '127.0.0.1');

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    clearInterval(schedule);
    clearInterval(deliver);
    health.close();
    void runner
      .stop()
      .then(() => runner.promise)
      .then(() => Promise.all([pool.end(), directory.end()]))
      .then(() => process.exit(0));
  });
}
