import { emptyPacing, noteShowing } from '@/core/pacing/pacing';
import type { State } from './state';
import { mergePacing } from './decide/merge';
import { continueOrBeginVisit, openState } from './state';
import type { Store } from './store';

const MINUTE = 60_000;

function memoryStore(): Store {
  const kept = new Map<string, string>();
  return {
    read: <T>(name: string) => (kept.has(name) ? (JSON.parse(kept.get(name) ?? '') as T) : undefined),
    write: (name, value) => void kept.set(name, JSON.stringify(value)),
    clear: () => undefined,
    onOtherTab: () => () => undefined,
  };
}

function stateAt(now: number): State {
  return openState(memoryStore(), now);
}

test('a browser is remembered, and its visit goes on for 30 minutes', () => {
  const store = memoryStore();
  const first = openState(store, 1_000_000);
  const second = openState(store, 1_000_000 + 30 * MINUTE);
  expect(second.browser).toBe(first.browser);
  expect(second.visit.id).toBe(first.visit.id);
});

test('after more than 30 minutes without activity a new visit begins and the budget of the visit with it', () => {
  const state = stateAt(1_000_000);
  const before = state.visit.id;
  noteShowing(state.pacing, 'a', 1_000_000);
  continueOrBeginVisit(state, 1_000_000 + 30 * MINUTE + 1);
  expect(state.visit.id).not.toBe(before);
  expect(state.pacing.visit).toMatchObject({ showings: 0, campaigns: [] });
  expect(state.pacing.campaigns['a']?.shown).toBe(1);
});

test('a clock that was set back begins a new visit instead of keeping one open for ever', () => {
  const state = stateAt(100_000_000);
  const before = state.visit.id;
  continueOrBeginVisit(state, 1000);
  expect(state.visit.id).not.toBe(before);
});

test('of what the server and this browser remember the higher number wins', () => {
  const record = emptyPacing(0);
  noteShowing(record, 'a', 5000);
  mergePacing(record, {
    campaigns: { a: { shown: 3, dismissed: 1, converted: 0, lastAt: 4000 }, b: { shown: 1, dismissed: 0, converted: 1, lastAt: 9000 } },
    lastAt: 9000,
  });
  expect(record.campaigns).toMatchObject({ a: { shown: 3, dismissed: 1, lastAt: 5000 }, b: { converted: 1 } });
  expect(record.lastAt).toBe(9000);
});

test.each([{}, [null], { browser: 'x' }, { browser: '0'.repeat(36), visit: {} }, 'text', 7])(
  'a stored state of %j is thrown away',
  (kept) => {
    const store = memoryStore();
    store.write('state', kept);
    const state = openState(store, 1_000_000);
    expect(state).toMatchObject({ browser: expect.stringMatching(/^[0-9a-f-]{36}$/) as string, pacing: { campaigns: {} } });
    // And the new one is kept.
    expect(openState(store, 1_000_000).browser).toBe(state.browser);
  },
);
