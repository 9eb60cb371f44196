import { buildColumns } from '../rehearsal/columns';
import { judgeByRecords } from '../rehearsal/judge';
import type { RecordedVisitor } from '../rehearsal/recorded';
import type { Rule } from '../rules/schema';
import { DAY_MS } from '../time/day';
import type { ForetoldDay, Past, RecordedMeeting } from './foretold';
import { foretell } from './foretold';

const START = Date.parse('2026-11-01T00:00:00Z');
const noon = (day: number): number => START + day * DAY_MS + DAY_MS / 2;
const RULE: Rule = { moment: { kind: 'delay', seconds: 5 }, pacing: { again: { days: 1 }, stop: { dismissed: 1 } } };

/** One visit of one page a day, each so long. */
const visitor = (id: number, days: readonly number[], leave = 20_000): RecordedVisitor => ({
  id,
  record: {
    visits: days.map((day) => ({
      at: noon(day),
      views: [{ at: noon(day), url: 'https://site.example/', engaged: 10, scroll: 0 }],
      events: [],
    })),
    changes: [],
    responses: [],
  },
  visitIds: days.map((day) => `${id}-${day}`),
  viewIds: days.map((day) => [`${id}-${day}-0`]),
  timelines: days.map(() => [{ signals: [], leave }]),
});
const met = (id: number, day: number, more: Partial<RecordedMeeting> = {}): RecordedMeeting => ({
  visitor: id,
  at: noon(day) + 5000,
  release: 2,
  ...more,
});

function foretold(
  visitors: readonly RecordedVisitor[],
  meetings: readonly RecordedMeeting[],
  { past = {}, others = [] as string[] }: { past?: Record<number, Past>; others?: string[] } = {},
): ForetoldDay[] {
  const { columns, origin } = buildColumns(visitors);
  const steps = foretell(
    {
      columns,
      judge: judgeByRecords(origin, { sets: {}, segments: {} }),
      sets: {},
      campaigns: [...others, 'camp'].map((id) => ({ id, place: 'overlay', rule: id === 'camp' ? RULE : { moment: { kind: 'open' } } })),
    },
    {
      campaign: 'camp',
      met: meetings,
      pastOf: (id) => past[id] ?? { met: [], answered: [] },
      release: 2,
      zone: 'UTC',
      from: START - DAY_MS / 2,
      to: START + 10 * DAY_MS + DAY_MS / 2,
    },
  );
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

test('what came as foretold is said day by day, of whole days alone, and needs no reason', () => {
  const days = foretold([visitor(1, [-1, 1, 2, 10]), visitor(2, [1])], [met(1, -1), met(1, 1), met(1, 2), met(1, 10), met(2, 1)]);
  expect(days).toEqual([
    { day: '2026-11-02', rehearsed: 2, met: 2, because: null },
    { day: '2026-11-03', rehearsed: 1, met: 1, because: null },
  ]);
});

test('what visitors met before and what they answered keeps the rule from showing, as it did', () => {
  const again = visitor(1, [1, 2, 3]);
  expect(foretold([again], []).map(({ rehearsed }) => rehearsed)).toEqual([1, 1, 1]);
  const dismissed = { at: noon(1) + 8000, campaign: 'camp', outcome: 'dismissed' as const };
  expect(foretold([again], [], { past: { 1: { met: [], answered: [dismissed] } } }).map(({ day }) => day)).toEqual(['2026-11-02']);
  // Met some hours before the first rehearsed visit: not again for a day.
  const before = { met: [{ at: noon(1) - DAY_MS / 2, campaign: 'camp' }], answered: [] };
  expect(foretold([again], [], { past: { 1: before } }).map(({ day }) => day)).toEqual(['2026-11-03', '2026-11-04']);
});

test('where a day came otherwise, each meeting has the reason that it has', () => {
  const because = (visitors: readonly RecordedVisitor[], meetings: readonly RecordedMeeting[], others: string[] = []) =>
    foretold(visitors, meetings, { others })[0]?.because;
  const none = { otherRelease: 0, leftAtOnce: 0, closedEarlier: 0, missing: 0, unforeseen: 0 };
  expect(because([visitor(1, [1])], [])).toEqual({ ...none, missing: 1 });
  expect(because([visitor(1, [1], 5200)], [])).toEqual({ ...none, leftAtOnce: 1 });
  expect(because([visitor(1, [1], 3000)], [met(1, 1)])).toEqual({ ...none, unforeseen: 1 });
  expect(because([visitor(1, [1], 3000)], [met(1, 1, { release: 1 })])).toEqual({ ...none, otherRelease: 1 });
  // The other one stands in its place from the first instant on, if nobody closes it.
  expect(because([visitor(1, [1])], [met(1, 1)], ['first'])).toEqual({ ...none, closedEarlier: 1 });
  // At another instant than foretold it is both: one that is missing and one that nobody foresaw, and as many as foretold.
  expect(foretold([visitor(1, [1])], [met(1, 1, { at: noon(1) + 60_000 })])).toMatchObject([{ rehearsed: 1, met: 1, because: null }]);
});
