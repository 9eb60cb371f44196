import fc from 'fast-check';
import { people } from '../rules/testing/arbitrary';
import { leavesOf } from '../logic/expr';
import { DAY_MS } from '../time/day';
import { buildColumns } from './columns';
import { judgeByRecords } from './judge';
import { recorded } from './testing/recorded';

const known = { sets: {}, segments: {} };
/** How long after a view began, in ms: mostly within it, now and then days later. */
const later = fc.oneof(
  fc.constant(0),
  fc.integer({ min: 0, max: 3_600_000 }),
  fc.integer({ min: DAY_MS - 1, max: DAY_MS + 1 }),
  fc.integer({ min: 0, max: 40 * DAY_MS }),
);

test('whatever was asked before, in whatever order, a condition says what it says of whoever is asked for the first time', () => {
  let [views, lasting] = [0, 0];
  fc.assert(
    fc.property(
      fc.array(recorded, { minLength: 1, maxLength: 3 }),
      people,
      fc.array(fc.record({ nth: fc.nat(), later }), { minLength: 1, maxLength: 24 }),
      (visitors, condition, asks) => {
        const { columns, origin } = buildColumns(visitors);
        if (columns.viewAt.length === 0) return;
        const judge = judgeByRecords(origin, known);
        for (const { nth, later: ms } of asks) {
          const visit = nth % columns.visitAt.length;
          const [first, end] = [columns.firstView[visit] as number, columns.firstView[visit + 1] as number];
          if (first === end) continue;
          const view = first + (nth % (end - first));
          const now = (columns.viewAt[view] as number) + ms;
          const at = { visit, view, now };
          views++;
          expect(judge.holds(condition, at)).toBe(judgeByRecords(origin, known).holds(condition, at));
          for (const { leaf } of leavesOf(condition)) {
            const { value, until } = judge.standing(leaf, at);
            expect(until).toBeGreaterThanOrEqual(now);
            if (until <= now) continue;
            lasting++;
            const last = { ...at, now: until === Infinity ? now + 90 * DAY_MS : until - 1 };
            expect(judgeByRecords(origin, known).standing(leaf, last).value).toBe(value);
          }
        }
      },
    ),
    { numRuns: 600 },
  );
  expect(views).toBeGreaterThan(2000);
  expect(lasting).toBeGreaterThan(1000);
});
