import { shareOf } from './Lines';

test('of two ways the one that more took is the wider, wherever they begin', () => {
  const went = [
    { from: 'ask', to: 'seldom', showings: 1 },
    { from: 'seldom', to: 'end', showings: 1 },
    { from: 'ask', to: 'often', showings: 6 },
  ];
  const share = (from: string, to: string) => shareOf({ showings: 7, went }, from, to);
  expect(share('ask', 'seldom')).toBe(share('seldom', 'end'));
  expect(share('ask', 'often')).toBeGreaterThan(share('seldom', 'end'));
  expect(share('often', 'ask')).toBe(0);
  expect(shareOf({ showings: 0, went: [] }, 'ask', 'often')).toBe(0);
});
