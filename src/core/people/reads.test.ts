import fc from 'fast-check';
import type { Visitor } from '../history/visitor';
import { condition, NOW, visitor } from '../rules/testing/arbitrary';
import { conditionHolds } from './condition';
import { readsOf } from './reads';
import type { Subject } from './subject';

const seed = Number(process.env['FAST_CHECK_SEED'] ?? 20261126);

test(`what a condition does not say it reads does not change its answer (seed ${seed})`, () => {
  let cut = 0;
  fc.assert(
    fc.property(condition, visitor, (asked, whole) => {
      const reads = readsOf([asked]);
      const less: Visitor = {
        ...whole,
        visits: whole.visits.map((visit) => ({
          ...visit,
          views: reads.views ? visit.views : [],
          events: reads.events ? visit.events : [],
        })),
        ...(reads.profile ? {} : { traits: {}, tags: [], known: false }),
        ...(reads.responses ? {} : { responses: [] }),
      };
      if (!reads.views) cut++;
      const subjectOf = (one: Visitor): Subject => ({ visitor: one, now: NOW, lookback: 30, sets: {}, segments: {}, places: {} });
      expect({ asked, value: conditionHolds(asked, subjectOf(less)) }).toEqual({ asked, value: conditionHolds(asked, subjectOf(whole)) });
    }),
    { seed, numRuns: 3000 },
  );
  expect(cut).toBeGreaterThan(1000);
});
