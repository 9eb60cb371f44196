import { keyOf, merged, namesIn, piecesOf } from './merge';

test.each([
  ['Hello {first name, or there}', {}, 'Hello there'],
  ['Hello {first name, or there}', { first_name: 'Runa' }, 'Hello Runa'],
  ['Hello {First_Name}', { first_name: 'Runa' }, 'Hello Runa'],
  ['Hello {first name}', {}, 'Hello '],
  ['Hello {first name, or }!', { first_name: '' }, 'Hello !'],
  ['{{not a value}}', { not_a_value: 'x' }, '{not a value}'],
  ['{a, or 1}{b, or 2}', { b: 'B' }, '1B'],
  ['{constructor, or x}', {}, 'x'],
  ['an open { brace', {}, 'an open { brace'],
])('%s with %j reads “%s”', (text, values, read) => {
  expect(merged(text, values as Record<string, string>)).toBe(read);
});

test('the names a document asks for are found wherever its texts stand, once each', () => {
  expect(namesIn({ a: ['{city, or x}', { b: '{ First name }{city}' }], c: 3 })).toEqual(['city', 'first_name']);
  expect(keyOf(' First-Name ')).toBe('first_name');
  expect(piecesOf('')).toEqual([]);
});
