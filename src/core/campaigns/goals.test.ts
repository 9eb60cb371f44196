import { DAY_MS } from '../time/day';
import { owedShowing, reachesGoal } from './goals';

const page = { kind: 'open' as const, url: 'https://tarnhollow.example/book/done?night=1', title: 'Booked', labels: [] };
const booked = { kind: 'event' as const, name: 'booking' };

test('an event reaches the goal of its name, and no other', () => {
  expect(reachesGoal({ kind: 'event', event: 'booking', days: 3 }, booked)).toBe(true);
  expect(reachesGoal({ kind: 'event', event: 'course_enrolled', days: 3 }, booked)).toBe(false);
  expect(reachesGoal({ kind: 'event', event: 'booking', days: 3 }, page)).toBe(false);
});

test('a page opened reaches the goal that one of its patterns fits', () => {
  const goal = {
    kind: 'page' as const,
    days: 3,
    pages: [
      { op: 'is' as const, value: '/thanks' },
      { op: 'starts' as const, value: '/book/done' },
    ],
  };
  expect(reachesGoal(goal, page)).toBe(true);
  expect(reachesGoal(goal, { ...page, url: 'https://tarnhollow.example/book' })).toBe(false);
  expect(reachesGoal(goal, booked)).toBe(false);
});

test('forms belong to their showing already', () => {
  expect(reachesGoal({ kind: 'form' }, page)).toBe(false);
  expect(reachesGoal({ kind: 'form' }, booked)).toBe(false);
});

test('a goal is owed to the last showing before it, within its days', () => {
  const at = Date.UTC(2026, 2, 1, 12);
  const showings = [{ at: at - 2 * DAY_MS }, { at: at - 5000 }, { at: at - DAY_MS }, { at: at + 1 }];
  expect(owedShowing(showings, { at, days: 3 })).toBe(showings[1]);
  expect(owedShowing(showings, { at: at - 5001, days: 3 })).toBe(showings[2]);
  expect(owedShowing([{ at }], { at, days: 0.5 })).toEqual({ at });
  expect(owedShowing([{ at: at - DAY_MS }], { at, days: 1 })).toBeUndefined();
  expect(owedShowing([{ at: at - DAY_MS + 1 }], { at, days: 1 })).toBeDefined();
  expect(owedShowing([], { at, days: 1 })).toBeUndefined();
});
