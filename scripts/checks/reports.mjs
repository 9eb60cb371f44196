// What the runners' reports say: how many tests passed and failed, what failed, and how long each took.
import { readFileSync } from 'node:fs';
import { relative } from 'node:path';

/** @typedef {{ passed: number, failed: number, failures: string[], tests: { seconds: number, name: string }[] }} Told */

/** @returns {Told} */
export function readJest(path) {
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites, testResults } = JSON.parse(readFileSync(path, 'utf8'));
  return {
    passed: numPassedTests,
    failed: numFailedTests + numRuntimeErrorTestSuites,
    failures: testResults.flatMap(failuresOfFile),
    tests: testResults.flatMap(({ name, assertionResults }) =>
      assertionResults.map(({ duration, fullName }) => ({
        seconds: (duration ?? 0) / 1000,
        name: `${relative('.', name)} › ${fullName}`,
      })),
    ),
  };
}

function failuresOfFile({ name, message, assertionResults }) {
  const bad = assertionResults.filter(({ status }) => status === 'failed');
  if (bad.length > 0) return bad.map(({ fullName, failureMessages }) => `${name}\n${fullName}\n${failureMessages.join('\n')}`);
  return message && assertionResults.length === 0 ? [`${name}\n${message}`] : [];
}

/** One that failed and then passed is flaky, and has failed. @returns {Told} */
export function readPlaywright(path) {
  const { stats, suites, errors } = JSON.parse(readFileSync(path, 'utf8'));
  const specsOf = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsOf)];
  const specs = suites.flatMap(specsOf);
  return {
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky,
    failures: [
      ...errors.map(({ message }) => message),
      ...specs.filter(({ ok, tests }) => !ok || tests.some(({ status }) => status === 'flaky')).map(failureOfSpec),
    ],
    tests: specs.map(({ file, title, tests }) => ({
      seconds: tests.flatMap(({ results }) => results).reduce((sum, { duration }) => sum + duration / 1000, 0),
      name: `${file} › ${title}`,
    })),
  };
}

function failureOfSpec({ file, line, title, tests }) {
  const said = tests.flatMap(({ results }) => results.flatMap(({ errors }) => errors.map(({ message }) => message)));
  const isFlaky = tests.some(({ status }) => status === 'flaky');
  return `${file}:${line}\n${title}${isFlaky ? ' (flaky: passed on another try)' : ''}\n${said.join('\n')}`;
}

/** Of a run that closes as `./crindle test` does; undefined of one that never came to its last line. */
export function countLines(log) {
  const [, passed, failed] = readFileSync(log, 'utf8').match(/^(\d+) passed, (\d+) failed$(?![\s\S]*^\d+ passed)/m) ?? [];
  return passed === undefined ? undefined : { passed: Number(passed), failed: Number(failed) };
}

/** The end of what a stage said. */
export const endOf = (log) => readFileSync(log, 'utf8').trimEnd().split('\n').slice(-40).join('\n');
