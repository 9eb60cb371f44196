import { buildColumns } from './columns';
import { judgeByRecords } from './judge';
import type { RecordedVisitor } from './recorded';
import type { CampaignToRehearse } from './rehearse';
import { rehearsePortfolio } from './portfolio';

/** Visitors with one visit of one page view of a minute each. */
const visitors = Array.from({ length: 5 }, (_, index): RecordedVisitor => ({
  id: index + 1,
  visitIds: [`v${index}`],
  viewIds: [[`w${index}`]],
  timelines: [[{ signals: [], leave: 60_000 }]],
  record: {
    changes: [],
    responses: [],
    visits: [
      {
        at: 1_000_000 * (index + 1),
        source: { channel: 'direct', utm: {} },
        events: [],
        views: [{ at: 1_000_000 * (index + 1), url: `https://shop.example/${index < 3 ? 'huts' : 'prices'}`, engaged: 60, scroll: 0 }],
      },
    ],
  },
}));
const after = (id: string, seconds: number, place: CampaignToRehearse['place'] = 'overlay', page = '/**'): CampaignToRehearse => ({
  id,
  place,
  rule: { pages: { on: [{ op: 'like', value: page }] }, moment: { kind: 'delay', seconds } },
});

function report(campaigns: CampaignToRehearse[], budget = {}) {
  const { columns, origin } = buildColumns(visitors);
  const input = { columns, judge: judgeByRecords(origin, { sets: {}, segments: {} }), sets: {}, budget };
  const stages = [...rehearsePortfolio(campaigns, input)].filter((stage) => stage !== undefined);
  const last = stages.at(-1);
  if (!last) throw new Error('no stage');
  expect(stages.map(({ done }) => done)).toEqual(Array.from({ length: last.runs }, (_, index) => index + 1));
  return last;
}

test('a place that is held takes from whoever comes later, and nothing from whoever stands elsewhere', () => {
  const { shares, showings, visits, of } = report([after('first', 5), after('second', 20), after('corner', 20, 'corner')]);
  expect(shares).toEqual([
    { campaign: 'first', together: 5, alone: 5, toOrder: 0, toBudget: 0 },
    { campaign: 'second', together: 0, alone: 5, toOrder: 5, toBudget: 0 },
    { campaign: 'corner', together: 5, alone: 5, toOrder: 0, toBudget: 0 },
  ]);
  expect([showings, visits, of]).toEqual([10, 5, 5]);
});

test('the budget takes what the order left', () => {
  const { shares } = report([after('huts', 5, 'overlay', '/huts'), after('corner', 20, 'corner')], { perVisit: 1 });
  expect(shares).toEqual([
    { campaign: 'huts', together: 3, alone: 3, toOrder: 0, toBudget: 0 },
    { campaign: 'corner', together: 2, alone: 5, toOrder: 0, toBudget: 3 },
  ]);
});

test('no campaigns show nothing', () => {
  expect(report([])).toEqual({ shares: [], showings: 0, visits: 0, of: 5, done: 2, runs: 2 });
});
