import { withInput } from './input';

const inputs = (moves: number[], leave = 60_000, signals: Parameters<typeof withInput>[0] = []) =>
  withInput(signals, moves, leave).flatMap(({ t, s }) => (s === 'input' ? [t] : []));

test('input is told at once after a pause, then at most every five seconds, with the end of a burst', () => {
  expect(inputs([1000])).toEqual([1000]);
  expect(inputs([1000, 1400, 2000])).toEqual([1000, 2000]);
  expect(inputs([1000, 3000, 5000, 6000, 7000])).toEqual([1000, 6000, 7000]);
  expect(inputs([1000, 20_000])).toEqual([1000, 20_000]);
});

test('the end of a burst is not told where the page is left before it has settled', () => {
  expect(inputs([1000, 2000], 4400)).toEqual([1000]);
});

test('scrolling, clicking and moving to leave are input, and it stands before what comes of it', () => {
  const click = { t: 3000, s: 'click' as const, on: [], what: 'p' };
  expect(withInput([click], [], 10_000)).toEqual([{ t: 3000, s: 'input' }, click]);
});

test('the end of a burst is told late: it counts from the last signal before', () => {
  const report = { t: 3000, s: 'event' as const, name: 'seen', props: {} };
  expect(withInput([report], [1000, 1200], 10_000)).toEqual([{ t: 1000, s: 'input' }, report, { t: 3000, s: 'input' }]);
});
