import { courseOfGoal, reachedByDay } from './course';

const NOW = Date.parse('2026-11-25T03:20:00Z');
const quarter = (iso: string): number => Date.parse(iso) / 900_000;

test('the course of a goal is told by the hours of a zone, beside the same weekday of the weeks before', () => {
  const { today, usual } = courseOfGoal(
    [
      [quarter('2026-11-11T01:30:00Z'), 3],
      [quarter('2026-11-18T00:00:00Z'), 1],
      // Another weekday, and an hour that has not come yet.
      [quarter('2026-11-24T22:45:00Z'), 9],
      [quarter('2026-11-24T23:00:00Z'), 2],
      [quarter('2026-11-25T03:15:00Z'), 1],
    ],
    { zone: 'Europe/Vienna', now: NOW },
  );
  // An hour ahead of UTC: 23:00 of the evening before is its midnight.
  expect(today).toEqual([2, 2, 2, 2, 3]);
  expect(usual?.slice(0, 4).map(({ low, high }) => [low, high])).toEqual([
    [0, 0],
    [0, 1],
    [1, 3],
    [1, 3],
  ]);
});

test('days of a goal are all there, also those on which the clocks change and those with nothing', () => {
  const days = reachedByDay(
    [
      [quarter('2026-10-24T21:45:00Z'), 1],
      [quarter('2026-10-24T22:00:00Z'), 2],
      [quarter('2026-10-25T22:45:00Z'), 3],
      [quarter('2026-10-25T23:00:00Z'), 4],
    ],
    { zone: 'Europe/Vienna', now: Date.parse('2026-10-27T12:00:00Z'), days: 5 },
  );
  expect(days).toEqual([
    { day: '2026-10-23', times: 0 },
    { day: '2026-10-24', times: 1 },
    { day: '2026-10-25', times: 5 },
    { day: '2026-10-26', times: 4 },
    { day: '2026-10-27', times: 0 },
  ]);
});
