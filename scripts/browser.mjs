// Drives Chromium: `alone` what needs nothing that runs, `stack` the whole stack with a small demo, started once for each worker.
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

const STACKS = 3;
const [part, ...words] = process.argv.slice(2);
const env = { ...process.env, CRINDLE_PER_MINUTE: '100000', CRINDLE_VISITORS_PER_MINUTE: '0' };
delete env['CRINDLE_DATABASE_URL'];

const run = (command, args, more = {}) =>
  spawnSync(command, args, { stdio: ['ignore', 'inherit', 'inherit'], env: { ...env, ...more } }).status ?? 1;
const drive = (projects, more) =>
  run('node_modules/.bin/playwright', ['test', ...projects.map((name) => `--project=${name}`), ...words], more);

process.exit(part === 'alone' ? drive(['alone']) : withStacks((stacks) => drive(['long', 'stack'], { STACKS: JSON.stringify(stacks) })));

function withStacks(use) {
  const data = process.env['CRINDLE_STACK_DATA'];
  if (!data) throw new Error('CRINDLE_STACK_DATA is not set; run ./crindle test browser');
  const folders = Array.from({ length: STACKS }, (_, nth) => join(data, String(nth + 1)));
  const crindle = (folder, ...args) => run('./crindle', args, { CRINDLE_DATA: folder });
  try {
    for (const folder of folders) {
      const code = crindle(folder, 'demo', '--detach', '--fresh', '--visits', '400');
      if (code !== 0) return code;
    }
    return use(folders.map(addressesOf));
  } finally {
    for (const folder of folders) crindle(folder, 'stop');
  }
}

function addressesOf(folder) {
  const address = (name) => `http://127.0.0.1:${readFileSync(join(folder, 'run', `${name}.port`), 'utf8')}`;
  return { STUDIO: address('studio'), SITE: address('site'), COLLECTOR: address('collector'), RUN: join(folder, 'run') };
}
