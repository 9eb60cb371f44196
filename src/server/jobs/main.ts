import { createServer } from 'node:http';
import { run } from 'graphile-worker';
import { createPool } from '../db/pool';
import { tasks } from './tasks';

const pool = createPool(4);
const runner = await run({
  pgPool: pool,
  concurrency: 1,
  noHandleSignals: true,
  taskList: tasks,
  // Partitions are made a month ahead; sessions and failed sign-ins that are over are swept.
  crontab: '0 3 * * * housekeeping\n* * * * * close-visits',
});
await runner.addJob('housekeeping', {}, { jobKey: 'housekeeping-at-start' });

// Whoever watches over the processes asks here.
const health = createServer(
  (_request, response) => void response.writeHead(200, { 'content-type': 'application/json' }).end('{"ok":true}'),
);
health.listen(Number(process.env['PORT'] ?? 4702), process.env['HOST'] ?? '127.0.0.1');

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    health.close();
    void runner
      .stop()
      .then(() => runner.promise)
      .then(() => pool.end())
      .then(() => process.exit(0));
  });
}
