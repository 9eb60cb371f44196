import { patternHolds } from '../pages/pattern';
import { pageChoices } from './pageChoices';

const values = (path: string): string[] => pageChoices(path).map(({ picked: { op, value } }) => `${op} ${value}`);

test('a page is itself, one beside others, one of a section, or one of many with a number', () => {
  expect(values('/')).toEqual(['is /', 'like /**']);
  expect(values('/contact/')).toEqual(['is /contact', 'like /contact/**']);
  expect(values('/huts/upper-moss')).toEqual(['is /huts/upper-moss', 'like /huts/*', 'like /huts/**']);
  expect(values('/order/10423/done')).toEqual(['is /order/10423/done', 'like /order/*/done', 'like /order/10423/*', 'like /order/**']);
});

test('whatever is offered holds on the page that it was offered for', () => {
  for (const path of ['/', '/contact', '/huts/upper-moss', '/order/10423/done', '/a/b/c/d-9000000', '/%C3%BCber/uns'])
    for (const { picked } of pageChoices(path))
      expect([path, picked.value, patternHolds(picked, { url: `https://site.example${path}` }, {})]).toEqual([path, picked.value, true]);
});
