import { readableInk } from './colour';

test.each([
  { colour: '#ffffff', ink: '#000000' },
  { colour: '#0b5d4e', ink: '#ffffff' },
  { colour: '#c9b458', ink: '#000000' },
  { colour: '#000000', ink: '#ffffff' },
])('$ink reads best on $colour', ({ colour, ink }) => {
  expect(readableInk(colour)).toBe(ink);
});
