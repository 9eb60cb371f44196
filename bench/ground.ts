// What measurements stand on: a database of their own, and collectors as they run in earnest, which can be killed.
import type { ChildProcess } from 'node:child_process';
import { execFileSync, spawn } from 'node:child_process';
import pg from 'pg';

export const ROOT = new URL('../..', import.meta.url).pathname;

export interface Target {
  readonly port: number;
  readonly process: ChildProcess;
}

/** A migrated database of its own, made anew. */
export async function makeDatabase(name: string): Promise<string> {
  const url = new URL(process.env['CRINDLE_DATABASE_URL'] ?? '');
  const admin = new pg.Client({ connectionString: url.href });
  await admin.connect();
  await admin.query(`drop database if exists ${name} with (force)`);
  await admin.query(`create database ${name}`);
  await admin.end();
  url.pathname = `/${name}`;
  execFileSync('node', ['scripts/migrate.mjs'], { cwd: ROOT, env: { ...process.env, CRINDLE_DATABASE_URL: url.href }, stdio: 'ignore' });
  return url.href;
}

/** Everything that was started here, to be ended in the end. */
export const started: Target[] = [];

export async function startServer(port: number, path: string, start: () => ChildProcess): Promise<Target> {
  const target = { port, process: start() };
  started.push(target);
  for (let tries = 0; tries < 200; tries++) {
    const answers = await fetch(`http://127.0.0.1:${port}${path}`).then(
      ({ ok }) => ok,
      () => false,
    );
    if (answers) return target;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`Nothing answers on port ${port}`);
}

export const serverEnv = (url: string, port: number): NodeJS.ProcessEnv => ({
  ...process.env,
  NODE_ENV: 'production',
  CRINDLE_DATABASE_URL: url,
  CRINDLE_PER_MINUTE: '100000000',
  PORT: String(port),
  HOST: '127.0.0.1',
});

export const startCollector = (url: string, port: number, env: Record<string, string> = {}): Promise<Target> =>
  startServer(port, '/health', () =>
    spawn('node', ['dist/server/collector.mjs'], {
      cwd: ROOT,
      env: { ...serverEnv(url, port), ...env },
      stdio: ['ignore', 'ignore', 'inherit'],
    }),
  );
