import fc from 'fast-check';
import { isLike } from './like';
import { normalisePath } from './address';

test.each([
  { pattern: '/book/**', text: '/book', matches: true },
  { pattern: '/book/**', text: '/book/dates/2', matches: true },
  { pattern: '/book/**', text: '/bookings', matches: false },
  { pattern: '/book/*', text: '/book', matches: false },
  { pattern: '/book/*', text: '/book/dates', matches: true },
  { pattern: '/book/*', text: '/book/dates/2', matches: false },
  { pattern: '/routes/**/day-2', text: '/routes/day-2', matches: true },
  { pattern: '/routes/**/day-2', text: '/routes/ridge/west/day-2', matches: true },
  { pattern: '/routes/**/day-2', text: '/routesday-2', matches: false },
  { pattern: '/a/**/**/b', text: '/a/b', matches: true },
  { pattern: '/a/**/**', text: '/a', matches: true },
  { pattern: '/huts(1)+', text: '/huts(1)+', matches: true },
  { pattern: '/huts.', text: '/hutsx', matches: false },
  { pattern: '**', text: '/any/thing', matches: true },
  { pattern: '/**', text: '/', matches: true },
])('$pattern matches $text: $matches', ({ pattern, text, matches }) => {
  expect(isLike(text, pattern)).toBe(matches);
});

/** The definition written as a regular expression: slow on hostile input, and so only a model. */
function model(pattern: string): RegExp {
  const escaped = (text: string): string => text.replace(/[.+?^${}()|[\]\\]/g, '\\$&');
  let source = '';
  let rest = normalisePath(pattern);
  for (;;) {
    if (/^(\/\*\*)+$/.test(rest)) return new RegExp(`^${source}(/.*)?$`, 's');
    const levels = /^((\/\*\*)+)\//.exec(rest);
    if (rest === '') return new RegExp(`^${source}$`, 's');
    if (levels) [source, rest] = [`${source}/(.*/)?`, rest.slice(levels[0].length)];
    else if (rest.startsWith('**')) [source, rest] = [`${source}.*`, rest.slice(2)];
    else if (rest.startsWith('*')) [source, rest] = [`${source}[^/]*`, rest.slice(1)];
    else [source, rest] = [source + escaped(rest.charAt(0)), rest.slice(1)];
  }
}

test('agrees with the definition on random patterns and paths', () => {
  const piece = fc.constantFrom('/', '*', '**', '/**', '/**/', 'a', 'b', 'ab', '.', '/a');
  const path = fc
    .array(fc.constantFrom('/', 'a', 'b', 'ab', '.', '/a'), { maxLength: 8 })
    .map((parts) => normalisePath(`/${parts.join('')}`));
  fc.assert(
    fc.property(
      fc.array(piece, { maxLength: 6 }).map((parts) => parts.join('')),
      path,
      (pattern, text) => {
        expect(isLike(text, pattern)).toBe(model(pattern).test(text));
      },
    ),
    { numRuns: 2000 },
  );
});

test('a hostile pattern on a long address ends', () => {
  expect(isLike(`/${'a'.repeat(4000)}`, `${'*a'.repeat(400)}b`)).toBe(false);
});
