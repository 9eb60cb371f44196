import { absolute } from './element';

beforeEach(() => Object.assign(globalThis, { location: { origin: 'https://shop.example' } }));

test.each([
  ['/huts', 'https://shop.example/huts'],
  ['https://elsewhere.example/a', 'https://elsewhere.example/a'],
  ['javascript:alert(1)', '#'],
  [' JavaScript:alert(1)', '#'],
  ['java\tscript:alert(1)', '#'],
  ['data:text/html,<script>alert(1)</script>', '#'],
  ['vbscript:x', '#'],
])('%s leads to %s', (address, to) => {
  expect(absolute(address)).toBe(to);
});
