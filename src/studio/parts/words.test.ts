import { agoWords } from './layout/Ago';
import { unusedName } from '../parts/unusedName';

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

test('a new thing gets a name that is not taken', () => {
  expect(unusedName('New segment', [])).toBe('New segment');
  expect(unusedName('New segment', ['New segment', 'New segment 2'])).toBe('New segment 3');
});
