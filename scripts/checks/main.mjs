// Runs the checks, shows their output, and closes with how long each stage took, the ten slowest tests, and one line "N passed, N failed".
import { existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { stagesForChanges } from './changed.mjs';
import { endOf } from './reports.mjs';
import { runStage } from './run.mjs';
import { STAGES } from './stages.mjs';

const reports = mkdtempSync(join(tmpdir(), 'crindle-'));
const began = Date.now();
const all = { passed: 0, failed: 0, failures: [], tests: [], stages: [] };

const stages = chosen(process.argv.slice(2));
const lanes = [...new Set(stages.map(({ lane }) => lane))].map((lane) => stages.filter((stage) => stage.lane === lane));
await Promise.all(lanes.map((lane) => runLane(lane, lanes.length > 1)));
sayAll();
process.exitCode = all.failed ? 1 : 0;

function chosen(words) {
  if (words[0] === 'changed') return stagesForChanges(STAGES);
  if (words[0] === 'all') return STAGES;
  for (const word of words)
    if (!STAGES.some(({ name }) => name === word))
      throw new Error(`There is no check "${word}"; there are all, changed, ${STAGES.map(({ name }) => name).join(', ')}`);
  return STAGES.filter(({ name, isLate }) => (words.length === 0 ? !isLate : words.includes(name)));
}

/** One stage after the other. Where two lanes run at once, what a stage says is shown in one piece when it has ended. */
async function runLane(lane, isHeldBack) {
  for (const stage of lane) {
    if (!isHeldBack) console.log(`\n== ${stage.name}`);
    const { seconds, log, ...told } = await resultOf(stage, isHeldBack);
    all.passed += told.passed;
    all.failed += told.failed;
    all.tests.push(...told.tests);
    all.failures.push(...told.failures.map((what) => ({ stage: stage.name, what })));
    all.stages.push({ name: stage.name, seconds });
    if (isHeldBack) console.log(`\n== ${stage.name}\n${readFileSync(log, 'utf8')}`);
    console.log(`   ${stage.name}: ${told.passed} passed, ${told.failed} failed in ${seconds.toFixed(0)} s`);
  }
}

/** What came of a stage. A runner that ends badly without a failed test (a crash, or no test at all) has failed all the same. */
async function resultOf(stage, isHeldBack) {
  const log = join(reports, `${stage.name}.log`);
  const report = join(reports, `${stage.name}.json`);
  const started = Date.now();
  const code = await runStage(stage, { log, report, isHeldBack });
  const seconds = (Date.now() - started) / 1000;
  const read = stage.read && existsSync(report) ? stage.read(report) : stage.count?.(log);
  const told = {
    failures: [],
    tests: [],
    ...(read ?? (code === 0 && !stage.read && !stage.count ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 })),
  };
  const isEmpty = told.passed + told.failed === 0 && !stage.mayBeEmpty;
  if ((code !== 0 && told.failed === 0) || isEmpty) told.failed = 1;
  if (told.failed > 0 && told.failures.length === 0) told.failures = [endOf(log)];
  return { ...told, seconds, log };
}

/** What failed is said once more at the very end, where it is found without looking through everything above. */
function sayAll() {
  for (const { stage, what } of all.failures) console.log(`\nFAILED ${stage}: ${what}`);
  const slowest = all.tests.sort((a, b) => b.seconds - a.seconds).slice(0, 10);
  if (slowest.length > 0) console.log('\nThe slowest tests');
  for (const { seconds, name } of slowest) console.log(`  ${seconds.toFixed(1).padStart(6)} s  ${name}`);
  console.log('\nThe stages');
  for (const { seconds, name } of all.stages) console.log(`  ${seconds.toFixed(0).padStart(6)} s  ${name}`);
  console.log(`  ${((Date.now() - began) / 1000).toFixed(0).padStart(6)} s  altogether`);
  console.log(`\n${all.passed} passed, ${all.failed} failed`);
}
