import { stepDraft } from './useDraft';

const begin = { past: [], now: { n: 0 }, future: [], changedAt: 0 };
const set = (n: number, at: number) => ({ kind: 'set' as const, value: { n }, at });

test('undo and redo go back and forth; a change after an undo forgets what could be redone', () => {
  let history = stepDraft(stepDraft(begin, set(1, 10_000)), set(2, 20_000));
  history = stepDraft(history, { kind: 'undo' });
  expect(history.now).toEqual({ n: 1 });
  expect(stepDraft(history, { kind: 'redo' }).now).toEqual({ n: 2 });
  history = stepDraft(history, set(3, 30_000));
  expect(stepDraft(history, { kind: 'redo' })).toBe(history);
  expect(stepDraft(stepDraft(history, { kind: 'undo' }), { kind: 'undo' }).now).toEqual({ n: 0 });
});

test('what is typed in one go is undone in one go', () => {
  const history = [set(1, 10_000), set(2, 10_200), set(3, 10_400)].reduce<Parameters<typeof stepDraft>[0]>(stepDraft, begin);
  expect(stepDraft(history, { kind: 'undo' }).now).toEqual({ n: 0 });
});

test('with nothing to undo nothing happens', () => {
  expect(stepDraft(begin, { kind: 'undo' })).toBe(begin);
});

test('a change may be made of the draft as it is by then, and one that changes nothing is no step', () => {
  const empty = { past: [], now: { words: 'a', count: 1 }, future: [], changedAt: 0 };
  const one = stepDraft(empty, { kind: 'set', value: (now) => ({ ...now, words: `${now.words}b` }), at: 10_000 });
  const two = stepDraft(one, { kind: 'set', value: (now) => ({ ...now, count: now.count + 1 }), at: 20_000 });
  expect(two.now).toEqual({ words: 'ab', count: 2 });
  expect(stepDraft(two, { kind: 'set', value: (now) => now, at: 30_000 })).toBe(two);
  expect(stepDraft(two, { kind: 'undo' }).now).toEqual({ words: 'ab', count: 1 });
});
