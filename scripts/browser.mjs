// Starts the whole stack with a small demo, once for each worker, drives it in Chromium, and ends it again.
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

const data = process.env['CRINDLE_STACK_DATA'];
if (!data) throw new Error('CRINDLE_STACK_DATA is not set; run ./crindle test browser');
const folders = [join(data, '1'), join(data, '2')];
const env = { ...process.env, CRINDLE_PER_MINUTE: '100000', CRINDLE_VISITORS_PER_MINUTE: '0' };
delete env['CRINDLE_DATABASE_URL'];
const crindle = (folder, ...args) =>
  spawnSync('./crindle', args, { stdio: ['ignore', 'inherit', 'inherit'], env: { ...env, CRINDLE_DATA: folder } });
const stop = () => folders.forEach((folder) => crindle(folder, 'stop'));

for (const folder of folders)
  if (crindle(folder, 'demo', '--detach', '--fresh', '--visits', '400').status !== 0) {
    stop();
    process.exit(1);
  }
const stacks = folders.map((folder) => {
  const address = (name) => `http://127.0.0.1:${readFileSync(join(folder, 'run', `${name}.port`), 'utf8')}`;
  return { STUDIO: address('studio'), SITE: address('site'), COLLECTOR: address('collector'), RUN: join(folder, 'run') };
});
const result = spawnSync('node_modules/.bin/playwright', ['test', ...process.argv.slice(2)], {
  stdio: ['ignore', 'inherit', 'inherit'],
  env: { ...env, STACKS: JSON.stringify(stacks) },
});
stop();
process.exit(result.status ?? 1);
