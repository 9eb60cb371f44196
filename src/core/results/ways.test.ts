import { waysOf } from './ways';

const startOf = (variant: string | null): string => (variant === 'b' ? 'second' : 'first');

test('showings are counted by message, by what leads on, and by where and how they ended', () => {
  expect(
    waysOf(
      [
        { variant: null, path: [], ending: 'dismissed', showings: 50 },
        { variant: null, path: ['second'], ending: 'sent', showings: 20 },
        { variant: null, path: ['second', 'first', 'second'], ending: 'left', showings: 3 },
        { variant: 'b', path: [], ending: 'pressed', showings: 7 },
      ],
      startOf,
    ),
  ).toEqual({
    showings: 80,
    seen: { first: 73, second: 30 },
    went: [
      { from: 'first', to: 'second', showings: 23 },
      { from: 'second', to: 'first', showings: 3 },
    ],
    ended: { first: { dismissed: 50 }, second: { sent: 20, left: 3, pressed: 7 } },
  });
});

test('nobody went anywhere where there was no showing', () => {
  expect(waysOf([], startOf)).toEqual({ showings: 0, seen: {}, went: [], ended: {} });
});
