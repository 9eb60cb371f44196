// Starts the whole stack with a small demo, drives it in Chromium, and ends it again.
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

const data = process.env['CRINDLE_STACK_DATA'];
if (!data) throw new Error('CRINDLE_STACK_DATA is not set; run ./crindle test browser');
const env = { ...process.env, CRINDLE_DATA: data, CRINDLE_PER_MINUTE: '100000', CRINDLE_VISITORS_PER_MINUTE: '0' };
delete env['CRINDLE_DATABASE_URL'];
const crindle = (...args) => spawnSync('./crindle', args, { stdio: ['ignore', 'inherit', 'inherit'], env });

if (crindle('demo', '--detach', '--fresh', '--visits', '400').status !== 0) process.exit(1);
const port = (name) => readFileSync(join(data, 'run', `${name}.port`), 'utf8');
const result = spawnSync('node_modules/.bin/playwright', ['test', ...process.argv.slice(2)], {
  stdio: ['ignore', 'inherit', 'inherit'],
  env: {
    ...env,
    STUDIO: `http://127.0.0.1:${port('studio')}`,
    SITE: `http://127.0.0.1:${port('site')}`,
    COLLECTOR: `http://127.0.0.1:${port('collector')}`,
    RUN: join(data, 'run'),
  },
});
crindle('stop');
process.exit(result.status ?? 1);
