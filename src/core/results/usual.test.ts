import { runningTotals, usualCourse } from './usual';

test('running totals', () => {
  expect(runningTotals([2, 3, 0, 1])).toEqual([2, 5, 5, 6]);
  expect(runningTotals([])).toEqual([]);
});

test('the usual course is the lowest, the median and the highest running total of each hour', () => {
  expect(
    usualCourse([
      [1, 1],
      [3, 0],
      [2, 8],
    ]),
  ).toEqual([
    { low: 1, middle: 2, high: 3 },
    { low: 2, middle: 3, high: 10 },
  ]);
  expect(usualCourse([[1], [4]])).toEqual([{ low: 1, middle: 2.5, high: 4 }]);
});

test('days before the script was there are no days, and one day is no custom', () => {
  expect(
    usualCourse([
      [0, 0],
      [5, 5],
    ]),
  ).toBeUndefined();
  expect(
    usualCourse([
      [0, 0],
      [5, 5],
      [1, 1],
    ])?.[1],
  ).toEqual({ low: 2, middle: 6, high: 10 });
});
