import { eventItemSchema } from '@/core/wire/items';
import { cleanName, cleanValues } from './clean';

test('what can be told is kept, what cannot is left out', () => {
  expect(
    cleanValues({ a: 'x', b: 2, c: true, d: null, e: NaN, f: { deep: 1 }, g: [1], h: undefined, i: () => 1, j: Infinity, '': 1 }),
  ).toEqual({ a: 'x', b: 2, c: true, d: null });
  for (const nothing of [undefined, null, 'text', 5]) expect(cleanValues(nothing)).toEqual({});
});

test('whatever a page hands over, the collector takes what is left of it', () => {
  const id = '01923456-789a-7000-8000-000000000000';
  const props = cleanValues(Object.fromEntries(Array.from({ length: 80 }, (_, nth) => [`${nth}${'k'.repeat(300)}`, 'v'.repeat(9000)])));
  const item = { kind: 'event', id, view: id, visit: id, at: 1_700_000_000_000, name: cleanName('n'.repeat(500)), props };
  expect(eventItemSchema.safeParse(item).success).toBe(true);
});
