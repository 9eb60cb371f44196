import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { restartsIn } from './restarts';

let folder: string;
beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'crindle-run-'))));
afterEach(() => rmSync(folder, { recursive: true }));

test('what was started again is read with how often, when and after what; nothing where there is no such folder', async () => {
  writeFileSync(join(folder, 'collector.restarts'), '2 1764151200 137\n');
  writeFileSync(join(folder, 'worker.restarts'), '');
  writeFileSync(join(folder, 'collector.pid'), '1 2\n');
  expect(await restartsIn(folder)).toEqual([{ name: 'collector', times: 2, at: Date.parse('2025-11-26T10:00:00Z'), code: 137 }]);
  expect(await restartsIn(undefined)).toEqual([]);
});

const keep = (...command: string[]) => promisify(execFile)('scripts/keep.sh', [join(folder, 'x.restarts'), ...command]);

test('a first start that fails at once is not tried again', async () => {
  await expect(keep('sh', '-c', 'exit 7')).rejects.toMatchObject({ code: 7 });
  expect(await restartsIn(folder)).toEqual([]);
});

test('what has run and then ends is started again, and it is written down', async () => {
  // Runs for as long as a start takes, ends badly, and the second time ends whoever keeps it.
  const script = `if [ -e "${folder}/ran" ]; then kill -TERM $PPID; exec sleep 60; else touch "${folder}/ran"; sleep 3.2; exit 9; fi`;
  await keep('sh', '-c', script);
  expect(readFileSync(join(folder, 'x.restarts'), 'utf8')).toMatch(/^1 \d{10} 9\n$/);
});
