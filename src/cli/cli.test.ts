import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describeFile, lintFile } from './documents';
import { evaluateFolder } from './evaluate';
import { instantOption, readOptions, Usage, wholeNumber } from './options';

const folder = mkdtempSync(join(tmpdir(), 'crindle-cli-'));
const write = (name: string, text: string): string => {
  writeFileSync(join(folder, name), text);
  return join(folder, name);
};
const NOW = Date.parse('2026-11-25');

test('cases are answered in order, a line each, and one that is wrong says why without ending the rest', () => {
  write(
    'pages.jsonl',
    '{"id":"a","page":{"url":"https://s.example/huts"},"pages":{"on":[{"op":"is","value":"/Huts/"}]}}\n{"id":"b","page":{"url":"https://s.example/"},"pages":{"on":[{"op":"resembles","value":"/"}]}}\nno json\n',
  );
  write('moment.jsonl', '{"id":"c","moment":{"kind":"delay","seconds":5},"view":{"signals":[],"leave":9000}}\n');
  const lines: unknown[] = [];
  evaluateFolder(folder, (line) => lines.push(JSON.parse(line)));
  expect(lines).toEqual([
    { id: 'a', result: true },
    { id: 'b', error: expect.stringContaining('pages.on.0') as string },
    { id: 'pages.jsonl:3', error: expect.stringContaining('JSON') as string },
    { id: 'c', result: 5000 },
  ]);
});

test('a rule nested too deep, or with too many conditions, is an error of its case', () => {
  const deep = (levels: number): unknown => (levels ? { all: [deep(levels - 1)] } : { kind: 'open' });
  write(
    'moment.jsonl',
    [deep(9), { any: Array.from({ length: 201 }, () => ({ kind: 'open' })) }]
      .map((moment) => JSON.stringify({ moment, view: { signals: [], leave: 1 } }))
      .join('\n'),
  );
  const lines: { error?: string }[] = [];
  evaluateFolder(folder, (line) => lines.push(JSON.parse(line) as { error?: string }));
  expect(lines.slice(-2).map(({ error }) => error)).toEqual([
    expect.stringContaining('nested at most 8 deep'),
    expect.stringContaining('at most 200 conditions'),
  ]);
});

test('signals out of order and with negative times, hours of a wrong clock, long titles and broken addresses are answered', () => {
  const title = 'x'.repeat(10_000);
  write(
    'pages.jsonl',
    JSON.stringify({
      id: 'p',
      page: { url: 'http://', title },
      pages: { on: [{ part: 'title', op: 'ends', value: 'x' }], except: [{ op: 'is', value: '/' }] },
    }),
  );
  write(
    'moment.jsonl',
    JSON.stringify({
      id: 'm',
      moment: { kind: 'exit' },
      view: {
        signals: [
          { t: 5000, s: 'input' },
          { t: -3_600_000, s: 'exit' },
        ],
        leave: 9000,
      },
    }),
  );
  const lines: unknown[] = [];
  evaluateFolder(folder, (line) => lines.push(JSON.parse(line)));
  expect(lines).toEqual([
    { id: 'p', result: null },
    { id: 'm', result: 5000 },
  ]);
});

test('files are told apart by what they hold, described and linted', () => {
  const rule = write('rule.json', '{"pages":{"on":[{"op":"is","value":"/a"}],"except":[{"op":"like","value":"/**"}]}}');
  const segment = write('segment.json', '{"lookback":30,"people":{"kind":"known","is":true}}');
  expect(describeFile(segment)).toEqual({ sentence: 'People who are known, looking back 30 days.', name: 'Are known' });
  expect(describeFile(rule)).toMatchObject({ sentence: expect.stringContaining('on /a except /**') as string });
  expect(lintFile(rule, NOW)).toMatchObject([{ code: 'pages.allExcepted', severity: 'never' }]);
  expect(() => describeFile(write('bad.json', '{"lookback":0,"people":{"kind":"x"}}'))).toThrow(/lookback: met 0.*people\.kind: met "x"/);
});

test('options that are unknown, lack a value or are out of range are refused by name', () => {
  expect(() => readOptions(['--speed', '3'], { values: ['--days'] })).toThrow('There is no option --speed; there are --days');
  expect(() => readOptions(['--days'], { values: ['--days'] })).toThrow(Usage);
  expect(() => wholeNumber('--days', '0', { least: 1, most: 9, otherwise: 5 })).toThrow(
    '--days: met 0, expected a whole number from 1 to 9',
  );
  expect(wholeNumber('--days', undefined, { least: 1, most: 9, otherwise: 5 })).toBe(5);
  expect(() => instantOption('--at', 'noon', 0)).toThrow('--at: met noon');
});
