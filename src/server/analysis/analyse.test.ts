import { analysisOf } from './analyse';

test('every site has one analysis, and all of them have sites', () => {
  expect([1, 2, 3, 4].map((site) => analysisOf(site, 'http://a:1, http://b:2/'))).toEqual([
    'http://b:2',
    'http://a:1',
    'http://b:2',
    'http://a:1',
  ]);
  expect(analysisOf(7, 'http://only:1')).toBe('http://only:1');
});
