import { openTimeline } from '../moments/timeline';
import type { Candidate } from './decider';
import { createDecider } from './decider';
import { blockedUntil, emptyPacing, noteOutcome, noteShowing } from './pacing';
import { replayView } from './replay';

const DAY = 86_400_000;
const campaign = (overrides: Partial<Candidate> = {}): Candidate => ({
  id: 'a',
  place: 'overlay',
  moment: { kind: 'open' },
  pacing: {},
  fits: () => true,
  ...overrides,
});
const view = { at: 1_000_000, signals: [], leave: 60_000, before: {} };

test('the site’s order decides, and the next one waits until the place is free', () => {
  const candidates = [campaign({ id: 'first' }), campaign({ id: 'second' })];
  const shows = replayView(view, { candidates, record: emptyPacing(0), closes: { first: { after: 4000, as: 'dismissed' } } });
  expect(shows.map(({ campaign: id, at }) => [id, at - view.at])).toEqual([
    ['first', 0],
    ['second', 4000],
  ]);
});

test('two places are filled a second apart, because the gap is at least that', () => {
  const candidates = [campaign({ id: 'first' }), campaign({ id: 'second', place: 'corner' })];
  expect(replayView(view, { candidates, record: emptyPacing(0) }).map(({ at }) => at - view.at)).toEqual([0, 1000]);
});

test('an exit before the delay is spent', () => {
  const moment = { all: [{ kind: 'exit' as const }, { kind: 'delay' as const, seconds: 20 }] };
  const early = { ...view, signals: [{ t: 5000, s: 'exit' as const }] };
  const late = { ...view, signals: [...early.signals, { t: 25_000, s: 'exit' as const }] };
  expect(replayView(early, { candidates: [campaign({ moment })], record: emptyPacing(0) })).toEqual([]);
  expect(replayView(late, { candidates: [campaign({ moment })], record: emptyPacing(0) })).toHaveLength(1);
});

test('nothing appears in a hidden tab; it does when the tab is visible again', () => {
  const hidden = { ...view, before: { hidden: true }, signals: [{ t: 9000, s: 'show' as const }] };
  expect(replayView(hidden, { candidates: [campaign()], record: emptyPacing(0) })[0]?.at).toBe(view.at + 9000);
});

test('what is not known to fit does not show', () => {
  expect(replayView(view, { candidates: [campaign({ fits: () => null })], record: emptyPacing(0) })).toEqual([]);
});

test('a fact that comes late lets what stays true show', () => {
  let fits: boolean | null = null;
  const decider = createDecider({
    candidates: [campaign({ fits: () => fits })],
    line: openTimeline(),
    openedAt: 0,
    record: emptyPacing(0),
  });
  expect(decider.wake(0)).toEqual([]);
  fits = true;
  expect(decider.wake(800)).toEqual(['a']);
});

test('signals out of order and with negative times are taken at the instant of the one before', () => {
  const decider = createDecider({
    candidates: [campaign({ moment: { kind: 'exit' } })],
    line: openTimeline(),
    openedAt: 0,
    record: emptyPacing(0),
  });
  decider.signal({ t: 5000, s: 'input' });
  expect(decider.signal({ t: -3000, s: 'exit' })).toEqual(['a']);
});

describe('pacing', () => {
  const shown = (at: number) => {
    const record = emptyPacing(0);
    noteShowing(record, 'a', at);
    return record;
  };
  test.each([
    { pacing: { again: { days: 7 } }, until: 1000 + 7 * DAY },
    { pacing: { again: 'visit' as const }, until: Infinity },
    { pacing: { again: 'never' as const }, until: Infinity },
    { pacing: { again: 'always' as const }, until: -Infinity },
    { pacing: { again: 'always' as const, stop: { shown: 1 } }, until: Infinity },
  ])('$pacing blocks until $until after a showing at 1000', ({ pacing, until }) => {
    expect(blockedUntil(pacing, 'a', shown(1000))).toBe(until);
  });

  test('a conversion stops it for good unless the rule says otherwise', () => {
    const record = shown(1000);
    noteOutcome(record, 'a', 'converted');
    expect(blockedUntil({ again: 'always' }, 'a', record)).toBe(Infinity);
    expect(blockedUntil({ again: 'always', stop: { converted: false } }, 'a', record)).toBe(-Infinity);
  });

  test('alone asks about other campaigns of the visit', () => {
    expect(blockedUntil({ alone: true }, 'b', shown(1000))).toBe(Infinity);
    expect(blockedUntil({ alone: true, again: 'always' }, 'a', shown(1000))).toBe(-Infinity);
  });
});

test('what showed in a page view does not show again when another release takes over', () => {
  const shownHere = new Set<string>();
  const begin = () =>
    createDecider({
      candidates: [campaign({ pacing: { again: 'always' } })],
      line: openTimeline(),
      openedAt: 0,
      record: emptyPacing(0),
      shownHere,
    });
  expect(begin().wake(0)).toEqual(['a']);
  expect(begin().wake(0)).toEqual([]);
});
