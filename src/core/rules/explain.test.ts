import { openTimeline, takeSignal } from '../moments/timeline';
import { emptyPacing, noteShowing } from '../pacing/pacing';
import type { Visitor } from '../history/visitor';
import type { Rule } from './schema';
import type { Situation } from './explain';
import { explainRule } from './explain';

const NOW = Date.parse('2026-11-25T10:00:00Z');
const visitor: Visitor = {
  visits: [
    {
      at: NOW - 60_000,
      source: { channel: 'email', utm: {} },
      views: [{ at: NOW - 30_000, url: 'https://s.example/huts/a', engaged: 5, scroll: 10 }],
      events: [],
    },
  ],
  known: false,
  traits: { plan: 'family' },
  tags: [],
  responses: [],
  device: { category: 'phone' },
};
const segments = {
  s: { lookback: 30, people: { kind: 'viewed' as const, pages: [{ op: 'like' as const, value: '/huts/*' }], times: { min: 2 } } },
};

function situation(overrides: Partial<Situation> = {}): Situation {
  return {
    subject: { visitor, now: NOW, lookback: 540, sets: {}, segments },
    page: { url: 'https://s.example/huts/a' },
    line: openTimeline(),
    openedAt: NOW - 9000,
    t: 9000,
    campaign: 'c',
    record: emptyPacing(0),
    ...overrides,
  };
}
const cause = (rule: Rule, overrides: Partial<Situation> = {}) => {
  const { cause: found } = explainRule(rule, situation(overrides));
  return (
    found && {
      family: found.family,
      path: found.node.path.join('.'),
      value: found.node.value,
      asked: found.node.asked,
      found: found.node.found,
    }
  );
};

test('a rule that shows has no cause of silence', () => {
  expect(explainRule({ moment: { kind: 'delay', seconds: 5 } }, situation()).value).toBe(true);
  expect(cause({ moment: { kind: 'delay', seconds: 5 } })).toBeUndefined();
});

test('the first leaf that fails is named, with what was asked and what was found', () => {
  expect(
    cause({
      people: {
        all: [
          { kind: 'device', category: ['phone'] },
          { kind: 'known', is: true },
        ],
      },
    }),
  ).toEqual({ family: 'people', path: 'people.all.1', value: false, asked: 'are known', found: 'not known' });
  expect(
    cause({
      moment: {
        all: [
          { kind: 'delay', seconds: 5 },
          { kind: 'scroll', atLeast: 40 },
        ],
      },
    }),
  ).toMatchObject({ family: 'moment', path: 'moment.all.1', asked: 'scroll to 40 %', found: '0 %' });
  expect(cause({ pages: { on: [{ op: 'is', value: '/book' }] } })).toMatchObject({ family: 'pages', path: 'pages.on.0', asked: '/book' });
});

test('inside a none it is the leaf that holds', () => {
  expect(
    cause({
      people: {
        none: [
          { kind: 'known', is: true },
          { kind: 'trait', key: 'plan', test: { op: 'is', value: 'family' } },
        ],
      },
    }),
  ).toMatchObject({ path: 'people.none.1', value: true, found: '"family"' });
});

test('a segment is looked into', () => {
  expect(cause({ people: { kind: 'segment', id: 's' } })).toMatchObject({
    value: false,
    asked: 'viewed /huts/* at least 2 times',
    found: '1 views',
  });
  expect(cause({ people: { kind: 'segment', id: 'gone' } })).toMatchObject({ value: null, found: 'the segment no longer exists' });
});

test('what is unknown is told as such', () => {
  expect(cause({ people: { kind: 'location', countries: ['AT'] } })).toMatchObject({ value: null, found: 'no location found' });
});

test('a hidden tab, pacing, the budget and a place that is held are causes too', () => {
  const hidden = openTimeline();
  takeSignal(hidden, { t: 100, s: 'hide' });
  expect(cause({}, { line: hidden })).toMatchObject({ family: 'moment', asked: 'a tab that is visible', found: 'hidden' });
  const record = emptyPacing(0);
  noteShowing(record, 'c', NOW - 3_600_000);
  expect(cause({ pacing: { again: { days: 7 } } }, { record })).toMatchObject({
    family: 'pacing',
    path: 'pacing',
    found: expect.stringContaining('blocked until 2026-12-02') as string,
  });
  expect(cause({ pacing: { again: 'always' } }, { record, budget: { perVisit: 1 } })).toMatchObject({ family: 'pacing', path: 'budget' });
  expect(cause({}, { isPlaceFree: false })).toMatchObject({ family: 'pacing', path: 'place', found: 'held by another message' });
});
