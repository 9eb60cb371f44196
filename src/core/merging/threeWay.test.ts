import fc from 'fast-check';
import { mergeChanges } from './threeWay';

const block = (id: string, text: string, extra: object = {}) => ({ id, kind: 'text', text, ...extra });
const base = {
  name: 'Winter',
  rule: { moment: { kind: 'delay', seconds: 5 }, pages: { on: [{ op: 'is', value: '/a' }] } },
  blocks: [block('a', 'One'), block('b', 'Two'), block('c', 'Three')],
};

test('what two people changed in different places is all there', () => {
  const mine = { ...base, name: 'Summer', blocks: [block('a', 'One!'), block('b', 'Two'), block('c', 'Three')] };
  const theirs = {
    ...base,
    rule: { ...base.rule, moment: { kind: 'delay', seconds: 9 } },
    blocks: [block('a', 'One'), block('b', 'Two'), block('c', 'Three', { width: 300 }), block('d', 'Four')],
  };
  expect(mergeChanges(base, mine, theirs)).toEqual({
    value: {
      name: 'Summer',
      rule: theirs.rule,
      blocks: [block('a', 'One!'), block('b', 'Two'), block('c', 'Three', { width: 300 }), block('d', 'Four')],
    },
    clashes: [],
  });
});

test.each<[string, object, object, object, (readonly string[])[]]>([
  [
    'the same text',
    { blocks: [block('a', 'Mine')] },
    { blocks: [block('a', 'Theirs')] },
    { blocks: [block('a', 'Mine')] },
    [['blocks', 'a', 'text']],
  ],
  [
    'another kind each',
    { moment: { kind: 'exit' } },
    { moment: { kind: 'scroll', atLeast: 40 } },
    { moment: { kind: 'exit' } },
    [['moment']],
  ],
  ['a list without ids', { tags: ['x'] }, { tags: ['y', 'z'] }, { tags: ['x'] }, [['tags']]],
])('%s: mine stands, and it is told', (_, mine, theirs, value, clashes) => {
  const before = { blocks: [block('a', 'One')], moment: { kind: 'delay', seconds: 5 }, tags: [] };
  const [own, other] = [
    { ...before, ...mine },
    { ...before, ...theirs },
  ];
  expect(mergeChanges(before, own, other)).toEqual({ value: { ...before, ...value }, clashes });
});

test('what one took out is gone, unless the other changed it; an order follows whoever changed it', () => {
  const list = (...blocks: object[]) => ({ blocks });
  const [a, b, c] = base.blocks as [object, object, object];
  const before = list(a, b, c);
  expect(mergeChanges(before, list(a, c), before)).toEqual({ value: list(a, c), clashes: [] });
  expect(mergeChanges(before, list(a, c), list(a, block('b', 'Changed'), c))).toEqual({
    value: list(a, block('b', 'Changed'), c),
    clashes: [['blocks', 'b']],
  });
  expect(mergeChanges(before, list(c, b, a), list(a, b, c, block('d', 'New')))).toEqual({
    // It stood behind c.
    value: list(c, block('d', 'New'), b, a),
    clashes: [],
  });
  expect(mergeChanges(before, list(a, block('m', 'Mine'), b, c), list(b, a, c))).toEqual({
    value: list(b, a, block('m', 'Mine'), c),
    clashes: [],
  });
});

test('whoever changed nothing changes nothing: the other one’s is taken whole, whatever it is', () => {
  const json = fc.jsonValue();
  fc.assert(
    fc.property(json, json, (before, after) => {
      expect(mergeChanges(before, before, after)).toEqual({ value: after, clashes: [] });
      expect(mergeChanges(before, after, before)).toEqual({ value: after, clashes: [] });
      expect(mergeChanges(before, after, after)).toEqual({ value: after, clashes: [] });
    }),
  );
});

test('with lists of ids nothing that either added is lost', () => {
  const list = fc.uniqueArray(fc.integer({ min: 0, max: 12 }), { maxLength: 8 }).map((ids) => ids.map((id) => ({ id: String(id) })));
  fc.assert(
    fc.property(list, list, list, (before, mine, theirs) => {
      const was = new Set(before.map(({ id }) => id));
      const got = mergeChanges({ list: before }, { list: mine }, { list: theirs }).value.list.map(({ id }) => id);
      expect(new Set(got).size).toBe(got.length);
      for (const { id } of [...mine, ...theirs]) if (!was.has(id)) expect(got).toContain(id);
      for (const { id } of before) expect(got.includes(id)).toBe(mine.some((one) => one.id === id) && theirs.some((one) => one.id === id));
    }),
  );
});
