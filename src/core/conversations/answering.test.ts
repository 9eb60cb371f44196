import fc from 'fast-check';
import type { Candidate } from './answering';
import { chooseMember, USUAL } from './answering';

const candidate = (member: number, more: Partial<Candidate> = {}): Candidate => ({ member, isHere: true, open: 0, givenAt: null, ...more });

test('in turn: whoever was given one longest ago, or never', () => {
  expect(chooseMember([candidate(1, { givenAt: 5 }), candidate(2, { givenAt: 3 }), candidate(3, { givenAt: 9 })], USUAL)).toBe(2);
  expect(chooseMember([candidate(1, { givenAt: 5 }), candidate(2)], USUAL)).toBe(2);
});

test('whoever has least; of those whose turn it is', () => {
  const least = { ...USUAL, how: 'least' as const };
  expect(
    chooseMember([candidate(1, { open: 2 }), candidate(2, { open: 1, givenAt: 9 }), candidate(3, { open: 1, givenAt: 4 })], least),
  ).toBe(3);
});

test('whoever knows them comes first, if they are here and may; after them the others', () => {
  const both = [candidate(1), candidate(2, { givenAt: 9, open: 7 })];
  expect(chooseMember(both, USUAL, { knew: 2 })).toBe(2);
  expect(chooseMember(both, { ...USUAL, knows: false }, { knew: 2 })).toBe(1);
  expect(chooseMember([candidate(1), candidate(2, { isHere: false })], USUAL, { knew: 2 })).toBe(1);
  expect(chooseMember(both, { ...USUAL, who: [1] }, { knew: 2 })).toBe(1);
  expect(chooseMember(both, USUAL, { knew: 2, passed: [2] })).toBe(1);
});

test('nobody is here: nobody gets it', () => {
  expect(chooseMember([candidate(1, { isHere: false })], USUAL)).toBeUndefined();
  expect(chooseMember([], USUAL)).toBeUndefined();
});

test('in turn nobody gets a second one before everybody has had their first', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 50 }), { minLength: 1 }), (members) => {
      const given = new Map<number, number>();
      for (let nth = 0; nth < members.length; nth++) {
        const chosen =
          chooseMember(
            members.map((member) => candidate(member, { givenAt: given.get(member) ?? null })),
            USUAL,
          ) ?? 0;
        expect(given.has(chosen)).toBe(false);
        given.set(chosen, nth);
      }
    }),
  );
});
