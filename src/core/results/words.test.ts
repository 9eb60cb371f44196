import type { ResultRow } from '@/core/results/report';
import { answerWords, closedWords, percent, points } from './words';

const row = (value: string, met: number, successes: number, against: ResultRow['against'] = null): ResultRow => ({
  value,
  met,
  shown: met,
  successes,
  rate: met ? successes / met : null,
  interval: null,
  valueMean: null,
  against,
  control: null,
});
const event = { kind: 'event' as const, event: 'booking', days: 3 };

test('numbers are told with as many places as say something', () => {
  expect([percent(0.0412), percent(0.0035), percent(0), percent(1)]).toEqual(['4.1 %', '0.35 %', '0.0 %', '100.0 %']);
  expect([points(0.0171), points(-0.003), points(0), points(-0.00001)]).toEqual(['+1.7', '−0.30', '0', '0']);
});

const always = { looks: 'always' as const, strata: 1, leftOut: 0 };

test('nothing is called more or fewer but what is clear', () => {
  const against = { ...always, value: 'nothing', difference: 0.017, span: [0.003, 0.031] as const, alpha: 0.05 };
  const clear = answerWords([row('nothing', 2420, 99), row('shown', 9620, 558, against)], event);
  expect(clear.before).toBe('Of the control group, 4.1 % do “booking”. Of those who are shown it, 5.8 %:');
  expect([clear.difference, clear.isClear]).toEqual(['1.7 points more, somewhere between +0.30 and +3.1', true]);
  const open = answerWords([row('nothing', 20, 1), row('shown', 80, 6, { ...against, span: [-0.2, 0.3] })], event);
  expect(open.difference).toMatch(/^no difference is clear yet/);
  expect(open.difference).not.toMatch(/more|fewer|better|worse/);
  const harm = answerWords(
    [row('nothing', 2420, 99), row('shown', 9620, 58, { ...against, difference: -0.02, span: [-0.03, -0.01] })],
    event,
  );
  expect(harm.difference).toBe('2.0 points fewer, somewhere between −3.0 and −1.0');
  // The same for one look only: said to be that, and called nothing.
  const once = answerWords([row('nothing', 2420, 99), row('shown', 9620, 558, { ...against, looks: 'once' })], event);
  expect([once.difference, once.isClear]).toEqual(['+1.7 points, for one look somewhere between +0.30 and +3.1', false]);
  const few = answerWords([row('nothing', 5, 1), row('shown', 6, 2, { ...against, span: [-0.7, 0.6] })], event);
  expect(few.difference).toBe('too few yet to say more');
});

test('of several compared the clear one is told, and nobody at all is said so', () => {
  const one = { ...always, value: 'nothing', difference: 0.01, span: [-0.01, 0.03] as const, alpha: 0.025 };
  const two = { ...always, value: 'nothing', difference: 0.03, span: [0.01, 0.05] as const, alpha: 0.025 };
  expect(answerWords([row('nothing', 900, 30), row('A', 900, 40, one), row('B', 900, 60, two)], event).before).toContain('“B”');
  expect(answerWords([], event).before).toBe('Nobody has met it in this period.');
  expect(answerWords([row('shown', 40, 4)], { kind: 'form' }).before).toBe('Of 40 who met it, 10.0 % send the form.');
});

test('who closed it is told by which way, the most frequent first', () => {
  expect(closedWords(0, [])).toBe('Nobody closed it.');
  expect(
    closedWords(1312, [
      { how: 'button', visitors: 1200 },
      { how: 'escape', visitors: 112 },
    ]),
  ).toBe('1,312 closed it: 1,200 by its close button, 112 with Escape.');
});
