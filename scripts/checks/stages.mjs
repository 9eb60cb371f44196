// What is checked: each stage with how it is run and, where it tells of single tests, how its report is read.
import { join } from 'node:path';
import { countLines, readJest, readPlaywright } from './reports.mjs';

const bin = (name) => join('node_modules', '.bin', name);

const jest = (project) => ({
  run: [bin('jest'), '--selectProjects', project, '--maxWorkers=2', '--json', '--outputFile=REPORT'],
  read: readJest,
});

const playwright = (stage, ...words) => ({
  lane: 'browser',
  run: ['node', 'scripts/browser.mjs', stage, ...words],
  env: { PLAYWRIGHT_JSON_OUTPUT_NAME: 'REPORT' },
  read: readPlaywright,
});

/**
 * In the order in which they are run. `lane`: stages of one lane follow one another, and lanes run beside each other, since a browser waits
 * much and computes little. `isLate`: part of `./crindle test all` alone. REPORT stands for the file that a runner's report goes to.
 */
export const STAGES = [
  { name: 'format', run: [bin('prettier'), '--check', '--log-level', 'warn', '--cache', '.'] },
  { name: 'types', run: [bin('tsc'), '-p', '.'] },
  { name: 'layers', run: [bin('depcruise'), '--config', '.dependency-cruiser.cjs', 'src', 'demo', 'bench', 'standins'] },
  // Files, exports and dependencies that nobody uses.
  { name: 'unused', run: [bin('knip'), '--no-progress', '--no-config-hints'] },
  { name: 'sizes', run: ['node', 'scripts/sizes.mjs'] },
  {
    name: 'lint',
    run: [
      bin('eslint'),
      '--max-warnings',
      '0',
      '--cache',
      '--cache-strategy',
      'content',
      '--cache-location',
      'node_modules/.cache/eslint/',
      '.',
    ],
  },
  { name: 'unit', ...jest('unit') },
  { name: 'database', ...jest('database') },
  // What the published document says is answered is what the code answers.
  { name: 'answers', run: ['node', 'scripts/answers.mjs', '--check'], isLate: true },
  // One of the clocks of `./crindle test clocks`: midnight passes on the way.
  { name: 'clock', run: ['./crindle', 'test', 'clocks', 'before-midnight'], count: countLines, isLate: true },
  // Every benchmark once on little data, so that none stops working unnoticed.
  { name: 'bench', run: ['./crindle', 'bench', '--small'], isLate: true },
  { name: 'alone', ...playwright('alone') },
  { name: 'browser', ...playwright('stack') },
];
