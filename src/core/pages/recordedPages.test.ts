import fc from 'fast-check';
import { normalisePath } from './address';
import { recordedPages } from './recordedPages';

test('what no pattern tells apart is one page, called as most asked for it', () => {
  const asked = [
    { path: '/guides/ropes/', views: 2 },
    { path: '/guides/ropes', views: 5 },
    { path: '/Guides//Ropes', views: 1 },
    { path: '/guides/knots', views: 6 },
    { path: '', views: 3 },
    { path: '/', views: 4 },
  ];
  expect(recordedPages(asked, 10)).toEqual([
    { path: '/guides/ropes', views: 8 },
    { path: '/', views: 7 },
    { path: '/guides/knots', views: 6 },
  ]);
  expect(recordedPages(asked, 1)).toEqual([{ path: '/guides/ropes', views: 8 }]);
});

test('no view is lost, and no page is there twice', () => {
  const paths = fc.constantFrom('/a', '/a/', '/A', '/b', '/%61', '//b', '/ü', '/%C3%BC', '');
  fc.assert(
    fc.property(fc.array(fc.record({ path: paths, views: fc.integer({ min: 1, max: 9 }) })), (asked) => {
      const pages = recordedPages(asked, 100);
      const sum = (of: readonly { views: number }[]): number => of.reduce((so, { views }) => so + views, 0);
      expect(sum(pages)).toBe(sum(asked));
      const keys = pages.map(({ path }) => normalisePath(path));
      expect(new Set(keys).size).toBe(keys.length);
    }),
  );
});
