import fc from 'fast-check';
import type { Expr } from './expr';
import { evaluateExpr, leavesOf, levelsOf, mapLeaves } from './expr';
import type { Truth } from './truth';
import { and, not, or } from './truth';

interface Leaf {
  readonly value: Truth;
}
const truth = fc.constantFrom<Truth>(true, false, null);
const expr: fc.Arbitrary<Expr<Leaf>> = fc.letrec<{ expr: Expr<Leaf> }>((tie) => ({
  expr: fc.oneof(
    { maxDepth: 5, withCrossShrink: true },
    truth.map((value): Expr<Leaf> => ({ value })),
    fc.array(tie('expr'), { maxLength: 4 }).map((all): Expr<Leaf> => ({ all })),
    fc.array(tie('expr'), { maxLength: 4 }).map((any): Expr<Leaf> => ({ any })),
    fc.array(tie('expr'), { maxLength: 4 }).map((none): Expr<Leaf> => ({ none })),
  ),
})).expr;
const value = ({ value: held }: Leaf): Truth => held;

test.each([
  { group: { all: [] }, expected: true },
  { group: { any: [] }, expected: false },
  { group: { none: [] }, expected: true },
])('an empty group $group is $expected', ({ group, expected }) => {
  expect(evaluateExpr<Leaf>(group as Expr<Leaf>, value)).toBe(expected);
});

test.each([
  { values: [true, null], all: null, any: true },
  { values: [false, null], all: false, any: null },
  { values: [null], all: null, any: null },
])('$values joined by all is $all, by any is $any', ({ values, all, any }) => {
  expect(and(values)).toBe(all);
  expect(or(values)).toBe(any);
});

test('an unknown leaf never turns a group into what both of its possible values would not give', () => {
  fc.assert(
    fc.property(expr, (tree) => {
      const result = evaluateExpr(tree, value);
      if (result === null) return;
      for (const guess of [true, false]) expect(evaluateExpr(tree, ({ value: held }) => held ?? guess)).toBe(result);
    }),
  );
});

test('none is the negation of any', () => {
  fc.assert(
    fc.property(fc.array(expr, { maxLength: 4 }), (parts) => {
      expect(evaluateExpr({ none: parts }, value)).toBe(not(evaluateExpr({ any: parts }, value)));
    }),
  );
});

test('every leaf is found at its path, and mapping keeps the shape', () => {
  fc.assert(
    fc.property(expr, (tree) => {
      for (const { leaf, path } of leavesOf(tree)) {
        const found = path.reduce<unknown>((node, key) => (node as Record<string | number, unknown>)[key], tree);
        expect(found).toBe(leaf);
      }
      const mapped = mapLeaves<Leaf, Leaf>(tree, (leaf) => ({ value: not(leaf.value) }));
      expect(levelsOf(mapped)).toBe(levelsOf(tree));
      expect(leavesOf(mapped)).toHaveLength(leavesOf(tree).length);
    }),
  );
});
