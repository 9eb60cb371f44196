import fc from 'fast-check';
import { issueWords, parseWith } from '../parsing/parse';
import { pieceItemSchema } from './items';
import { KINDS, packSignals, unpackSignals } from './pack';

const body = fc.oneof(
  fc.record({ s: fc.constant('scroll' as const), depth: fc.integer({ min: 0, max: 100 }) }),
  fc.record({ s: fc.constantFrom('input' as const, 'exit' as const, 'hide' as const, 'show' as const) }),
  fc.record(
    { s: fc.constant('click' as const), on: fc.array(fc.string({ maxLength: 20 })), what: fc.string() },
    { requiredKeys: ['s', 'on'] },
  ),
  fc.record(
    { s: fc.constant('seen' as const), selector: fc.string(), share: fc.integer({ min: 0, max: 100 }), top: fc.boolean() },
    { requiredKeys: ['s', 'selector', 'share'] },
  ),
  fc.record(
    {
      s: fc.constant('event' as const),
      name: fc.string({ minLength: 1 }),
      props: fc.dictionary(fc.string({ minLength: 1 }), fc.oneof(fc.string(), fc.boolean(), fc.integer())),
    },
    { requiredKeys: ['s', 'name'] },
  ),
);
const timeline = fc.array(fc.tuple(fc.nat(60_000), body)).map((steps) => {
  let t = 0;
  return steps.map(([wait, one]) => ({ t: (t += wait), ...one }));
});

test('what is packed comes out as it was, through JSON', () => {
  fc.assert(
    fc.property(timeline, (signals) => {
      expect(unpackSignals(JSON.parse(JSON.stringify(packSignals(signals))))).toEqual(signals);
    }),
  );
});

test('packed signals are checked like any others, by the name of their part', () => {
  const piece = (signals: unknown) =>
    pieceItemSchema.safeParse({
      kind: 'piece',
      view: '019a0000-0000-7000-8000-000000000000',
      piece: 0,
      signals,
      engaged: 0,
      scroll: 0,
      leave: 0,
    });
  const complaint = (signals: unknown): string | undefined => {
    const { error } = piece(signals);
    return error && `${error.issues[0]?.path.join('.')} ${error.issues[0]?.code}`;
  };
  expect(
    piece([
      [5, 1],
      [10, 0, 40],
    ]).data?.signals,
  ).toEqual([
    { t: 5, s: 'input' },
    { t: 15, s: 'scroll', depth: 40 },
  ]);
  expect(complaint([[5, 0, 140]])).toBe('signals.0.depth too_big');
  expect(
    complaint([
      [5, 1],
      [-9, 1],
    ]),
  ).toBe('signals.1.t too_small');
  expect(complaint([[5, 99]])).toBe('signals.0.s invalid_union');
  expect(complaint([[5, 1, 'more']])).toBe('signals.0 unrecognized_keys');
  expect(complaint([[5]])).toBe('signals.0 invalid_type');
  expect(complaint([['5', 1]])).toBe('signals.0.t invalid_type');
  expect(complaint('none')).toBe('signals invalid_type');
});

test('what is wrong in a packed signal is told as it was met, though it was unpacked before', () => {
  const piece = { kind: 'piece', view: '01912f9e-7b1a-7c3d-8e4f-a1b2c3d4e5f6', piece: 0, engaged: 0, scroll: 0, leave: 0 };
  const parsed = parseWith(pieceItemSchema, { ...piece, signals: [[5, KINDS.indexOf('seen'), '#price', 40, 'yes']] });
  expect(parsed.ok ? [] : parsed.issues.map(issueWords)).toEqual(['signals.0.top: met "yes", expected a boolean']);
});
