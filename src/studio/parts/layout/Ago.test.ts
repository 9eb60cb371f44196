import { agoWords } from './Ago';

test.each([
  [0, '0 s ago'],
  [-5000, '0 s ago'],
  [89_000, '89 s ago'],
  [90_000, '2 min ago'],
  [89 * 60_000, '89 min ago'],
  [5 * 3_600_000, '5 h ago'],
  [3 * 86_400_000, '3 days ago'],
])('%d ms is “%s”', (ms, words) => {
  expect(agoWords(ms)).toBe(words);
});
