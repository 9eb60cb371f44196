import type { VisitorRecord } from '../history/record';
import type { CountingInput } from './countPeople';
import { postingsOf } from './postings';
import { historiesOf } from './testing/histories';
import { contributions, overlaps, segmentSizes, segmentTrends } from './sizes';

const DAY = 86_400_000;
const NOW = 100 * DAY + 3_600_000;
const record = (...days: number[]): VisitorRecord => ({
  visits: days.map((day) => ({ at: day * DAY, views: [], events: [] })),
  changes: [],
  responses: [],
});
const seen: readonly (readonly [number, number, number])[] = [
  [1, 1, 100], // page, visitor, day
  [1, 1, 99],
  [1, 2, 96],
  [2, 2, 96],
  [1, 3, 80],
];
const days = [80, 96, 99, 100].map((day) =>
  postingsOf(
    day * DAY,
    seen.filter(([, , on]) => on === day).map(([page, visitor]) => ({ page, visitor, at: day * DAY, engagedMs: 0, scroll: 0 })),
  ),
);
const input: CountingInput = {
  days,
  pages: [undefined, { url: 'https://s.example/huts/a' }, { url: 'https://s.example/book' }],
  visits: { visitors: Uint32Array.of(1, 1, 2, 3), starts: Float64Array.of(99 * DAY, 100 * DAY, 96 * DAY, 80 * DAY) },
  histories: historiesOf([undefined, record(99, 100), record(96), record(80)]),
  now: NOW,
  known: { sets: {}, segments: {} },
};
const viewed = (path: string, times: object = { min: 1 }) => ({
  kind: 'viewed' as const,
  pages: [{ op: 'starts' as const, value: path }],
  times,
});
const huts = { lookback: 2, people: viewed('/huts') };

test('the size now, over 7 and 30 days, and at each midnight of 90 days', () => {
  const sizes = segmentSizes(huts, input);
  expect(sizes).toMatchObject({ now: 1, in7Days: 2, in30Days: 3, unknown: 0, isEstimate: { in7Days: true, in30Days: true } });
  expect(sizes.trend).toHaveLength(91);
  const on = (day: number): number | undefined => sizes.trend.find(({ at }) => at === day * DAY)?.people;
  expect([79, 80, 81, 82, 96, 97, 98, 99, 100].map(on)).toEqual([0, 1, 1, 0, 1, 1, 0, 1, 1]);
});

test('lines of several segments are those of each alone', () => {
  const others = [huts, { lookback: 30, people: viewed('/book') }, { lookback: 3, people: { kind: 'visits' as const, times: { min: 2 } } }];
  let last: readonly (readonly object[])[] = [];
  for (const lines of segmentTrends(others, input, 90)) last = lines;
  expect(last).toEqual(others.map((one) => segmentSizes(one, input).trend));
  expect(last[2]?.at(-1)).toMatchObject({ people: 1 });
});

test('of a line only what is not known already is counted', () => {
  const booking = { lookback: 30, people: viewed('/book') };
  const asked: number[] = [];
  const known = (segment: number, at: number): number | undefined => {
    asked.push(at);
    return at === 98 * DAY ? undefined : 1000 * segment + at / DAY;
  };
  let last: readonly (readonly { at: number; people: number }[])[] = [];
  let parts = 0;
  for (const lines of segmentTrends([huts, booking], input, 4, known)) {
    last = lines;
    parts++;
  }
  expect(last.map((line) => line.map(({ people }) => people))).toEqual([
    [97, 0, 99, 100, 1],
    [1097, 1, 1099, 1100, 1],
  ]);
  // Now is counted whatever is known; after the midnight that had to be worked out, and at the end, whoever waits is told.
  expect([Math.max(...asked), parts]).toEqual([100 * DAY, 2]);
});

test('overlaps are counted for each pair, of at most twenty', () => {
  const all = { lookback: 30, people: viewed('/huts') };
  const booking = { lookback: 30, people: viewed('/book') };
  expect(overlaps([all, booking], input)).toEqual([
    [3, 1],
    [1, 1],
  ]);
  expect(() => overlaps(Array(21).fill(all), input)).toThrow('At most 20 segments');
});

test('each condition change, or adds, what there would be without it', () => {
  const both = { lookback: 30, people: { all: [viewed('/huts', { min: 2 }), { kind: 'visits' as const, times: { min: 2 } }] } };
  expect(contributions(both, input).map(({ path, change }) => [path.join('.'), change])).toEqual([
    ['people.all.0', 0],
    ['people.all.1', 0],
  ]);
  const either = { lookback: 30, people: { any: [viewed('/book'), viewed('/huts', { min: 2 })] } };
  expect(contributions(either, input).map(({ change }) => change)).toEqual([-1, -1]);
});
