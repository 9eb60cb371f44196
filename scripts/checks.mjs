// Runs every check, shows its output, and closes with one line "N passed, N failed". What needs a browser runs beside the rest:
// it waits much and computes little, and goes before the rest where both want the processor.
import { spawn } from 'node:child_process';
import { createWriteStream, existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { finished } from 'node:stream/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const bin = (name) => join('node_modules', '.bin', name);
const reports = mkdtempSync(join(tmpdir(), 'crindle-'));
const wanted = process.argv.slice(2);

const jest = (project, ...more) => ({
  run: [bin('jest'), '--selectProjects', project, ...more, '--json', `--outputFile=${join(reports, `${project}.json`)}`],
  report: `${project}.json`,
  count: countJest,
  failures: failuresOfJest,
});

/** One that has not ended by then hangs: it is ended, and failed. On two cores none takes half of it. */
const LIMIT_MINUTES = { browser: 70, rest: 25 };
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => process.exit(130));

const CHECKS = [
  { name: 'format', run: [bin('prettier'), '--check', '--log-level', 'warn', '.'] },
  { name: 'lint', run: [bin('eslint'), '--max-warnings', '0', '.'] },
  { name: 'types', run: [bin('tsc'), '-p', '.'] },
  { name: 'layers', run: [bin('depcruise'), '--config', '.dependency-cruiser.cjs', 'src'] },
  { name: 'sizes', run: ['node', 'scripts/sizes.mjs'] },
  { name: 'unit', ...jest('unit') },
  { name: 'database', ...jest('database', '--runInBand') },
  // One of the clocks of `./crindle test clocks`: midnight passes on the way.
  { name: 'clock', run: ['./crindle', 'test', 'clocks', 'before-midnight'], count: countLines },
  // Every benchmark once on little data, so that none stops working unnoticed.
  { name: 'bench', run: ['./crindle', 'bench', '--small'] },
  {
    name: 'browser',
    lane: 'browser',
    run: ['node', 'scripts/browser.mjs'],
    env: { PLAYWRIGHT_JSON_OUTPUT_NAME: join(reports, 'browser.json') },
    report: 'browser.json',
    count: countPlaywright,
    failures: failuresOfPlaywright,
  },
];

for (const name of wanted)
  if (!CHECKS.some((check) => check.name === name))
    throw new Error(`There is no check "${name}"; there are ${CHECKS.map((check) => check.name).join(', ')}`);

let passed = 0;
let failed = 0;
/** What failed, said once more at the very end, where it is found without looking through everything above. */
const failures = [];
const chosen = CHECKS.filter(({ name }) => wanted.length === 0 || wanted.includes(name));
const lanes = groupByLane(chosen);
await Promise.all([...lanes.values()].map((lane) => runLane(lane, lanes.size > 1)));
for (const { check, what } of failures) console.log(`\nFAILED ${check}: ${what}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;

/** One check after the other. Where two lanes run at once, what a check says is shown in one piece when it has ended. */
async function runLane(checks, isHeldBack) {
  for (const check of checks) {
    if (!isHeldBack) console.log(`\n== ${check.name}`);
    const started = Date.now();
    const log = join(reports, `${check.name}.log`);
    const code = await exitCode(check, isHeldBack ? log : undefined);
    const report = check.report && join(reports, check.report);
    const isReported = Boolean(report) && existsSync(report);
    const counts = check.count && (report ? isReported && check.count(JSON.parse(readFileSync(report, 'utf8'))) : check.count(log));
    const result = counts || (code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 });
    // A runner that ends badly without a failed test (a crash, or no test at all) has failed all the same.
    if (code !== 0 && result.failed === 0) result.failed = 1;
    if (check.count && result.passed + result.failed === 0) result.failed = 1;
    passed += result.passed;
    failed += result.failed;
    if (result.failed > 0) {
      const named = isReported ? check.failures(JSON.parse(readFileSync(report, 'utf8'))) : [];
      for (const what of named.length > 0 ? named : [lastOf(log)]) failures.push({ check: check.name, what });
    }
    if (isHeldBack) console.log(`\n== ${check.name}\n${readFileSync(log, 'utf8')}`);
    console.log(`   ${check.name}: ${result.passed} passed, ${result.failed} failed in ${((Date.now() - started) / 1000).toFixed(0)} s`);
  }
}

async function exitCode({ run, lane, env = {}, name }, log) {
  const [command, ...args] = log && lane !== 'browser' ? ['nice', '-n', '4', ...run] : run;
  const file = createWriteStream(join(reports, `${name}.log`));
  const code = await new Promise((resolve) => {
    const child = spawn(command, args, {
      stdio: ['ignore', 'pipe', 'pipe'],
      // A group of its own, to be ended as a whole.
      detached: true,
      env: { ...process.env, NODE_OPTIONS: '', FORCE_COLOR: '0', ...env },
    });
    const end = () => {
      try {
        process.kill(-child.pid, 'SIGKILL');
      } catch {
        // It has ended by itself.
      }
    };
    const minutes = LIMIT_MINUTES[lane ?? 'rest'];
    const limit = setTimeout(() => {
      file.write(`\nnot over after ${minutes} minutes: ended\n`);
      end();
    }, minutes * 60_000);
    process.once('exit', end);
    child.on('exit', () => process.off('exit', end));
    for (const [stream, out] of [
      [child.stdout, process.stdout],
      [child.stderr, process.stderr],
    ])
      stream.on('data', (chunk) => {
        file.write(chunk);
        if (!log) out.write(chunk);
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

function groupByLane(checks) {
  const groups = new Map();
  for (const check of checks) groups.set(check.lane, [...(groups.get(check.lane) ?? []), check]);
  return groups;
}

function countJest(report) {
  return { passed: report.numPassedTests, failed: report.numFailedTests + report.numRuntimeErrorTestSuites };
}

function countPlaywright(report) {
  return { passed: report.stats.expected, failed: report.stats.unexpected + report.stats.flaky };
}

/** The end of what a check said. */
function lastOf(log) {
  return readFileSync(log, 'utf8').trimEnd().split('\n').slice(-40).join('\n');
}

function failuresOfJest(report) {
  return report.testResults.flatMap(({ name, message, assertionResults }) => {
    const bad = assertionResults.filter(({ status }) => status === 'failed');
    return bad.length > 0
      ? bad.map(({ fullName, failureMessages }) => `${name}\n${fullName}\n${failureMessages.join('\n')}`)
      : message && assertionResults.length === 0
        ? [`${name}\n${message}`]
        : [];
  });
}

function failuresOfPlaywright({ suites, errors }) {
  const specs = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specs)];
  return [
    ...errors.map(({ message }) => message),
    ...suites
      .flatMap(specs)
      .filter(({ ok }) => !ok)
      .map(({ file, line, title, tests }) => {
        const said = tests.flatMap(({ results }) => results.flatMap((result) => result.errors.map(({ message }) => message)));
        return `${file}:${line}\n${title}\n${said.join('\n')}`;
      }),
  ];
}

/** A run that closes as this one does. */
function countLines(log) {
  const [, ok, bad] = readFileSync(log, 'utf8').match(/^(\d+) passed, (\d+) failed$(?![\s\S]*^\d+ passed)/m) ?? [];
  return ok === undefined ? undefined : { passed: Number(ok), failed: Number(bad) };
}
