// The entry of a thread that does a part of the work of loading a demo.
import { parentPort, workerData } from 'node:worker_threads';
import { createPool } from '@/server/db/pool';
import type { FromShare, Share } from './share';
import { doShare } from './share';

const pool = createPool(3);
const say = (message: FromShare): void => parentPort?.postMessage(message);
const done = await doShare(pool, workerData as Share, (visits) => say({ visits }));
await pool.end();
say({ done });
