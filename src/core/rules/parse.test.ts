import { parseRule, parseSegment } from './parseRule';
import { issueWords, parseJsonWith } from '../parsing/parse';
import { ruleSchema } from './schema';

const wordsOf = (input: unknown): string[] => {
  const parsed = parseRule(input);
  return parsed.ok ? [] : parsed.issues.map(issueWords);
};
const nested = (levels: number): unknown => (levels === 0 ? { kind: 'open' } : { all: [nested(levels - 1)] });

test('a whole rule comes back as it was', () => {
  const rule = {
    people: {
      all: [
        { kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }], times: { min: 2 }, within: 30 },
        { none: [{ kind: 'known', is: true }] },
      ],
    },
    pages: { on: [{ set: 'huts' }], except: [{ part: 'parameter', name: 'preview', op: 'exists' }] },
    moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 20, counting: 'engaged' }] },
    pacing: { again: { days: 7 }, stop: { dismissed: 2 } },
  };
  expect(parseRule(rule)).toEqual({ ok: true, value: rule });
});

test.each([
  { input: { moment: { kind: 'delay', seconds: -1 } }, says: 'moment.seconds: met -1, expected at least 0' },
  {
    input: { moment: { all: [{ kind: 'open' }, { kind: 'teleport' }] } },
    says: 'moment.all.1.kind: met "teleport", expected a known kind',
  },
  {
    input: { people: { kind: 'visits', times: { min: 5, max: 2 } } },
    says: 'people.times: met {"min":5,"max":2}, expected a min that is not above the max',
  },
  { input: { people: { kind: 'visits', times: {} } }, says: 'people.times: met {}, expected a min, a max or both' },
  {
    input: { people: { kind: 'viewed', pages: [{ op: 'is' }] } },
    says: 'people.pages.0.value: met nothing, expected a value, except with exists',
  },
  { input: { moment: { none: [{ kind: 'exit' }] } }, says: 'moment.none.0: met {"kind":"exit"}, expected exit and idle outside of none' },
  { input: { moment: { all: [], any: [] } }, says: 'moment: met {"all":[],"any":[]}, expected exactly one of all, any and none' },
  { input: { moment: { all: 'open' } }, says: 'moment.all: met "open", expected a list of conditions' },
  {
    input: { people: { kind: 'calendar', hours: ['08:00', '08:00'] } },
    says: 'people.hours: met ["08:00","08:00"], expected two different hours',
  },
  {
    input: { people: { kind: 'calendar', zone: 'Europe/Tarnhollow' } },
    says: 'people.zone: met "Europe/Tarnhollow", expected an IANA time zone or visitor',
  },
  { input: { pacing: { again: { days: 0 } } }, says: 'pacing.again.days: met 0, expected more than 0' },
  { input: { colour: 'red' }, says: 'met {"colour":"red"}, expected no field colour' },
  { input: null, says: 'met null, expected an object' },
])('$input is refused: $says', ({ input, says }) => {
  expect(wordsOf(input)).toContain(says);
});

test('every mistake is told at once', () => {
  expect(wordsOf({ moment: { kind: 'scroll', atLeast: 0 }, pacing: { again: 'often' }, people: { kind: 'known' } })).toHaveLength(3);
});

test.each([
  { levels: 8, isGood: true },
  { levels: 9, isGood: false },
  { levels: 5000, isGood: false },
])('groups nested $levels deep are good: $isGood', ({ levels, isGood }) => {
  expect(parseRule({ moment: nested(levels) }).ok).toBe(isGood);
});

test.each([
  { leaves: 200, isGood: true },
  { leaves: 201, isGood: false },
  { leaves: 100_000, isGood: false },
])('$leaves conditions are good: $isGood', ({ leaves, isGood }) => {
  expect(parseRule({ moment: { any: Array.from({ length: leaves }, () => ({ kind: 'open' })) } }).ok).toBe(isGood);
});

test('text that is no JSON is an issue, not an exception', () => {
  const parsed = parseJsonWith(ruleSchema, '{"moment":');
  expect(parsed.ok ? '' : parsed.issues[0]?.expected).toBe('JSON');
});

test('a segment needs a lookback of 1 to 540 days', () => {
  expect(parseSegment({ lookback: 541, people: { kind: 'known', is: true } }).ok).toBe(false);
  expect(parseSegment({ lookback: 540, people: { kind: 'known', is: true } }).ok).toBe(true);
});
