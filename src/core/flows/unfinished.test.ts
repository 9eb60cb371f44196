import type { Block } from '../messages/block';
import { blockKinds } from '../messages/block';
import { STARTING_POINTS } from '../startingPoints/points';
import type { Flow } from './flow';
import { FIRST_TEXT, unfinishedIn } from './unfinished';

const NOW = Date.UTC(2026, 4, 1);
const GONE = 'g'.repeat(22);
const around = { now: NOW, values: ['first_name', 'town', 'last_booking_hut'], hasPicture: (hash: string) => hash !== GONE };
const flowOf = (...blocks: Block[]): Flow => ({
  start: 'a',
  messages: [{ id: 'a', format: 'popup', closes: { button: true, dim: true, escape: true }, blocks }],
});
const found = (...blocks: Block[]) => unfinishedIn({ flow: flowOf(...blocks), goal: { kind: 'reply' } }, around);
const text = (words: string): Block => ({ kind: 'text', text: words });

test.each<[string, Block, string]>([
  ['the words it began with', text(FIRST_TEXT), 'write what there is to gain'],
  ['a heading with nothing in it', { kind: 'heading', text: ' ' }, 'has a heading with nothing in it (message a)'],
  [
    'a countdown of another year',
    { kind: 'countdown', until: '2020-01-01T00:00:00Z', over: 'Over' },
    'an instant that is over (message a)',
  ],
  ['a code that nobody wrote', { kind: 'coupon', code: 'CODE', label: 'Copy' }, 'offers the code “CODE” (message a)'],
  [
    'a picture that was taken away',
    { kind: 'picture', src: `https://c.example/i/site/${GONE}.webp`, alt: '', width: 9, height: 9 },
    'a picture that is not there',
  ],
  [
    'a picture that nobody chose',
    { kind: 'picture', src: '/picture.svg', alt: '', width: 400, height: 240 },
    'a picture that is not there',
  ],
  ['a value with a comma alone', text('Hello {first name, walker}'), 'shows {first name, walker} with its braces'],
  [
    'a value that is written together',
    text('Hello {firstname}'),
    'puts in {firstname}, which no visitor has, so nothing stands there: did you mean {first name}?',
  ],
  ['a value of nobody', text('{shoe size, or none}'), 'choose another value'],
])('%s is told with its mend', (_what, block, words) => {
  expect(found(block)).toEqual([expect.stringContaining(words)]);
});

test('a goal of forms needs a form or a conversation', () => {
  const of = (flow: Flow) => unfinishedIn({ flow, goal: { kind: 'form' } }, around);
  const form = blockKinds()
    .find(({ kind }) => kind === 'form')
    ?.make() as Block;
  expect(of(flowOf(text('Hello')))).toEqual([expect.stringContaining('has no form, so nobody can reach its goal')]);
  expect(of(flowOf(form))).toEqual([]);
  expect(of(flowOf({ kind: 'columns', start: [form], end: [] } as Block))).toEqual([]);
});

test('what is finished is left in peace', () => {
  expect(
    found(
      text('Hello {first name, or there}, {{twice}} from {town}'),
      { kind: 'countdown', until: '2026-06-01T00:00:00Z', over: 'Over' },
      { kind: 'picture', src: 'https://c.example/i/site/hhhhhhhhhhhhhhhhhhhhhh.webp', alt: '', width: 9, height: 9 },
      { kind: 'coupon', code: 'LANTERN-10', label: 'Copy' },
    ),
  ).toEqual([]);
  const everything = { ...around, hasPicture: () => true, values: [...around.values, 'plan'] };
  for (const { id, document } of STARTING_POINTS) expect({ id, found: unfinishedIn(document, everything) }).toEqual({ id, found: [] });
});
