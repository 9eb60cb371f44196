import fc from 'fast-check';
import { readableInk } from '@/page/show/colour';
import { contrastOf, nearestPassing } from './contrast';

const hex = () =>
  fc.tuple(fc.nat(255), fc.nat(255), fc.nat(255)).map((rgb) => `#${rgb.map((one) => one.toString(16).padStart(2, '0')).join('')}`);

test.each([
  ['#000000', '#ffffff', 21],
  ['#777777', '#ffffff', 4.48],
  ['#0b5d4e', '#f6f7f4', 7.26],
])('%s on %s has a contrast of %d', (a, b, ratio) => {
  expect(contrastOf(a, b)).toBeCloseTo(ratio, 1);
});

test('whatever the colour, the one put in its place passes, and one that passes stays', () => {
  fc.assert(
    fc.property(hex(), fc.constantFrom('#ffffff', '#000000', '#f6f7f4', '#23292a'), fc.constantFrom(3, 4.5), (colour, ground, ratio) => {
      const found = nearestPassing(colour, ground, ratio);
      expect(contrastOf(found, ground)).toBeGreaterThanOrEqual(ratio);
      if (contrastOf(colour, ground) >= ratio) expect(found).toBe(colour);
    }),
  );
});

test('a pale yellow becomes a darker one, not black', () => {
  const found = nearestPassing('#f0d060', '#ffffff', 3);
  expect(contrastOf(found, '#ffffff')).toBeLessThan(3.4);
});

test('the letters that the page script puts on a colour can always be read', () => {
  fc.assert(fc.property(hex(), (colour) => expect(contrastOf(readableInk(colour), colour)).toBeGreaterThan(4.5)));
});
