import { join } from 'node:path';
import type { Pool } from 'workerpool';
import { pool, Promise as Pooled } from 'workerpool';
import type { Outcome, TASKS } from './tasks';

type Tasks = typeof TASKS;
type Done<N extends keyof Tasks> = Extract<Awaited<ReturnType<Tasks[N]>>, { done: unknown }>['done'];

/** Two at once, so that one who brings something endless stands in nobody's way but for a moment. */
const PROCESSES = 2;
/** Waiting for their turn; whoever comes later is told to come again. */
const MOST_WAITING = 50;
/** Of JavaScript. */
const MEGABYTES = 256;
/** How long a task may take, ms: of its own time, not of waiting. */
const MOST_MS = 5_000;

/** A file was brought that cannot be read within the bounds, or that others are in the way of. */
export class OutOfBounds extends Error {
  constructor(
    readonly code: 'file.tooMuchWork' | 'file.busy',
    message: string,
  ) {
    super(message);
  }
}

/** Nobody brings a file for so long: the processes end, and with them what they hold. */
const IDLE_MS = 5_000;

let shared: Pool | undefined;
let asked = 0;
let idle: NodeJS.Timeout | undefined;

/** They end with this process, and know nothing of its secrets. */
function processes(): Pool {
  shared ??= pool(join(process.cwd(), 'dist/server/bounded.mjs'), {
    workerType: 'process',
    maxWorkers: PROCESSES,
    maxQueueSize: MOST_WAITING,
    workerTerminateTimeout: 100,
    forkOpts: {
      serialization: 'advanced',
      execArgv: [`--max-old-space-size=${MEGABYTES}`],
      env: { PATH: process.env['PATH'], NODE_ENV: process.env['NODE_ENV'] },
    },
  });
  return shared;
}

async function endBounded(): Promise<void> {
  const over = shared;
  shared = undefined;
  await over?.terminate(true);
}

/**
 * Reads what a stranger brought in a process of its own, within bounds of time and memory. `refused`: makes the error of what the task itself
 * does not take. @throws OutOfBounds, and what `refused` makes
 */
export async function bounded<N extends keyof Tasks>(
  name: N,
  args: Parameters<Tasks[N]>,
  refused: (code: string, message: string) => Error,
  mostMs: number = MOST_MS,
): Promise<Done<N>> {
  let outcome: Outcome<Done<N>>;
  clearTimeout(idle);
  asked++;
  try {
    outcome = (await processes().exec(name, args).timeout(mostMs)) as Outcome<Done<N>>;
  } catch (cause) {
    throw outOfBounds(cause, mostMs);
  } finally {
    if (--asked === 0) idle = setTimeout(() => void endBounded(), IDLE_MS);
  }
  if ('refused' in outcome) throw refused(outcome.refused.code, outcome.refused.message);
  return outcome.done;
}

function outOfBounds(cause: unknown, mostMs: number): unknown {
  const words = cause instanceof Error ? cause.message : String(cause);
  if (cause instanceof Pooled.TimeoutError)
    return new OutOfBounds('file.tooMuchWork', `Reading the file took more than ${mostMs / 1000} seconds, so it was given up`);
  if (/terminated unexpectedly|worker error/i.test(words))
    return new OutOfBounds('file.tooMuchWork', 'Reading the file took more memory than any file should, so it was given up');
  if (/max queue size/i.test(words)) return new OutOfBounds('file.busy', 'Too many files are being read at once; try again in a minute');
  return cause;
}
