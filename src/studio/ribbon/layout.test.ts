import { clockWords, layoutRibbon, sectionsOf } from './layout';

const view = (overrides: object = {}) => ({
  id: 'v1',
  at: 1000,
  url: 'http://site.example/huts/upper-moss',
  title: 'Upper Moss',
  leave: 10_000,
  scroll: 0,
  engagedMs: 0,
  signals: [],
  ...overrides,
});

test('page views follow each other and carry their section', () => {
  const { views, length } = layoutRibbon({ views: [view(), view({ at: 11_500, url: 'http://site.example/' })], showings: [] });
  expect(views.map(({ section, from, to }) => [section, from, to])).toEqual([
    ['huts', 0, 10_000],
    ['home', 10_000, 20_000],
  ]);
  expect(length).toBe(20_000);
});

test('a long pause is folded, and drawn as quiet', () => {
  const { length, quiet } = layoutRibbon({ views: [view({ leave: 600_000, signals: [{ t: 5000, s: 'input' }] })], showings: [] });
  expect(length).toBe(25_000);
  expect(quiet).toEqual([{ from: 5000, to: 25_000 }]);
});

test('the fill never falls: it is how far the page was read', () => {
  const signals = [40, 80, 20].map((depth, index) => ({ t: 1000 * (index + 1), s: 'scroll' as const, depth }));
  expect(layoutRibbon({ views: [view({ signals })], showings: [] }).views[0]?.depth.map(({ percent }) => percent)).toEqual([
    0, 40, 80, 80, 80,
  ]);
});

test('a showing stands in the view in which it happened, with its initial', () => {
  const showings = [{ campaign: 'c', name: 'packing list', at: 13_500, outcomes: ['converted'] }];
  const { marks } = layoutRibbon({ views: [view(), view({ at: 11_500 })], showings });
  expect(marks).toEqual([{ kind: 'showing', at: 12_000, words: 'packing list shown, converted', letter: 'P' }]);
});

test('sections come in the order of their views', () => {
  const pages = [
    { path: '/huts/a', views: 3 },
    { path: '/', views: 4 },
    { path: '/huts', views: 2 },
  ];
  expect(sectionsOf(pages)).toEqual(['huts', 'home']);
});

test.each([
  { ms: 0, words: '0:00' },
  { ms: 61_400, words: '1:01' },
  { ms: 3_600_000, words: '60:00' },
])('$ms ms reads $words', ({ ms, words }) => {
  expect(clockWords(ms)).toBe(words);
});
