import { GIVEN_UP_MS, pauseAfter, restAfter, verdictOf } from './retry';

const NOW = Date.parse('2026-11-27T12:00:00Z');

test('pauses grow, are never shorter than asked for, and end within three days', () => {
  expect([1, 2, 3, 4].map((tries) => pauseAfter(tries) / 60_000)).toEqual([1, 2, 4, 8]);
  expect(pauseAfter(30)).toBe(6 * 3_600_000);
  expect(pauseAfter(1, 90_000)).toBe(90_000);
  let [waited, tries] = [0, 0];
  while (waited < GIVEN_UP_MS) waited += pauseAfter(++tries);
  expect(tries).toBeLessThan(25);
});

test('a connection rests after five failures in a row, longer and longer, half an hour at most', () => {
  expect([0, 4, 5, 6, 20].map((failures) => restAfter(failures) / 60_000)).toEqual([0, 0, 1, 2, 30]);
});

test('what is refused for good is not tried again, and a service that asks for time gets it', () => {
  const of = (status: number, retryAfter?: string) => verdictOf(status, { retryAfter, now: NOW });
  expect([200, 204].map((status) => of(status).is)).toEqual(['sent', 'sent']);
  expect([400, 401, 403, 404, 301].map((status) => of(status).is)).toEqual(Array.from({ length: 5 }, () => 'never'));
  expect([408, 425, 429, 500, 503].map((status) => of(status).is)).toEqual(Array.from({ length: 5 }, () => 'later'));
  expect(of(429, '120')).toMatchObject({ afterMs: 120_000 });
  expect(of(503, 'Fri, 27 Nov 2026 12:05:00 GMT')).toMatchObject({ afterMs: 300_000 });
  expect(of(503, 'soon')).toEqual({ is: 'later', reason: 'answered 503' });
  expect(of(429, '99999999999')).toMatchObject({ afterMs: GIVEN_UP_MS });
});
