import { stepAfter } from './conversation';
import type { Message } from './message';
import { messageSchema, placeOf, waysToClose } from './message';

const closes = { button: false, dim: false, escape: false };

test.each<[Message, string]>([
  [{ id: 'a', format: 'popup', closes, blocks: [] }, 'overlay'],
  [{ id: 'a', format: 'banner', edge: 'top', closes, blocks: [] } as never, 'top'],
  [{ id: 'a', format: 'banner', edge: 'top', slot: 'offer', closes, blocks: [] } as never, 'slot:offer'],
  [{ id: 'a', format: 'inset', into: { selector: '#x' }, closes: { button: false }, blocks: [] }, 'slot:#x'],
  [{ id: 'a', format: 'chat', sender: { name: 'J' }, conversation: { steps: [{ id: 's', says: 'x' }] } }, 'corner'],
  [{ id: 'a', format: 'quiet', does: [] }, 'none'],
])('%j holds %s', (message, place) => {
  expect(placeOf(message)).toBe(place);
});

test('a block in a column can close its message', () => {
  const message: Message = {
    id: 'a',
    format: 'popup',
    closes,
    blocks: [{ kind: 'columns', start: [], end: [{ kind: 'buttons', buttons: [{ label: 'Close', does: [{ kind: 'close' }] }] }] }],
  };
  expect(waysToClose(message)).toEqual(['block']);
  expect(waysToClose({ ...message, blocks: [] })).toEqual([]);
});

test('the step after an answer is the option’s, the step’s own, or the next in the list', () => {
  const asks = { kind: 'choice' as const, field: 'f', options: [{ label: 'Yes', then: 'c' }, { label: 'No' }] };
  const steps = [
    { id: 'a', says: '?', asks },
    { id: 'b', says: 'b', then: 'end' },
    { id: 'c', says: 'c' },
  ];
  const [first, second, third] = steps;
  if (!first || !second || !third) throw new Error('Steps are missing');
  expect([
    stepAfter({ steps }, first, 'Yes')?.id,
    stepAfter({ steps }, first, 'No')?.id,
    stepAfter({ steps }, second, ''),
    stepAfter({ steps }, third, ''),
  ]).toEqual(['c', 'b', undefined, undefined]);
});

test('a message of one format has nothing of another', () => {
  expect(messageSchema().safeParse({ id: 'a', format: 'tab', edge: 'end', text: 'x', opens: 'b', blocks: [] }).success).toBe(false);
  expect(messageSchema().safeParse({ id: 'a', format: 'slider' }).success).toBe(false);
});
