import fc from 'fast-check';
import { blockKinds } from '../messages/block';
import { messageSchema } from '../messages/message';
import { checkFlow } from './checks';
import type { Path } from './edit';
import {
  freshBlock,
  unusedId,
  valueAt,
  withCopy,
  withFlow,
  withInserted,
  withMoved,
  withNewMessage,
  withPlaced,
  withoutMessage,
  withRenamed,
  withValue,
} from './edit';
import type { Flow } from './flow';
import { flowSchema } from './flow';
import { linksOf } from './links';

const CLOSES = { button: true, dim: true, escape: true };
const FLOW: Flow = {
  start: 'ask',
  messages: [
    {
      id: 'ask',
      format: 'popup',
      closes: CLOSES,
      blocks: [
        {
          kind: 'columns',
          start: [{ kind: 'text', text: 'x' }],
          end: [
            {
              kind: 'buttons',
              buttons: [
                {
                  label: 'Then perhaps',
                  does: [
                    { kind: 'tag', tag: 'maybe' },
                    { kind: 'message', id: 'form' },
                  ],
                },
              ],
            },
          ],
        },
        {
          kind: 'choice',
          question: 'Well?',
          answers: [
            { label: 'Yes', does: [{ kind: 'message', id: 'form' }] },
            { label: 'No', does: [{ kind: 'close' }] },
          ],
        },
      ],
    },
    {
      id: 'form',
      format: 'popup',
      closes: CLOSES,
      blocks: [{ kind: 'form', fields: [{ kind: 'email', name: 'email', label: 'Email' }], submit: 'Send', thanks: 'Thanks' }],
    },
    { id: 'handle', format: 'tab', edge: 'end', text: 'Ask us', opens: 'ask' },
  ],
};

test('every line leads where its button, answer or tab does, from where it stands', () => {
  expect(linksOf(FLOW).map(({ from, label, to, words, path }) => [from, label, to, words.join(), path.join('.')])).toEqual([
    ['ask', 'Then perhaps', 'form', 'tags maybe', 'blocks.0.end.0.buttons.0.does'],
    ['ask', 'Yes', 'form', '', 'blocks.1.answers.0.does'],
    ['ask', 'No', undefined, 'closes', 'blocks.1.answers.1.does'],
    ['form', 'Send', undefined, 'keeps a lead', 'blocks.0.does'],
    ['handle', 'Ask us', 'ask', '', 'opens'],
  ]);
  for (const { from, path, does } of linksOf(FLOW)) {
    const message = FLOW.messages.find(({ id }) => id === from);
    if (path.at(-1) === 'does') expect(valueAt(message, path) ?? []).toEqual(does);
  }
});

test('what is put at a path is there, and everything else stays the same object', () => {
  const next = withValue(FLOW, ['messages', 0, 'blocks', 1, 'question'], 'Really?');
  expect(valueAt(next, ['messages', 0, 'blocks', 1, 'question'])).toBe('Really?');
  expect(next.messages[1]).toBe(FLOW.messages[1]);
  expect(withValue(FLOW, ['messages', 9, 'nothing', 1], 'x')).toBe(FLOW);
  expect(withValue({ a: [1, 2, 3], b: 1 }, ['a', 1], undefined)).toEqual({ a: [1, 3], b: 1 });
  expect(withValue({ a: [1, 2, 3], b: 1 }, ['b'], undefined)).toEqual({ a: [1, 2, 3] });
  expect(withInserted({ a: [1, 3] }, ['a'], 1, 2)).toEqual({ a: [1, 2, 3] });
  expect([
    withMoved({ a: [1, 2, 3] }, ['a', 0], 1),
    withMoved({ a: [1, 2, 3] }, ['a', 2], 5),
    withMoved({ a: [1, 2, 3] }, ['a', 7], 1),
  ]).toEqual([{ a: [2, 1, 3] }, { a: [1, 2, 3] }, { a: [1, 2, 3] }]);
});

test('a message that is renamed is spoken of by its new name everywhere', () => {
  const renamed = withRenamed(FLOW, 'form', 'leave-email');
  expect(linksOf(renamed).map(({ to }) => to)).toEqual(['leave-email', 'leave-email', undefined, undefined, 'ask']);
  expect(withRenamed(renamed, 'ask', 'question')).toMatchObject({
    start: 'question',
    messages: [{ id: 'question' }, {}, { opens: 'question' }],
  });
  expect(withRenamed(FLOW, 'form', 'ask')).toBe(FLOW);
});

test('where a message is taken away, what led to it closes; what a tab opens stays', () => {
  const without = withoutMessage(FLOW, 'form');
  expect(without.messages.map(({ id }) => id)).toEqual(['ask', 'handle']);
  expect(linksOf(without).map(({ to, words }) => to ?? words.join())).toEqual(['tags maybe,closes', 'closes', 'closes', 'ask']);
  expect(withoutMessage(FLOW, 'ask')).toBe(FLOW);
  const alone: Flow = { start: 'form', messages: FLOW.messages.slice(1, 2) };
  expect(withoutMessage(alone, 'form')).toBe(alone);
});

test('a flow that is put into another keeps what leads where, and takes no name that is there', () => {
  const both = withFlow(FLOW, FLOW);
  expect(both.id).toBe('ask-2');
  expect(both.flow.messages.slice(0, 3)).toEqual(FLOW.messages);
  expect(linksOf(both.flow).map(({ from, to }) => [from, to])).toEqual([
    ...linksOf(FLOW).map(({ from, to }) => [from, to]),
    ...linksOf(FLOW).map(({ from, to }) => [`${from}-2`, to && `${to}-2`]),
  ]);
  const thrice = withFlow(both.flow, both.flow).flow;
  expect(flowSchema().safeParse(thrice).success).toBe(true);
  expect(checkFlow(thrice).filter(({ severity }) => severity === 'error')).toEqual([]);
  const full = withFlow(thrice, {
    ...thrice,
    messages: Array.from({ length: 30 }, (_, nth) => ({ id: `m${nth}`, format: 'quiet' as const, does: [] })),
    start: 'm0',
  });
  expect(full.flow).toBe(thrice);
});

test('names are never given twice', () => {
  expect([unusedId(FLOW, 'ask'), unusedId(FLOW, 'other'), unusedId(withCopy(FLOW, FLOW.messages[0] as never).flow, 'ask')]).toEqual([
    'ask-2',
    'other',
    'ask-3',
  ]);
  expect(unusedId(FLOW, `${'a'.repeat(60)}`)).toHaveLength(60);
});

test('whatever is begun is a message that can be saved and left', () => {
  for (const format of ['popup', 'banner', 'chat', 'inset', 'tab', 'quiet'] as const) {
    const { flow, id } = withNewMessage(FLOW, format);
    expect(messageSchema().safeParse(flow.messages.find((message) => message.id === id)).success).toBe(true);
    expect(checkFlow(flow).filter(({ message, severity }) => message === id && severity === 'error')).toEqual([]);
  }
  const popup = withNewMessage(FLOW, 'popup');
  for (const { kind } of blockKinds()) {
    const at = popup.flow.messages.findIndex(({ id }) => id === popup.id);
    expect(flowSchema().safeParse(withInserted(popup.flow, ['messages', at, 'blocks'], 0, freshBlock(kind))).success).toBe(true);
  }
});

test('any edits in any order leave a flow that can be saved, of at most forty messages', () => {
  const step = fc.oneof(
    fc.constantFrom('popup', 'banner', 'chat', 'inset', 'tab', 'quiet').map((format) => (flow: Flow) => withNewMessage(flow, format).flow),
    fc.nat().map((nth) => (flow: Flow) => withCopy(flow, flow.messages[nth % flow.messages.length] as never).flow),
    fc.nat().map((nth) => (flow: Flow) => withoutMessage(flow, flow.messages[nth % flow.messages.length]?.id ?? '')),
    fc.tuple(fc.nat(), fc.constantFrom('a', 'b', 'ask')).map(
      ([nth, to]) =>
        (flow: Flow) =>
          withRenamed(flow, flow.messages[nth % flow.messages.length]?.id ?? '', to),
    ),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
      const flow = steps.reduce((so, change) => change(so), FLOW);
      expect(flowSchema().safeParse(flow).success).toBe(true);
      expect(checkFlow(flow).filter(({ code }) => code === 'flow.unknownMessage')).toEqual([]);
    }),
    { numRuns: 40 },
  );
});

describe('placing a block elsewhere', () => {
  const columns = { kind: 'columns', start: ['c'], end: [] };
  const root = { blocks: ['a', columns, 'b', 'd'] };
  test.each<[string, Path, Path, number, unknown]>([
    ['to the top', ['blocks', 3], ['blocks'], 0, ['d', 'a', columns, 'b']],
    ['down', ['blocks', 0], ['blocks'], 3, [columns, 'b', 'a', 'd']],
    ['to the end', ['blocks', 0], ['blocks'], 4, [columns, 'b', 'd', 'a']],
    ['where it stands', ['blocks', 2], ['blocks'], 2, ['a', columns, 'b', 'd']],
    ['into a column', ['blocks', 0], ['blocks', 1, 'end'], 0, [{ ...columns, end: ['a'] }, 'b', 'd']],
    ['out of a column', ['blocks', 1, 'start', 0], ['blocks'], 0, ['c', 'a', { ...columns, start: [] }, 'b', 'd']],
    ['into itself', ['blocks', 1], ['blocks', 1, 'end'], 0, root.blocks],
    ['from nowhere', ['blocks', 9], ['blocks'], 0, root.blocks],
    ['into no list', ['blocks', 0], ['blocks', 2], 0, root.blocks],
  ])('%s', (_where, from, list, at, blocks) => expect(withPlaced(root, from, list, at)).toEqual({ blocks }));
});
