import { unusedName } from './unusedName';

test('a new thing gets a name that is not taken', () => {
  expect(unusedName('New segment', [])).toBe('New segment');
  expect(unusedName('New segment', ['New segment', 'New segment 2'])).toBe('New segment 3');
});
