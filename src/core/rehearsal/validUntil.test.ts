import fc from 'fast-check';
import { visitorAt } from '../history/record';
import type { VisitorRecord } from '../history/record';
import { conditionHolds } from '../people/condition';
import { condition, NOW, visitor } from '../rules/testing/arbitrary';
import { compileValidUntil } from './validUntil';

const DAY = 86_400_000;

test('an answer stands until the instant that is named', () => {
  fc.assert(
    fc.property(
      condition,
      visitor,
      fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 4 }),
      fc.integer({ min: -3 * DAY, max: 40 * DAY }),
      (asked, who, shares, later) => {
        const { known, traits, tags: _tags, score: _score, ...rest } = who;
        const at = who.visits[0]?.at ?? 0;
        const record: VisitorRecord = {
          ...rest,
          changes: [
            ...Object.entries(traits).map(([key, value]) => ({ at: at + 5000, kind: 'trait' as const, key, value })),
            ...(known ? [{ at: at + 9000, kind: 'identity' as const, key: 'email', value: 'x' }] : []),
          ],
        };
        const from = NOW + later;
        // The page that asks stays the current one meanwhile: visits and views do not grow.
        const seen = visitorAt(record, from);
        const judge = (now: number) =>
          conditionHolds(asked, {
            visitor: {
              ...visitorAt(
                { ...record, visits: seen.visits.map((visit, index) => ({ ...visit, events: record.visits[index]?.events ?? [] })) },
                now,
              ),
              visits: seen.visits.map((visit, index) => ({ ...visit, events: record.visits[index]?.events ?? [] })),
              location: seen.location,
              weather: who.weather,
            },
            now,
            lookback: 540,
            sets: {},
            segments: {},
          });
        const until = compileValidUntil(asked, {})(from, record);
        const first = judge(from);
        for (const share of shares) {
          const now = Math.floor(from + share * Math.min(until - from - 1, 60 * DAY));
          if (now >= from && now < until) expect(judge(now)).toBe(first);
        }
      },
    ),
    { numRuns: 3000 },
  );
});

test('a test on the days since a date is never kept', () => {
  const asked = { kind: 'trait' as const, key: 'joined', test: { op: 'daysAgo' as const, min: 3 } };
  expect(compileValidUntil(asked, {})(NOW, { visits: [], changes: [], responses: [] })).toBe(NOW);
});
