import type { Message } from '../messages/message';
import { checkFlow } from './checks';
import type { Flow } from './flow';
import { flowSchema } from './flow';
import { upgradeCampaign } from './upgrade';

const popup = (id: string, leads: string[], overrides: object = {}): Message => ({
  id,
  format: 'popup',
  closes: { button: true, dim: true, escape: true },
  blocks: [{ kind: 'buttons', buttons: [...leads.map((to) => ({ label: to, does: [{ kind: 'message' as const, id: to }] }))] }],
  ...overrides,
});
const codes = (flow: Flow): string[] => checkFlow(flow).map(({ code, message }) => `${message} ${code}`);

test('a loop of messages is nothing to complain about', () => {
  expect(codes({ start: 'a', messages: [popup('a', ['b']), popup('b', ['a'])] })).toEqual([]);
});

test('links to nowhere, messages nobody gets to, and buttons that do nothing are found', () => {
  const idle = popup('idle', [], { blocks: [{ kind: 'buttons', buttons: [{ label: 'x', does: [] }] }] });
  expect(codes({ start: 'a', messages: [popup('a', ['gone', 'idle']), popup('alone', ['a']), idle] })).toEqual([
    'a flow.unknownMessage',
    'alone flow.unreachable',
    'idle flow.deadEnd',
  ]);
});

test('a message that cannot be left is an error, unless a button closes it', () => {
  const closes = { button: false, dim: false, escape: false };
  const button = { label: 'Close', does: [{ kind: 'close' as const }] };
  expect(checkFlow({ start: 'a', messages: [popup('a', ['a'], { closes })] })).toMatchObject([
    { code: 'flow.noWayToClose', severity: 'error' },
  ]);
  expect(codes({ start: 'a', messages: [popup('a', [], { closes, blocks: [{ kind: 'buttons', buttons: [button] }] })] })).toEqual([]);
  // A click on the dim closes nothing where there is no dim.
  expect(codes({ start: 'a', messages: [popup('a', ['a'], { closes: { ...closes, dim: true }, dim: false })] })).toEqual([
    'a flow.noWayToClose',
  ]);
});

test('a tab leads to what it opens', () => {
  const tab = (opens: string): Message => ({ id: 't', format: 'tab', edge: 'end', text: 'Ask', opens });
  expect(codes({ start: 't', messages: [tab('a'), popup('a', ['a'])] })).toEqual([]);
  expect(codes({ start: 't', messages: [tab('b'), popup('a', ['a'])] })).toEqual(['t flow.unknownMessage', 'a flow.unreachable']);
});

describe('conversations', () => {
  const chat = (steps: object[]): Flow => ({
    start: 'c',
    messages: [{ id: 'c', format: 'chat', sender: { name: 'Jorun' }, conversation: { steps } } as Message],
  });
  const ask = (...then: string[]) => ({ kind: 'choice', field: 'x', options: then.map((to) => ({ label: to, then: to })) });

  test.each([
    {
      what: 'a branch that meets again',
      steps: [
        { id: 'a', says: '?', asks: ask('b', 'c') },
        { id: 'b', says: 'b', then: 'c' },
        { id: 'c', says: 'c' },
      ],
      found: [],
    },
    {
      what: 'a step nobody gets to',
      steps: [
        { id: 'a', says: 'a', then: 'end' },
        { id: 'b', says: 'b' },
      ],
      found: ['conversation.unreachable'],
    },
    {
      what: 'a step that is not there',
      steps: [{ id: 'a', says: 'a', then: 'x' }],
      found: ['conversation.unknownStep', 'conversation.neverEnds'],
    },
    { what: 'one that never ends', steps: [{ id: 'a', says: 'a', asks: ask('a', 'a') }], found: ['conversation.neverEnds'] },
    {
      what: 'two steps of one name',
      steps: [
        { id: 'a', says: 'a' },
        { id: 'a', says: 'b' },
      ],
      found: ['conversation.sameId'],
    },
  ])('$what', ({ steps, found }) => {
    expect(checkFlow(chat(steps)).map(({ code }) => code)).toEqual(found);
  });
});

test('a campaign with a single message becomes a flow that says the same', () => {
  const old = {
    name: 'Old',
    message: {
      format: 'popup',
      colour: '#2d4a43',
      blocks: [
        { kind: 'heading', text: 'Hello' },
        { kind: 'form', field: 'email', label: 'Email', submit: 'Send', thanks: 'Thanks' },
        { kind: 'button', label: 'Read', action: { kind: 'page', url: '/offers' } },
        { kind: 'button', label: 'No', action: { kind: 'close' } },
      ],
      closes: { button: true, dim: true, escape: true },
    },
  };
  const { flow } = upgradeCampaign(old) as { flow: unknown };
  expect(flowSchema().parse(flow)).toMatchObject({
    start: 'first',
    messages: [
      {
        format: 'popup',
        colour: '#2d4a43',
        blocks: [
          { kind: 'heading', text: 'Hello' },
          { kind: 'form', fields: [{ kind: 'email', name: 'email', label: 'Email', required: true }], submit: 'Send' },
          { kind: 'buttons', buttons: [{ label: 'Read', does: [{ kind: 'page', url: '/offers' }] }] },
          { kind: 'buttons', buttons: [{ label: 'No', quiet: true, does: [{ kind: 'close' }] }] },
        ],
      },
    ],
  });
  expect(upgradeCampaign({ name: 'New', flow })).toEqual({ name: 'New', flow });
});

test.each([
  [{ start: 'b', messages: [popup('a', [])] }, 'flow.start'],
  [{ start: 'a', messages: [popup('a', ['a']), popup('a', ['a'])] }, 'messages.sameId'],
  [{ start: 'a', messages: [popup('a', ['a'], { blocks: [{ kind: 'countdown', over: 'x' }] })] }, 'countdown.end'],
  [
    {
      start: 'a',
      messages: [
        popup('a', ['a'], { blocks: [{ kind: 'form', submit: 's', thanks: 't', fields: [{ kind: 'choice', name: 'a', label: 'b' }] }] }),
      ],
    },
    'field.options',
  ],
  [
    {
      start: 'a',
      messages: [
        popup('a', ['a'], {
          blocks: [{ kind: 'form', submit: 's', thanks: 't', fields: [{ kind: 'text', name: 'a', label: 'b', pattern: '(' }] }],
        }),
      ],
    },
    'pattern.unreadable',
  ],
  [
    {
      start: 'a',
      messages: [
        popup('a', ['a'], {
          blocks: [{ kind: 'buttons', buttons: [{ label: 'x', does: [{ kind: 'page', url: 'javascript:alert(1)' }] }] }],
        }),
      ],
    },
    'Invalid string',
  ],
])('bad flow %#: %s', (flow, message) => {
  const messages =
    flowSchema()
      .safeParse(flow)
      .error?.issues.map((issue) => issue.message) ?? [];
  expect(messages.some((one) => one.startsWith(message))).toBe(true);
});
