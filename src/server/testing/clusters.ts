// PostgreSQL clusters of a test's own on loopback, as several machines would have them, and a pooler in front of one.
import type { ChildProcess, StdioOptions } from 'node:child_process';
import { execFileSync, spawn } from 'node:child_process';
import { appendFileSync, chownSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { eventually } from './eventually';
import { freePort } from './freePort';

const BIN = '/usr/lib/postgresql/15/bin';
/** Checks run in the project’s root. */
const ROOT = process.cwd();
const isRoot = process.getuid?.() === 0;
/** PostgreSQL refuses to run as root. */
const OWNER = ['--reuid=postgres', '--regid=postgres', '--init-groups'];

/** A moved clock is loaded once the user is another: what its library shares belongs to whoever made it. */
function asOwner(command: string, args: readonly string[]): [string, string[], NodeJS.ProcessEnv] {
  const { LD_PRELOAD, FAKETIME_SHARED: _shared, ...env } = process.env;
  if (!isRoot) return [command, [...args], LD_PRELOAD ? { ...env, LD_PRELOAD } : env];
  return ['setpriv', [...OWNER, 'env', ...(LD_PRELOAD ? [`LD_PRELOAD=${LD_PRELOAD}`] : []), command, ...args], env];
}

function run(command: string, args: readonly string[], stdio: StdioOptions = ['ignore', 'ignore', 'inherit']): void {
  const [program, words, env] = asOwner(command, args);
  execFileSync(program, words, { stdio, env, cwd: '/' });
}

function makeFolder(name: string): string {
  const folder = mkdtempSync(join(tmpdir(), `crindle-${name}-`));
  if (isRoot) {
    const idOf = (flag: string) => Number(execFileSync('id', [flag, 'postgres'], { encoding: 'utf8' }));
    chownSync(folder, idOf('-u'), idOf('-g'));
  }
  return folder;
}

export class Cluster {
  private constructor(
    private readonly folder: string,
    readonly port: number,
  ) {}

  /** An empty one, migrated. */
  static async make(settings: readonly string[] = []): Promise<Cluster> {
    const cluster = new Cluster(makeFolder('cluster'), await freePort());
    run(`${BIN}/initdb`, ['-D', cluster.data, '-U', 'crindle', '--auth=trust', '--encoding=UTF8', '--locale=C.UTF-8', '--no-sync']);
    cluster.configure(settings);
    cluster.start();
    await cluster.ask('postgres', `create database crindle`);
    execFileSync('node', ['scripts/migrate.mjs'], {
      cwd: ROOT,
      env: { ...process.env, CRINDLE_DATABASE_URL: cluster.url, CRINDLE_DATABASE_DIRECT_URL: cluster.url },
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    return cluster;
  }

  /** One that follows another by streaming replication. */
  static async following(primary: Cluster): Promise<Cluster> {
    const cluster = new Cluster(makeFolder('replica'), await freePort());
    run(`${BIN}/pg_basebackup`, [
      '-D',
      cluster.data,
      '-h',
      '127.0.0.1',
      '-p',
      String(primary.port),
      '-U',
      'crindle',
      '-R',
      '-c',
      'fast',
      '--no-sync',
    ]);
    cluster.configure([]);
    cluster.start();
    return cluster;
  }

  get url(): string {
    return `postgres://crindle@127.0.0.1:${this.port}/crindle`;
  }

  private get data(): string {
    return join(this.folder, 'pg');
  }

  private configure(settings: readonly string[]): void {
    const own = [
      'fsync=off',
      'max_connections=100',
      "unix_socket_directories=''",
      "listen_addresses='127.0.0.1'",
      `port=${this.port}`,
      'jit=off',
    ];
    appendFileSync(join(this.data, 'postgresql.auto.conf'), `${[...own, ...settings].join('\n')}\n`);
  }

  start(): void {
    run(`${BIN}/pg_ctl`, ['-D', this.data, '-w', '-t', '60', '-l', join(this.data, 'server.log'), 'start']);
  }

  stop(mode: 'fast' | 'immediate' = 'fast'): void {
    run(`${BIN}/pg_ctl`, ['-D', this.data, '-w', '-m', mode, 'stop']);
  }

  async ask<R extends pg.QueryResultRow>(database: string, sql: string, values: unknown[] = []): Promise<R[]> {
    const client = new pg.Client({ connectionString: this.url.replace(/crindle$/, database) });
    await client.connect();
    try {
      return (await client.query<R>(sql, values)).rows;
    } finally {
      await client.end();
    }
  }

  remove(): void {
    try {
      this.stop('immediate');
    } catch {
      // It was stopped already.
    }
    rmSync(this.folder, { recursive: true, force: true });
  }
}

/** pgbouncer in transaction mode, as docs/several-machines.md sets it up, with few connections to the database. */
export class Pooler {
  private constructor(
    private readonly folder: string,
    private readonly child: ChildProcess,
    readonly url: string,
  ) {}

  static async before(cluster: Cluster, connections = 4): Promise<Pooler> {
    const port = await freePort();
    const folder = makeFolder('pooler');
    const settings = join(folder, 'pgbouncer.ini');
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, 'users.txt'), '"crindle" ""\n');
    writeFileSync(
      settings,
      `[databases]
crindle = host=127.0.0.1 port=${cluster.port} connect_query='set statement_timeout = 30000; set lock_timeout = 4000'
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = ${port}
unix_socket_dir =
auth_type = trust
auth_file = ${join(folder, 'users.txt')}
pool_mode = transaction
default_pool_size = ${connections}
max_client_conn = 500
`,
    );
    const [program, words, env] = asOwner('/usr/sbin/pgbouncer', ['-q', settings]);
    const child = spawn(program, words, { env, stdio: 'ignore' });
    const pooler = new Pooler(folder, child, `postgres://crindle@127.0.0.1:${port}/crindle`);
    await eventually(async () => {
      const client = new pg.Client({ connectionString: pooler.url });
      try {
        await client.connect();
        return true;
      } catch {
        return false;
      } finally {
        await client.end().catch(() => undefined);
      }
    }, 'the pooler answers');
    return pooler;
  }

  async remove(): Promise<void> {
    const ended = new Promise((resolve) => this.child.once('exit', resolve));
    this.child.kill('SIGTERM');
    await ended;
    rmSync(this.folder, { recursive: true, force: true });
  }
}
