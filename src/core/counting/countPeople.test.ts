import type { VisitorRecord } from '../history/record';
import { judgeEveryone } from './countPeople';
import { historiesOf } from './testing/histories';
import { countInRange, postingsOf, sumViews } from './postings';

const DAY = 86_400_000;
const row = (page: number, visitor: number, at: number, scroll = 0) => ({ page, visitor, at, engagedMs: 1000, scroll });
const days = [
  postingsOf(0, [row(1, 1, 5), row(2, 1, 7), row(1, 2, 9), row(1, 1, 8)]),
  postingsOf(DAY, [row(1, 2, DAY + 5, 80), row(3, 1, DAY + 6)]),
];
const truths = Uint8Array.from([0, 1, 0, 2]);

test('views are summed for each visitor, and pages that are not known to match count for the upper bound only', () => {
  const { low, high } = sumViews(days, { truths, window: { after: -1, upTo: 2 * DAY }, visitors: 2 });
  expect([[...low], [...high]]).toEqual([
    [0, 2, 2],
    [0, 3, 2],
  ]);
});

test('a window cuts a day at its instant: after is out, up to is in', () => {
  const { low } = sumViews(days, { truths, window: { after: 5, upTo: 9 }, visitors: 2 });
  expect([...low]).toEqual([0, 1, 1]);
  expect(countInRange({ low, high: low }, { min: 1 })).toBe(2);
});

test('visitors without a visit by then are in no segment, not even one of those who never came', () => {
  const record = (at: number): VisitorRecord => ({ visits: [{ at, views: [], events: [] }], changes: [], responses: [] });
  const values = judgeEveryone(
    { lookback: 30, people: { kind: 'viewed', pages: [{ op: 'is', value: '/a' }], times: { max: 0 } } },
    {
      days,
      pages: [undefined, { url: 'https://s.example/a' }, { url: 'https://s.example/b' }, { url: 'no address' }],
      visits: { visitors: Uint32Array.of(1, 2, 3), starts: Float64Array.of(0, 0, 9 * DAY) },
      histories: historiesOf([undefined, record(0), record(0), record(9 * DAY)]),
      now: 2 * DAY,
      known: { sets: {}, segments: {} },
    },
  );
  expect([...values]).toEqual([0, 0, 0, 0]);
});

test('a byte that is full stands for more than is ever asked', () => {
  const many = postingsOf(
    0,
    Array.from({ length: 300 }, (_, at) => row(1, 1, at)),
  );
  const whole = { after: -1, upTo: 2 * DAY };
  const small = sumViews([many], { truths: undefined, window: whole, visitors: 1, mostAsked: 254 });
  expect([small.low[1], countInRange(small, { min: 254 }), countInRange(small, { max: 254 })]).toEqual([255, 1, 0]);
  expect(sumViews([many], { truths: undefined, window: whole, visitors: 1, mostAsked: 299 }).low[1]).toBe(300);
  expect(sumViews([many], { truths: undefined, window: { after: 9, upTo: 289 }, visitors: 1, mostAsked: 9 }).low[1]).toBe(255);
});
