// Takes the stack's database away and brings it back on the same port.
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { RUN } from './stack';

const cluster = (): string => join(dirname(RUN), 'db', 'pg');

/** Runs a command of PostgreSQL's as the user that owns the cluster. */
function asOwner(command: string): void {
  execFileSync('bash', ['-c', `for file in scripts/shell/*.sh; do . $file; done; as_database_user ${command}`], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
}

const keeper = (): number => Number(readFileSync(join(RUN, 'database.pid'), 'utf8').split(' ')[0]);

export function stopDatabase(): string {
  // The command line it was started with: the binary and its options, quoted.
  const options = readFileSync(join(cluster(), 'postmaster.opts'), 'utf8').trim();
  // Whoever starts it again by itself waits meanwhile.
  process.kill(keeper(), 'SIGSTOP');
  asOwner(`"$PG_BIN/pg_ctl" -D ${cluster()} -m fast -w stop`);
  return options.slice(options.indexOf(' ') + 1);
}

export function startDatabase(options: string): void {
  asOwner(
    `"$PG_BIN/pg_ctl" -D ${cluster()} status >/dev/null || as_database_user "$PG_BIN/pg_ctl" -D ${cluster()} -w -t 60 -l ${cluster()}/server.log -o '${options.replaceAll(`"-D" "${cluster()}"`, '')}' start`,
  );
  process.kill(keeper(), 'SIGCONT');
}
