import { createPace, MOST_OPENS } from './pace';

test('a browser may open so many pages in an hour, and begins anew with the next', () => {
  const pace = createPace();
  const at = Date.UTC(2026, 10, 26, 10);
  expect(pace.mayOpen('a', MOST_OPENS, at)).toBe(true);
  expect(pace.mayOpen('a', 1, at + 1000)).toBe(false);
  expect(pace.mayOpen('b', 1, at + 1000)).toBe(true);
  expect(pace.mayOpen('a', 1, at + 3_599_999)).toBe(false);
  expect(pace.mayOpen('a', 1, at + 3_600_000)).toBe(true);
});
