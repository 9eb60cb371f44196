// A collector as it runs in earnest: a process of its own, so that it can be killed.
import type { ChildProcess } from 'node:child_process';
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { eventually } from './eventually';

const ROOT = join(__dirname, '../../..');

/** Starts the built collector without waiting for it. */
export function spawnCollector(port: number, databaseUrl: string, env: Record<string, string> = {}): ChildProcess {
  return spawn('node', ['dist/server/collector.mjs'], {
    cwd: ROOT,
    env: {
      ...process.env,
      CRINDLE_DATABASE_URL: databaseUrl,
      PORT: String(port),
      HOST: '127.0.0.1',
      CRINDLE_PER_MINUTE: '1000000',
      ...env,
    },
    stdio: ['ignore', 'ignore', 'pipe'],
  });
}

/** Starts it and waits until it answers. */
export async function startCollector(port: number, databaseUrl: string, env: Record<string, string> = {}): Promise<ChildProcess> {
  const child = spawnCollector(port, databaseUrl, env);
  child.stderr?.resume();
  const isUp = (): Promise<boolean> =>
    fetch(`http://127.0.0.1:${port}/health`).then(
      ({ ok }) => ok,
      () => false,
    );
  await eventually(isUp, 'the collector answers');
  return child;
}
