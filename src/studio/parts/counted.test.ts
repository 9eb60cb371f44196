import { counted } from './counted';

test('one of something is one', () => {
  expect([0, 1, 2, 12_345].map((count) => counted(count, 'visit'))).toEqual(['0 visits', '1 visit', '2 visits', '12,345 visits']);
});
