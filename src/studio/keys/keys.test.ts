import type { Pressed } from './keys';
import { AREA_KEYS, meaningOf } from './keys';

const pressed = (over: Partial<Pressed>): Pressed => ({
  key: 'x',
  command: false,
  alt: false,
  isTyping: false,
  isOnRow: false,
  afterG: false,
  ...over,
});

test('search opens from everywhere, even while typing', () => {
  expect(meaningOf(pressed({ key: 'k', command: true, isTyping: true }))).toEqual({ kind: 'search' });
  expect(meaningOf(pressed({ key: 'K', command: true }))).toEqual({ kind: 'search' });
});

test.each(['g', '?', 'n', '/', 'j', 'k', 'e', '.'])('%s is a letter while typing, and the browser’s own with Ctrl or Alt', (key) => {
  expect(meaningOf(pressed({ key, isTyping: true, isOnRow: true }))).toBeUndefined();
  expect(meaningOf(pressed({ key, alt: true, isOnRow: true }))).toBeUndefined();
  if (key !== 'k') expect(meaningOf(pressed({ key, command: true, isOnRow: true }))).toBeUndefined();
});

test('g and a letter go to an area, each letter to one of its own', () => {
  expect(meaningOf(pressed({ key: 'g' }))).toEqual({ kind: 'began' });
  for (const { key, href } of AREA_KEYS) expect(meaningOf(pressed({ key, afterG: true }))).toEqual({ kind: 'go', href });
  expect(new Set(AREA_KEYS.map(({ key }) => key)).size).toBe(AREA_KEYS.length);
  expect(meaningOf(pressed({ key: 'c' }))).toBeUndefined();
});

test('arrows move only from row to row', () => {
  expect(meaningOf(pressed({ key: 'ArrowDown' }))).toBeUndefined();
  expect(meaningOf(pressed({ key: 'ArrowDown', isOnRow: true }))).toEqual({ kind: 'move', by: 1 });
  expect(meaningOf(pressed({ key: 'k' }))).toEqual({ kind: 'move', by: -1 });
});
