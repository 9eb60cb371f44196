import fc from 'fast-check';
import type { Fact } from './fact';
import type { FactValues } from './facts';
import { copyFacts, FACTS, factColumns, factShape, factsFrom, factsFromRow, pretendedFacts, pretendShape, storedFacts } from './facts';

const table = Object.entries<Fact>(FACTS);
const values = fc.record(Object.fromEntries(table.map(([key, { example }]) => [key, example(fc)])), {
  requiredKeys: [],
}) as fc.Arbitrary<FactValues>;
const kept = table.filter(([, { columns }]) => columns.length > 0).map(([key]) => key);
const only = (given: FactValues, keys: readonly string[]): object =>
  Object.fromEntries(Object.entries(given).filter(([key]) => keys.includes(key)));

test('what is stored of facts is what comes out again, and what has no column is not stored', () => {
  fc.assert(fc.property(values, (given) => expect(factsFromRow(storedFacts(given))).toEqual(only(given, kept))));
});

test('no two facts have a column in common, and only what the page keeps to itself has none', () => {
  const names = factColumns().map(({ name }) => name);
  expect(new Set(names).size).toBe(names.length);
  expect(table.filter(([, { columns }]) => columns.length === 0).map(([, { from }]) => from)).toEqual(['page']);
});

test('each fact’s own schema takes its examples', () => {
  for (const [key, { schema, example }] of table)
    fc.assert(
      fc.property(example(fc), (value) => expect({ key, ...schema().safeParse(value) }).toEqual({ key, success: true, data: value })),
    );
});

test('facts are taken by who says them', () => {
  const given: FactValues = { language: 'de', zone: 'UTC', adBlocker: true, team: true, cookies: { a: 'b' }, device: { os: 'iOS' } };
  expect(factsFrom(given, 'open')).toEqual({ language: 'de', zone: 'UTC' });
  expect(factsFrom(given, 'agent', 'studio')).toEqual({ device: { os: 'iOS' }, team: true });
  expect(factsFrom({ ...given, visits: [], language: undefined } as FactValues)).toEqual(
    only(given, ['zone', 'adBlocker', 'team', 'cookies', 'device']),
  );
  expect(Object.keys(factShape('open'))).toEqual(['language', 'zone']);
  expect(Object.keys(pretendShape()).sort()).toEqual(['device', 'language', 'team', 'zone']);
});

test('all facts of one are put over those of the other, what is not known too', () => {
  const into = { language: 'de', team: true, visits: 3 };
  copyFacts(into, { zone: 'UTC', team: false });
  expect(into).toEqual({ zone: 'UTC', team: false, visits: 3 });
});

test.each([
  {
    what: 'what is pretended comes first',
    pretend: { zone: 'UTC' },
    before: { zone: 'Asia/Tokyo' },
    found: { zone: 'Europe/Vienna' },
    zone: 'UTC',
  },
  { what: 'then what was on record', pretend: {}, before: { zone: 'Asia/Tokyo' }, found: { zone: 'Europe/Vienna' }, zone: 'Asia/Tokyo' },
  { what: 'then what is found', pretend: {}, before: undefined, found: { zone: 'Europe/Vienna' }, zone: 'Europe/Vienna' },
])('in a try-out $what', ({ pretend, before, found, zone }) => {
  expect(pretendedFacts(pretend, before, found).zone).toBe(zone);
});

test('what a browser finds out anew each time is as it is found, and nobody is of the team who does not say so', () => {
  const pretended = pretendedFacts({}, { team: true, adBlocker: true, cookies: { old: '1' } }, { adBlocker: false, cookies: { now: '1' } });
  expect(pretended).toMatchObject({ team: false, adBlocker: false, cookies: { now: '1' } });
});
