import type { Page } from './address';
import { rememberMatches } from './matcher';
import type { PagePattern } from './pattern';
import type * as pages from './pages';
import { anyPatternHolds } from './pages';

jest.mock('./pages', () => {
  const real = jest.requireActual<Pick<typeof pages, 'anyPatternHolds'>>('./pages');
  return { ...real, anyPatternHolds: jest.fn(real.anyPatternHolds) };
});

const page = (over: Partial<Page> = {}): Page => ({ url: 'https://s.example/huts', title: 'Huts', labels: ['a', 'b'], ...over });
const huts: readonly PagePattern[] = [{ op: 'starts', value: '/huts' }];

test('pages of one address, title and labels are asked once, and others each', () => {
  const matches = rememberMatches({});
  const met = [
    page(),
    page(),
    page({ labels: ['b', 'a'] }),
    page({ labels: undefined }),
    page({ title: 'Other' }),
    page({ url: 'https://s.example/book' }),
  ];
  const said = [true, true, true, true, true, false];
  expect([...met, ...met].map((one) => matches(huts, one))).toEqual([...said, ...said]);
  expect(anyPatternHolds).toHaveBeenCalledTimes(5);
  // Another list of patterns is asked of the same pages.
  expect(matches([{ op: 'starts', value: '/book' }], page())).toBe(false);
  expect(anyPatternHolds).toHaveBeenCalledTimes(6);
});
