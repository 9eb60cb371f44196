import { matchPages } from './near';

const pages = ['/', '/huts', '/huts/moss', '/huts/moss/photos', '/hut', '/booking', '/boking', '/prices'].map((path, index) => ({
  path,
  views: 100 - index,
}));
const found = (op: 'is' | 'like' | 'contains' | 'exists', value: string) => {
  const { matching, near } = matchPages([op === 'exists' ? { part: 'label', op } : { op, value }], pages);
  return { matching: matching.map(({ path }) => path), near: near.map(({ path, why }) => `${path} ${why}`) };
};

test.each([
  ['is', '/huts', ['/huts'], ['/huts/moss below', '/huts/moss/photos below', '/hut spelled']],
  ['like', '/huts/*', ['/huts/moss'], ['/huts wider', '/huts/moss/photos wider']],
  ['like', '/huts/**', ['/huts', '/huts/moss', '/huts/moss/photos'], []],
  ['is', '/booking', ['/booking'], ['/boking spelled']],
  ['is', '/bookin', [], ['/booking spelled', '/boking spelled']],
  ['contains', 'price', ['/prices'], []],
  ['like', '/**', pages.map(({ path }) => path), []],
  ['is', '', [], []],
  ['exists', '', [], []],
] as const)('%s %p', (op, value, matching, near) => {
  expect(found(op, value)).toEqual({ matching, near });
});

test('what one pattern matches is not near another, and page sets are left to themselves', () => {
  const { matching, near } = matchPages([{ op: 'is', value: '/huts' }, { op: 'is', value: '/huts/moss' }, { set: 'set_a' }], pages);
  expect(matching.map(({ path }) => path)).toEqual(['/huts', '/huts/moss']);
  expect(near.map(({ path }) => path)).toEqual(['/huts/moss/photos', '/hut']);
});
