import { inOrderOfUse, withSegmentIds } from './rename';

test('segments are renamed wherever they stand, and nothing else is', () => {
  const people = {
    all: [
      { kind: 'segment' as const, id: 'a' },
      {
        none: [
          { kind: 'segment' as const, id: 'b' },
          { kind: 'tagged' as const, tag: 'a' },
        ],
      },
    ],
  };
  expect(withSegmentIds(people, new Map([['a', 'x']]))).toEqual({
    all: [
      { kind: 'segment', id: 'x' },
      {
        none: [
          { kind: 'segment', id: 'b' },
          { kind: 'tagged', tag: 'a' },
        ],
      },
    ],
  });
});

test('what is named comes first, and a circle loses nobody', () => {
  const names: Record<string, string[]> = { a: ['b', 'elsewhere'], b: ['c'], c: [], d: ['e'], e: ['d'] };
  const ordered = inOrderOfUse(
    Object.keys(names).map((id) => ({ id })),
    ({ id }) => names[id] ?? [],
  ).map(({ id }) => id);
  expect(ordered.slice(0, 3)).toEqual(['c', 'b', 'a']);
  expect(ordered.slice(3).sort()).toEqual(['d', 'e']);
});
