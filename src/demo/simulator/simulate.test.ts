import { pieceItemSchema } from '@/core/wire/items';
import { simulate } from './simulate';

const UNTIL = Date.parse('2026-11-25T12:00:00Z');
const options = { seed: 'test', visits: 300, days: 60, until: UNTIL, origin: 'http://tarnhollow.example' };
const visits = simulate(options);

test('the same seed gives the same visits', () => {
  expect(simulate(options)).toEqual(visits);
  expect(simulate({ ...options, seed: 'other' })).not.toEqual(visits);
});

test('every visit lies in its days, oldest first, and page views follow each other', () => {
  expect(visits).toHaveLength(300);
  for (const [index, visit] of visits.entries()) {
    expect(visit.at).toBeGreaterThanOrEqual(visits[index - 1]?.at ?? 0);
    expect(visit.at).toBeGreaterThan(UNTIL - 61 * 86_400_000);
    for (const [at, view] of visit.views.entries())
      expect(view.at).toBeGreaterThan((visit.views[at - 1]?.at ?? 0) + (visit.views[at - 1]?.leaveMs ?? 0));
  }
});

test('timelines are what the page script could have sent: in order, in range, and taken by the collector’s own schema', () => {
  for (const { id: visit, views } of visits) {
    for (const { id: view, signals, leaveMs, scroll, engagedMs } of views) {
      const piece = { kind: 'piece', view, visit, piece: 0, signals, engaged: engagedMs, scroll: Math.round(scroll), leave: leaveMs };
      expect(pieceItemSchema.safeParse(piece).success).toBe(true);
      expect(signals.every(({ t }, index) => t >= (signals[index - 1]?.t ?? 0) && t <= leaveMs)).toBe(true);
      expect(engagedMs).toBeLessThanOrEqual(leaveMs);
    }
  }
});

test('people come back, and some book', () => {
  expect(new Set(visits.map(({ person }) => person.browserId)).size).toBeLessThan(visits.length);
  expect(visits.flatMap(({ events }) => events).some(({ name }) => name === 'booking')).toBe(true);
});
