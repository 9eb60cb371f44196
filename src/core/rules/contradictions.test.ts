import { covers } from '../pages/covers';
import type { PagePattern } from '../pages/pattern';
import type { Moment } from '../moments/moment';
import type { PeopleCondition } from '../people/condition';
import { isExcepted, momentImpossible, momentsContradict, peopleContradict, peopleImpossible } from './contradictions';
import { alternatives } from '../logic/literals';
import { intervalsOf, overlap } from '../logic/intervals';

const literal = <T>(leaf: T, negated = false) => ({ leaf, negated, path: [] });
const people = (a: PeopleCondition, b: PeopleCondition, negated: { a?: boolean; b?: boolean } = {}): boolean =>
  peopleContradict(literal(a, negated.a), literal(b, negated.b)) !== undefined;
const like = (value: string): PagePattern => ({ op: 'like', value });

describe('two people conditions', () => {
  test.each<{ why: string; a: PeopleCondition; b: PeopleCondition; negated?: { a?: boolean; b?: boolean }; contradict: boolean }>([
    {
      why: 'ranges that exclude each other',
      a: { kind: 'visits', times: { min: 5 } },
      b: { kind: 'visits', times: { max: 2 } },
      contradict: true,
    },
    { why: 'ranges that meet', a: { kind: 'visits', times: { min: 2 } }, b: { kind: 'visits', times: { max: 2 } }, contradict: false },
    {
      why: 'more in a week than in a month',
      a: { kind: 'visits', times: { min: 5 }, within: 7 },
      b: { kind: 'visits', times: { max: 3 }, within: 30 },
      contradict: true,
    },
    {
      why: 'more in a month than in a week',
      a: { kind: 'visits', times: { min: 5 }, within: 30 },
      b: { kind: 'visits', times: { max: 3 }, within: 7 },
      contradict: false,
    },
    {
      why: 'a hut more often than any page',
      a: { kind: 'viewed', pages: [like('/huts/*')], times: { min: 4 } },
      b: { kind: 'viewed', times: { max: 2 } },
      contradict: true,
    },
    {
      why: 'one page more often than its section',
      a: { kind: 'viewed', pages: [like('/huts/upper-moss')], times: { min: 3 } },
      b: { kind: 'viewed', pages: [like('/huts/**')], times: { max: 1 } },
      contradict: true,
    },
    {
      why: 'two sections have nothing to do with each other',
      a: { kind: 'viewed', pages: [like('/huts/*')], times: { min: 4 } },
      b: { kind: 'viewed', pages: [like('/routes/*')], times: { max: 1 } },
      contradict: false,
    },
    {
      why: 'read deeper counts as read',
      a: { kind: 'read', scroll: 90, times: { min: 3 } },
      b: { kind: 'read', scroll: 50, times: { max: 1 } },
      contradict: true,
    },
    {
      why: 'an event with a property counts as the event',
      a: { kind: 'did', event: 'booking', where: [{ key: 'hut', test: { op: 'exists' } }] },
      b: { kind: 'did', event: 'booking', times: { max: 0 } },
      contradict: true,
    },
    {
      why: 'other events do not',
      a: { kind: 'did', event: 'booking' },
      b: { kind: 'did', event: 'quote', times: { max: 0 } },
      contradict: false,
    },
    { why: 'known and not known', a: { kind: 'known', is: true }, b: { kind: 'known', is: false }, contradict: true },
    {
      why: 'known, and ruled out not to be',
      a: { kind: 'known', is: true },
      b: { kind: 'known', is: false },
      negated: { b: true },
      contradict: false,
    },
    {
      why: 'the same, ruled out',
      a: { kind: 'tagged', tag: 'family' },
      b: { kind: 'tagged', tag: 'family' },
      negated: { b: true },
      contradict: true,
    },
    {
      why: 'a phone that is a desktop',
      a: { kind: 'device', category: ['phone'] },
      b: { kind: 'device', category: ['desktop'] },
      contradict: true,
    },
    { why: 'systems compare without case', a: { kind: 'device', os: ['ios'] }, b: { kind: 'device', os: ['iOS'] }, contradict: false },
    {
      why: 'two channels for one visit',
      a: { kind: 'source', channel: ['email'] },
      b: { kind: 'source', of: 'visit', channel: ['paid'] },
      contradict: true,
    },
    {
      why: 'two channels at some time',
      a: { kind: 'source', of: 'ever', channel: ['email'] },
      b: { kind: 'source', of: 'ever', channel: ['paid'] },
      contradict: false,
    },
    { why: 'two countries', a: { kind: 'location', countries: ['AT'] }, b: { kind: 'location', countries: ['DE'] }, contradict: true },
    {
      why: 'a country or a city elsewhere',
      a: { kind: 'location', countries: ['AT'] },
      b: { kind: 'location', countries: ['DE'], cities: ['Graz'] },
      contradict: false,
    },
    {
      why: 'two values of a cookie',
      a: { kind: 'cookie', name: 'a', test: { op: 'is', value: 'x' } },
      b: { kind: 'cookie', name: 'a', test: { op: 'is', value: 'y' } },
      contradict: true,
    },
    {
      why: 'a value that cannot start so',
      a: { kind: 'trait', key: 'plan', test: { op: 'oneOf', value: ['family', 'solo'] } },
      b: { kind: 'trait', key: 'plan', test: { op: 'starts', value: 'mem' } },
      contradict: true,
    },
    {
      why: 'a value ruled out by its own test',
      a: { kind: 'trait', key: 'plan', test: { op: 'is', value: 'family' } },
      b: { kind: 'trait', key: 'plan', test: { op: 'contains', value: 'fam' } },
      negated: { b: true },
      contradict: true,
    },
    {
      why: 'numbers apart',
      a: { kind: 'trait', key: 'n', test: { op: 'range', min: 5 } },
      b: { kind: 'trait', key: 'n', test: { op: 'range', max: 4 } },
      contradict: true,
    },
    {
      why: 'morning and evening',
      a: { kind: 'calendar', hours: ['08:00', '12:00'] },
      b: { kind: 'calendar', hours: ['18:00', '20:00'] },
      contradict: true,
    },
    {
      why: 'a night that reaches into the morning',
      a: { kind: 'calendar', hours: ['08:00', '12:00'] },
      b: { kind: 'calendar', hours: ['22:00', '09:00'] },
      contradict: false,
    },
    { why: 'weekdays apart', a: { kind: 'calendar', weekdays: [1] }, b: { kind: 'calendar', weekdays: [2] }, contradict: true },
    {
      why: 'Monday night is Tuesday morning',
      a: { kind: 'calendar', weekdays: [1], hours: ['22:00', '04:00'] },
      b: { kind: 'calendar', weekdays: [2], hours: ['01:00', '03:00'] },
      contradict: false,
    },
    {
      why: 'zones that differ are not compared',
      a: { kind: 'calendar', hours: ['08:00', '09:00'], zone: 'Asia/Tokyo' },
      b: { kind: 'calendar', hours: ['18:00', '20:00'] },
      contradict: false,
    },
    {
      why: 'over before the other begins',
      a: { kind: 'calendar', until: '2026-12-01' },
      b: { kind: 'calendar', from: '2026-12-01' },
      contradict: true,
    },
  ])('$why: contradict $contradict', ({ a, b, negated, contradict }) => {
    expect(people(a, b, negated)).toBe(contradict);
    expect(
      people(b, a, { ...(negated?.b === undefined ? {} : { a: negated.b }), ...(negated?.a === undefined ? {} : { b: negated.a }) }),
    ).toBe(contradict);
  });

  test.each<{ leaf: PeopleCondition; negated?: boolean; impossible: boolean }>([
    { leaf: { kind: 'visits', times: { min: 0 } }, negated: true, impossible: true },
    { leaf: { kind: 'visits', times: { min: 1 } }, negated: true, impossible: false },
    { leaf: { kind: 'calendar', until: '2026-01-01' }, impossible: true },
    { leaf: { kind: 'calendar', until: '2027-01-01' }, impossible: false },
    { leaf: { kind: 'location' }, impossible: true },
    { leaf: { kind: 'score', points: { max: -1 } }, impossible: false },
  ])('$leaf (negated: $negated) can never hold: $impossible', ({ leaf, negated, impossible }) => {
    expect(peopleImpossible(literal(leaf, negated), Date.parse('2026-11-25')) !== undefined).toBe(impossible);
  });
});

describe('two moments', () => {
  test.each<{ wanted: Moment; ruledOut: Moment; contradict: boolean }>([
    { wanted: { kind: 'scroll', atLeast: 50 }, ruledOut: { kind: 'scroll', atLeast: 40 }, contradict: true },
    { wanted: { kind: 'scroll', atLeast: 40 }, ruledOut: { kind: 'scroll', atLeast: 50 }, contradict: false },
    { wanted: { kind: 'delay', seconds: 20 }, ruledOut: { kind: 'delay', seconds: 10, of: 'visit' }, contradict: true },
    { wanted: { kind: 'delay', seconds: 20, of: 'visit' }, ruledOut: { kind: 'delay', seconds: 10 }, contradict: false },
    { wanted: { kind: 'delay', seconds: 20, counting: 'engaged' }, ruledOut: { kind: 'delay', seconds: 20 }, contradict: true },
    { wanted: { kind: 'delay', seconds: 20 }, ruledOut: { kind: 'delay', seconds: 20, counting: 'engaged' }, contradict: false },
    { wanted: { kind: 'clicks', atLeast: 3 }, ruledOut: { kind: 'clicks', atLeast: 2, of: 'visit' }, contradict: true },
    {
      wanted: { kind: 'visible', selector: '#a', share: 60, seconds: 3 },
      ruledOut: { kind: 'visible', selector: '#a', share: 50 },
      contradict: true,
    },
    { wanted: { kind: 'visible', selector: '#a', share: 60 }, ruledOut: { kind: 'visible', selector: '#b', share: 50 }, contradict: false },
    { wanted: { kind: 'exit' }, ruledOut: { kind: 'open' }, contradict: true },
  ])('$wanted without $ruledOut contradict: $contradict', ({ wanted, ruledOut, contradict }) => {
    expect(momentsContradict(literal(wanted), literal(ruledOut, true)) !== undefined).toBe(contradict);
  });

  test('an open page cannot be ruled out', () => {
    expect(momentImpossible(literal<Moment>({ kind: 'open' }, true))).toBeDefined();
    expect(momentImpossible(literal<Moment>({ kind: 'delay', seconds: 1 }, true))).toBeUndefined();
  });
});

describe('patterns', () => {
  test.each<{ wide: PagePattern; narrow: PagePattern; is: boolean }>([
    { wide: like('/huts/**'), narrow: like('/huts/*'), is: true },
    { wide: like('/huts/**'), narrow: { op: 'is', value: '/Huts/' }, is: true },
    { wide: like('/huts/*'), narrow: like('/huts/**'), is: false },
    { wide: like('/huts/**'), narrow: { op: 'starts', value: '/huts/upper' }, is: true },
    { wide: like('/huts/**'), narrow: { op: 'starts', value: '/huts' }, is: false },
    { wide: like('/**'), narrow: { op: 'contains', value: 'x' }, is: true },
    { wide: { op: 'starts', value: '/huts' }, narrow: { op: 'is', value: '/hutsmen' }, is: true },
    { wide: { op: 'contains', value: 'ut' }, narrow: { op: 'ends', value: 'huts' }, is: true },
    { wide: { part: 'title', op: 'contains', value: 'MOSS' }, narrow: { part: 'title', op: 'is', value: 'Upper Moss' }, is: true },
    { wide: { part: 'title', op: 'contains', value: 'moss' }, narrow: { op: 'is', value: '/moss' }, is: false },
    { wide: { part: 'parameter', name: 'ref', op: 'exists' }, narrow: { part: 'parameter', name: 'ref', op: 'is', value: 'a' }, is: true },
    { wide: { part: 'parameter', name: 'ref', op: 'exists' }, narrow: { part: 'parameter', name: 'Ref', op: 'exists' }, is: false },
    { wide: { set: 'a' }, narrow: { set: 'a' }, is: true },
    { wide: { set: 'a' }, narrow: like('/huts'), is: false },
  ])('$wide covers $narrow: $is', ({ wide, narrow, is }) => {
    expect(covers(wide, narrow)).toBe(is);
  });

  test('a page is excepted by a pattern that covers it or that it matches', () => {
    expect(isExcepted({ op: 'is', value: '/huts/closed' }, [{ op: 'ends', value: 'closed' }])).toBe(true);
    expect(isExcepted(like('/huts/*'), [{ op: 'is', value: '/huts/closed' }])).toBe(false);
    expect(isExcepted({ set: 'a' }, [like('/**')])).toBe(false);
  });
});

test('expressions become alternatives, with negations carried to the leaves', () => {
  const [a, b, c] = [{ id: 'a' }, { id: 'b' }, { id: 'c' }];
  const say = (expr: Parameters<typeof alternatives<{ id: string }>>[0]): string | undefined =>
    alternatives(expr)
      ?.map((term) => term.map(({ leaf, negated }) => (negated ? `!${leaf.id}` : leaf.id)).join('&'))
      .join(' | ');
  expect(say({ all: [a, { any: [b, c] }] })).toBe('a&b | a&c');
  expect(say({ none: [{ all: [a, b] }] })).toBe('!a | !b');
  expect(say({ none: [{ any: [a, b] }, c] })).toBe('!a&!b&!c');
  expect(say({ any: [] })).toBe('');
  expect(alternatives({ any: [] })).toEqual([]);
  expect(alternatives({ all: [] })).toEqual([[]]);
  expect(alternatives({ all: Array.from({ length: 8 }, () => ({ any: [a, b] })) })).toBeUndefined();
});

test('what lies outside a range of whole numbers has no gap and no overlap', () => {
  const outside = intervalsOf({ min: 2, max: 4 }, { negated: true, isWhole: true, least: 0 });
  expect(outside).toEqual([
    { min: 0, max: 1 },
    { min: 5, max: Infinity },
  ]);
  expect(overlap(outside, intervalsOf({ min: 2, max: 4 }, { negated: false, isWhole: true, least: 0 }))).toBe(false);
  expect(intervalsOf({ min: 0 }, { negated: true, isWhole: true, least: 0 })).toEqual([]);
});
