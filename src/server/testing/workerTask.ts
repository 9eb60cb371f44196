import type pg from 'pg';
import { Directory } from '../db/directory';
import { nodePool } from '../db/pool';
import { tasksOn } from '../jobs/tasks';

/** Does what the worker does, once, on a database without nodes; `onError` hears what it logs as wrong. */
export async function workerTask(
  name: 'housekeeping' | 'close-visits' | 'seal',
  pool: pg.Pool,
  onError: (words: string) => void = () => undefined,
): Promise<void> {
  const logger = { info: () => undefined, error: onError };
  await tasksOn(new Directory(pool, (url) => nodePool(url)))[name]?.({}, { logger } as never);
}
