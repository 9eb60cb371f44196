import { createDice } from './dice';

const AT = Date.UTC(2026, 1, 3);

test('the same seed throws the same, and another something else', () => {
  const throws = (seed: string): number[] => Array.from({ length: 5 }, createDice(seed).next);
  expect(throws('a')).toEqual(throws('a'));
  expect(throws('a')).not.toEqual(throws('b'));
});

test('of 300,000 seeds no two make the same id, though some throw alike', () => {
  const throwsOf = new Set<number>();
  const ids = new Set<string>();
  for (let seed = 0; seed < 300_000; seed++) {
    const dice = createDice(`visitor ${seed}`);
    ids.add(dice.uuid(AT));
    throwsOf.add(dice.next() * 2 ** 32);
  }
  expect(throwsOf.size).toBeLessThan(300_000);
  expect(ids.size).toBe(300_000);
});

test('an id is a UUID of version 7 of its instant', () => {
  expect(createDice('x').uuid(AT)).toMatch(/^019c2/);
  expect(createDice('x').uuid(AT)).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
});
