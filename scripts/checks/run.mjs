// One stage as a process group of its own, which is ended as a whole.
import { spawn } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { finished } from 'node:stream/promises';

/** One that has not ended by then hangs: it is ended, and failed. On two cores none takes half of it. */
const LIMIT_MINUTES = 60;
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => process.exit(130));

/** Gives the code that it ended with. What it says goes to `log`, and is shown at once unless it `isHeldBack`. */
export async function runStage({ run, env = {} }, { log, report, isHeldBack }) {
  const filled = (word) => word.replace('REPORT', report);
  const [command, ...args] = run.map(filled);
  const file = createWriteStream(log);
  const code = await new Promise((resolve) => {
    const child = spawn(command, args, {
      stdio: ['ignore', 'pipe', 'pipe'],
      detached: true,
      env: {
        ...process.env,
        NODE_OPTIONS: '',
        FORCE_COLOR: '0',
        ...Object.fromEntries(Object.entries(env).map(([name, value]) => [name, filled(value)])),
      },
    });
    const end = () => {
      try {
        process.kill(-child.pid, 'SIGKILL');
      } catch (cause) {
        // It has ended by itself.
        if (cause.code !== 'ESRCH') throw cause;
      }
    };
    const limit = setTimeout(() => {
      file.write(`\nnot over after ${LIMIT_MINUTES} minutes: ended\n`);
      end();
    }, LIMIT_MINUTES * 60_000);
    process.once('exit', end);
    child.on('exit', () => process.off('exit', end));
    for (const [stream, out] of [
      [child.stdout, process.stdout],
      [child.stderr, process.stderr],
    ])
      stream.on('data', (chunk) => {
        file.write(chunk);
        if (!isHeldBack) out.write(chunk);
      });
    child.on('error', (cause) => {
      file.write(`${cause}\n`);
      resolve(1);
    });
    child.on('close', (ended) => {
      clearTimeout(limit);
      resolve(ended ?? 1);
    });
  });
  file.end();
  await finished(file);
  return code;
}
