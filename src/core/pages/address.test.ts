import { decodeLeniently, normalisePath, parseAddress } from './address';
import { patternHolds } from './pattern';

test.each([
  { path: '/Huts//Upper-Moss/', is: '/huts/upper-moss' },
  { path: '/', is: '/' },
  { path: '//', is: '/' },
  { path: '/h%C3%BCtte', is: '/hütte' },
  { path: '/bad%ZZpath', is: '/bad%zzpath' },
  { path: '/100%25-wool', is: '/100%-wool' },
])('$path is normalised to $is', ({ path, is }) => {
  expect(normalisePath(path)).toBe(is);
});

test('one broken byte does not spoil its neighbours', () => {
  expect(decodeLeniently('%C3%A9%FF%C3%A9')).toBe('é%FFé');
});

test('what is no address leaves every part of it unknown', () => {
  expect(parseAddress('not an address')).toBeUndefined();
  expect(patternHolds({ op: 'is', value: '/' }, { url: 'not an address' }, {})).toBeNull();
});

test.each([
  { pattern: { part: 'title', op: 'contains', value: 'moss' }, expected: null },
  { pattern: { part: 'label', op: 'exists' }, expected: null },
  { pattern: { set: 'gone' }, expected: null },
  { pattern: { part: 'parameter', name: 'ref', op: 'is', value: 'B' }, expected: true },
  { pattern: { part: 'parameter', name: 'REF', op: 'exists' }, expected: false },
  { pattern: { part: 'host', op: 'is', value: 'WWW.tarnhollow.example:8080' }, expected: true },
] as const)('$pattern on a page without title and labels is $expected', ({ pattern, expected }) => {
  expect(patternHolds(pattern, { url: 'http://www.tarnhollow.example:8080/huts?ref=a&ref=b' }, {})).toBe(expected);
});
