import fc from 'fast-check';
import { pacing, rule } from '../rules/testing/arbitrary';
import type { Rule } from '../rules/schema';
import { leavesOf } from '../logic/expr';
import type { ConditionAnswers } from './answers';
import { answerEverywhere, judgeByAnswers, packAnswers, unpackAnswers } from './answers';
import { buildColumns } from './columns';
import { decodeColumns, encodeColumns } from './encode';
import { judgeByRecords } from './judge';
import { rehearsePlainly } from './plain';
import type { RecordedVisitor } from './recorded';
import { rehearse } from './rehearse';
import { reportOn } from './report';
import { budget, campaigns, recorded } from './testing/recorded';
import { steps, withoutEach } from './variants';

const known = { sets: {}, segments: {} };

function runToEnd<T>(steps: Generator<unknown, T>): T {
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

test('a rehearsal gives the showings that the plain interpreter gives, sure and possible', () => {
  fc.assert(
    fc.property(
      fc.array(recorded, { minLength: 1, maxLength: 4 }),
      campaigns,
      budget,
      fc.boolean(),
      (visitors, rules, limit, unknownShows) => {
        const { columns, origin } = buildColumns(visitors);
        const showings = rehearse({
          columns,
          judge: judgeByRecords(origin, known),
          campaigns: rules,
          budget: limit,
          sets: {},
          unknownShows,
        });
        const named = showings.map(({ campaign, visit, view, at }) => {
          const from = visitors[origin.visitor[visit] as number];
          return {
            visitor: from?.id,
            visit: from?.visitIds[origin.visit[visit] as number],
            view: from?.viewIds[origin.visit[visit] as number]?.[origin.view[view] as number],
            campaign,
            at,
          };
        });
        expect(named).toEqual(rehearsePlainly(visitors, { ...known, campaigns: rules, budget: limit, unknownShows }));
      },
    ),
    { numRuns: 800 },
  );
});

test('a rehearsal by answers that were sent gives what one by the histories gives', async () => {
  let undecided = 0;
  await fc.assert(
    fc.asyncProperty(
      fc.array(recorded, { minLength: 1, maxLength: 4 }),
      campaigns,
      budget,
      fc.boolean(),
      async (visitors, rules, limit, unknownShows) => {
        const { columns, origin } = buildColumns(visitors);
        const input = { columns, campaigns: rules, budget: limit, sets: {}, unknownShows };
        const judge = judgeByRecords(origin, known);
        const answersTo = new Map<string, ConditionAnswers>();
        for (const { leaf } of rules.flatMap(({ rule: { people } }) => leavesOf(people))) {
          const answers = runToEnd(answerEverywhere(leaf, { columns, judge }));
          if (!answers) return void undecided++;
          answersTo.set(JSON.stringify(leaf), await unpackAnswers(await packAnswers(answers)));
        }
        expect(rehearse({ ...input, judge: judgeByAnswers(answersTo) })).toEqual(rehearse({ ...input, judge }));
      },
    ),
    { numRuns: 800 },
  );
  expect(undecided).toBeLessThan(400);
});

test('a column that is packed and unpacked is the same', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(recorded, { maxLength: 4 }), async (visitors) => {
      const { columns } = buildColumns(visitors);
      expect(await decodeColumns(await encodeColumns(columns))).toEqual(columns);
    }),
    { numRuns: 60 },
  );
});

const one = (signals: RecordedVisitor['timelines'][0], views: string[]): RecordedVisitor => ({
  id: 1,
  record: {
    visits: [
      {
        at: 0,
        views: views.map((path, index) => ({ at: index * 60_000, url: `https://s.example${path}`, engaged: 5, scroll: 50 })),
        events: [],
      },
    ],
    changes: [],
    responses: [],
  },
  visitIds: ['v'],
  viewIds: [views.map((_, index) => `w${index}`)],
  timelines: [signals],
});
const asked: Rule = {
  people: {
    all: [
      { kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }], times: { min: 2 } },
      { kind: 'known', is: false },
    ],
  },
  pages: { on: [{ op: 'like', value: '/huts/**' }], except: [{ op: 'is', value: '/huts/closed' }] },
  moment: { all: [{ kind: 'exit' }, { kind: 'scroll', atLeast: 40 }] },
  pacing: { again: { days: 7 } },
};
const visit = one(
  [
    {
      leave: 30_000,
      signals: [
        { t: 1000, s: 'scroll', depth: 50 },
        { t: 9000, s: 'exit' },
      ],
    },
    { leave: 30_000, signals: [{ t: 5000, s: 'exit' }] },
    {
      leave: 30_000,
      signals: [
        { t: 1000, s: 'scroll', depth: 60 },
        { t: 9000, s: 'exit' },
      ],
    },
  ],
  ['/huts/a', '/huts/b', '/huts/c'],
);

test('the report says what each condition takes away, and where it showed', () => {
  const { columns, origin } = buildColumns([visit]);
  const report = reportOn({ id: 'c', place: 'overlay', rule: asked }, { columns, judge: judgeByRecords(origin, known), sets: {} });
  expect({ sure: report.sure, possible: report.possible, at: report.showings[0]?.at }).toEqual({ sure: 1, possible: 1, at: 129_000 });
  expect(report.steps.map(({ what, left }) => [what, left])).toEqual([
    ['all visits', 1],
    ['viewed /huts/* at least 2 times', 1],
    ['are not known yet', 1],
    ['on /huts/**', 1],
    ['except /huts/closed', 1],
    ['move to leave', 1],
    ['scroll to 40 %', 1],
    ['not again for 7 days, until a conversion', 1],
  ]);
  const without = Object.fromEntries(report.without.map(({ path, showings }) => [path.join('.'), showings]));
  expect(without).toMatchObject({ pacing: 1, 'moment.all.1': 1, 'moment.all.0': 1, 'people.all.0': 1 });
  expect(report.distributions).toMatchObject({
    secondsOnPage: [9],
    secondsBeforeLeaving: [21],
    devices: { unknown: 1 },
    pages: [{ url: 'https://s.example/huts/c', showings: 1 }],
  });
});

test('a campaign rehearsed among live ones takes from them and yields to them', () => {
  const { columns, origin } = buildColumns([visit]);
  const live = [{ id: 'first', place: 'overlay' as const, rule: { moment: { kind: 'delay' as const, seconds: 2 } } }];
  const report = reportOn(
    { id: 'c', place: 'overlay', rule: { moment: { kind: 'open' }, pacing: { again: 'always' } } },
    { columns, judge: judgeByRecords(origin, known), sets: {}, live },
  );
  // It holds the overlay from the opening of each of the three pages, so the live one never gets it.
  expect(report.sure).toBe(3);
  expect(report.collisions).toEqual([{ campaign: 'first', alone: 1, together: 0 }]);
});

test('without each condition once, and grown condition by condition', () => {
  expect(withoutEach(asked).map(({ path }) => path.join('.'))).toEqual([
    'people.all.0',
    'people.all.1',
    'pages.on',
    'pages.except.0',
    'moment.all.0',
    'moment.all.1',
    'pacing',
  ]);
  expect(withoutEach(asked)[0]?.rule.people).toEqual({ all: [{ kind: 'known', is: false }] });
  expect(steps({})).toHaveLength(2);
  fc.assert(
    fc.property(rule, pacing, (any, paced) => expect(steps({ ...any, pacing: paced }).at(-1)?.rule).toMatchObject({ pacing: paced })),
  );
});

test('what just missed is told with the condition it missed by', () => {
  const early = one(
    [
      {
        leave: 9000,
        signals: [
          { t: 1000, s: 'scroll', depth: 90 },
          { t: 4000, s: 'exit' },
        ],
      },
    ],
    ['/huts/a'],
  );
  const { columns, origin } = buildColumns([early]);
  const rule: Rule = { moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 20 }, { kind: 'scroll', atLeast: 40 }] } };
  const report = reportOn({ id: 'c', place: 'overlay', rule }, { columns, judge: judgeByRecords(origin, known), sets: {} });
  expect(report.sure).toBe(0);
  expect(report.nearMisses).toEqual([{ visit: 0, view: 0, at: 4000, path: ['moment', 'all', 1] }]);
});

describe('columns of a large recording', () => {
  const view = (signals: unknown): RecordedVisitor =>
    ({
      id: 1,
      record: {
        visits: [{ at: 0, views: [{ at: 0, url: 'https://refuge.example/', title: '', labels: [] }] }],
        known: false,
        traits: {},
        tags: [],
        responses: [],
      },
      timelines: [[{ signals, leave: 1_000_000 }]],
      changes: [],
    }) as unknown as RecordedVisitor;

  test('more different clicks than two bytes number each keep their own selector, in memory and over the wire', async () => {
    const count = 70_000;
    const { columns } = buildColumns([view(Array.from({ length: count }, (_, t) => ({ t, s: 'event', name: `n${t}` })))]);
    const back = await decodeColumns(await encodeColumns(columns));
    for (const one of [columns, back])
      expect([0, 65_535, 65_536, count - 1].map((at) => one.arguments[one.argument[at] as number])).toEqual(
        [0, 65_535, 65_536, count - 1].map((at) => ({ s: 'event', name: `n${at}` })),
      );
  });

  test('a signal without a number is refused by its name', () => {
    expect(() => buildColumns([view([{ t: 1, s: 'shake' }])])).toThrow('met the signal "shake", expected one of scroll, click');
  });
});
