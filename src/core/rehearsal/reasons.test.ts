import type { RecordedVisitor } from './recorded';
import { reasonsAt } from './reasons';
import { idsAsNames } from '../pages/names';

const AT = Date.parse('2026-11-20T10:00:00Z');
const view = (at: number, path: string) => ({ at, url: `https://tarn.example${path}`, engaged: 40, scroll: 60 });
const visitor: RecordedVisitor = {
  id: 1,
  record: {
    visits: [{ at: AT, source: { channel: 'email', utm: {} }, views: [view(AT, '/huts/a'), view(AT + 60_000, '/huts/b')], events: [] }],
    changes: [],
    responses: [],
  },
  visitIds: ['v'],
  viewIds: [['a', 'b']],
  timelines: [
    [
      { signals: [{ t: 100, s: 'scroll', depth: 60 }], leave: 50_000 },
      {
        signals: [
          { t: 1000, s: 'scroll', depth: 30 },
          { t: 30_000, s: 'exit' },
        ],
        leave: 40_000,
      },
    ],
  ],
};
const rule = {
  people: { kind: 'viewed' as const, pages: [{ op: 'like' as const, value: '/huts/*' }], times: { min: 2 } },
  moment: { all: [{ kind: 'exit' as const }, { kind: 'delay' as const, seconds: 20 }] },
  pacing: { again: { days: 7 } },
};
const known = { rules: [{ campaign: 'c', rule }], showings: [], sets: {}, segments: {}, places: {}, budget: {}, names: idsAsNames };

test('at the instant of the exit it shows; before, the moment is why not', () => {
  const at = (viewNumber: number, t: number, more: Partial<typeof known> = {}) =>
    reasonsAt(visitor, { visit: 0, view: viewNumber, t }, { ...known, ...more })?.[0]?.explanation;
  expect(at(1, 30_000)?.value).toBe(true);
  expect(at(1, 29_000)?.cause?.family).toBe('moment');
  expect(at(0, 10_000)?.cause).toMatchObject({ family: 'people', node: { found: expect.stringContaining('1') as string } });
  const shown = [{ campaign: 'c', at: AT - 86_400_000, outcomes: [] }];
  expect(at(1, 30_000, { showings: shown as never })?.cause?.family).toBe('pacing');
  // What showed at that very instant is being explained, and does not block itself.
  expect(at(1, 30_000, { showings: [{ campaign: 'c', at: AT + 90_000, outcomes: [] }] as never })?.value).toBe(true);
});

test('a view that was not recorded has no reasons', () => {
  expect(reasonsAt(visitor, { visit: 0, view: 2, t: 0 }, known)).toBeUndefined();
  expect(reasonsAt(visitor, { visit: 3, view: 0, t: 0 }, known)).toBeUndefined();
});
