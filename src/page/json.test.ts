import fc from 'fast-check';
import { toJson } from './json';

const seed = Number(process.env['FAST_CHECK_SEED'] ?? 20261125);

test(`what is written reads back as the same (seed ${seed})`, () => {
  fc.assert(
    fc.property(fc.jsonValue(), (value) => {
      expect(JSON.parse(toJson(value))).toEqual(JSON.parse(JSON.stringify(value)));
    }),
    { seed, numRuns: 500 },
  );
});

test('a page that gives arrays and texts a toJSON changes nothing', () => {
  const patched = [Array.prototype, String.prototype] as unknown as { toJSON?: () => string }[];
  for (const prototype of patched) prototype.toJSON = () => 'patched';
  try {
    expect(toJson({ a: [1, 'x'], b: 'y' })).toBe('{"a":[1,"x"],"b":"y"}');
  } finally {
    for (const prototype of patched) delete prototype.toJSON;
  }
});

test('lone halves of a pair, and numbers that are none do no harm', () => {
  expect(toJson({ half: 'a\ud83d', not: NaN, none: undefined, line: '\u2028' })).toBe('{"half":"a\ufffd","not":null,"line":"\u2028"}');
});
