// Runs every check in order, shows its output, and closes with one line "N passed, N failed".
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const bin = (name) => join('node_modules', '.bin', name);
const reports = mkdtempSync(join(tmpdir(), 'crindle-'));
const wanted = process.argv.slice(2);

const CHECKS = [
  { name: 'format', run: [bin('prettier'), '--check', '--log-level', 'warn', '.'] },
  { name: 'lint', run: [bin('eslint'), '--max-warnings', '0', '.'] },
  { name: 'types', run: [bin('tsc'), '-p', '.'] },
  { name: 'layers', run: [bin('depcruise'), '--config', '.dependency-cruiser.cjs', 'src'] },
  { name: 'sizes', run: ['node', 'scripts/sizes.mjs'] },
  {
    name: 'unit',
    run: [bin('jest'), '--selectProjects', 'unit', '--json', `--outputFile=${join(reports, 'unit.json')}`],
    report: 'unit.json',
    count: countJest,
  },
  {
    name: 'database',
    run: [bin('jest'), '--selectProjects', 'database', '--runInBand', '--json', `--outputFile=${join(reports, 'database.json')}`],
    report: 'database.json',
    count: countJest,
  },
  {
    name: 'browser',
    run: ['node', 'scripts/browser.mjs'],
    env: { PLAYWRIGHT_JSON_OUTPUT_NAME: join(reports, 'browser.json') },
    report: 'browser.json',
    count: countPlaywright,
  },
];

let passed = 0;
let failed = 0;
for (const name of wanted)
  if (!CHECKS.some((check) => check.name === name))
    throw new Error(`There is no check "${name}"; there are ${CHECKS.map((check) => check.name).join(', ')}`);
for (const check of CHECKS) {
  if (wanted.length && !wanted.includes(check.name)) continue;
  console.log(`\n== ${check.name}`);
  const started = Date.now();
  const code = await exitCode(check);
  const counts =
    check.report && existsSync(join(reports, check.report))
      ? check.count(JSON.parse(readFileSync(join(reports, check.report), 'utf8')))
      : undefined;
  const result = counts ?? (code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 });
  // A runner that ends badly without a failed test (a crash, or no test at all) has failed all the same.
  if (code !== 0 && result.failed === 0) result.failed = 1;
  if (check.report && result.passed + result.failed === 0) result.failed = 1;
  passed += result.passed;
  failed += result.failed;
  console.log(`   ${check.name}: ${result.passed} passed, ${result.failed} failed in ${((Date.now() - started) / 1000).toFixed(0)} s`);
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;

function exitCode({ run: [command, ...args], env = {} }) {
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, NODE_OPTIONS: '', FORCE_COLOR: '0', ...env },
    });
    child.on('error', (cause) => {
      console.error(String(cause));
      resolve(1);
    });
    child.on('close', (code) => resolve(code ?? 1));
  });
}

function countJest(report) {
  return { passed: report.numPassedTests, failed: report.numFailedTests + report.numRuntimeErrorTestSuites };
}

function countPlaywright(report) {
  return { passed: report.stats.expected, failed: report.stats.unexpected + report.stats.flaky };
}
