import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { restartsIn } from './restarts';

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'crindle-run-'))));
afterEach(() => rmSync(folder, { recursive: true }));

test('what was started again is read with how often, when and after what; nothing where there is no such folder', async () => {
  writeFileSync(join(folder, 'collector.restarts'), '2 1764151200 137 runs\n');
  writeFileSync(join(folder, 'worker.restarts'), '');
  writeFileSync(join(folder, 'collector.pid'), '1 2\n');
  expect(await restartsIn(folder)).toEqual([
    { name: 'collector', times: 2, at: Date.parse('2025-11-26T10:00:00Z'), code: 137, runs: true },
  ]);
  expect(await restartsIn(undefined)).toEqual([]);
});

const keep = (command: readonly string[], env: Readonly<Record<string, string>> = {}) =>
  promisify(execFile)('scripts/keep.sh', [join(folder, 'x.restarts'), ...command], { env: { ...process.env, ...env } });

test('a first start that fails at once is not tried again', async () => {
  await expect(keep(['sh', '-c', 'exit 7'])).rejects.toMatchObject({ code: 7 });
  expect(await restartsIn(folder)).toEqual([]);
});

test('what has run and then ends is started again, and it is written down', async () => {
  // Runs for as long as a start takes, ends badly, and the second time ends whoever keeps it.
  const script = `if [ -e "${folder}/ran" ]; then kill -TERM $PPID; exec sleep 60; else touch "${folder}/ran"; sleep 3.2; exit 9; fi`;
  await keep(['sh', '-c', script]);
  expect(readFileSync(join(folder, 'x.restarts'), 'utf8')).toMatch(/^1 \d{10} 9 runs\n$/);
});

/** A server that answers its first requests and then never any more, although it runs; each life is noted in a file. */
const FALLS_SILENT = (folder: string): string => `
  require('fs').appendFileSync(${JSON.stringify(join(folder, 'lives'))}, 'x');
  const lives = require('fs').readFileSync(${JSON.stringify(join(folder, 'lives'))}, 'utf8').length;
  if (lives === 3) process.kill(process.ppid, 'SIGTERM');
  let asked = 0;
  require('http').createServer((_, response) => { if (++asked < 3) response.end('ok'); else for (;;); }).listen(process.env.PORT);`;

test('what does not answer any more is killed and started again', async () => {
  const port = await new Promise<number>((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo;
      server.close(() => resolve(port));
    });
  });
  await keep([process.execPath, '-e', FALLS_SILENT(folder)], {
    PORT: String(port),
    HOST: '127.0.0.1',
    KEEP_ASK: '/health',
    KEEP_EVERY: '0.1',
    KEEP_MOST: '1',
    KEEP_WITHIN: '1',
  });
  expect(readFileSync(join(folder, 'lives'), 'utf8')).toBe('xxx');
  expect(readFileSync(join(folder, 'x.restarts'), 'utf8')).toMatch(/^2 \d{10} 137 ended\n$/);
});
