import type { Visit } from '../history/visitor';
import { merged, namesIn } from './merge';
import { readsOfValues, valueNames, valuesOf, withSetIds } from './values';

const DAY = 86_400_000;
const NOW = Date.UTC(2026, 3, 20, 12);
const view = (path: string, title: string, at: number) => ({ url: `https://huts.example${path}`, title, at, engaged: 1, scroll: 0 });
const visit = (at: number, given: Partial<Visit> = {}): Visit => ({ at, views: [], events: [], ...given });
const sets = { S1: [{ op: 'like' as const, value: '/huts/*' }] };
const of = (visits: readonly Visit[], traits: Record<string, unknown> = {}) => ({ visits, traits });
const say = (visitor: Parameters<typeof valuesOf>[0], ...wanted: string[]) => valuesOf(visitor, { wanted, now: NOW, sets });

test('traits and the place are put in by their names, a trait before the place, and only what is wanted leaves', () => {
  const visitor = {
    visits: [],
    traits: { 'First Name': 'Runa', plan: 3, member: true, city: 'Bergen' },
    location: { city: 'Oslo', country: 'NO' },
  };
  expect(say(visitor, 'first_name', 'plan', 'city', 'town', 'country', 'nothing', 'member')).toEqual({
    first_name: 'Runa',
    plan: '3',
    city: 'Bergen',
    town: 'Oslo',
    country: 'NO',
  });
  expect(say(of([]))).toEqual({});
  expect(merged('{first name, or you} in {city, or town}', say(visitor, 'first_name', 'city'))).toBe('Runa in Bergen');
});

test.each([
  [{ channel: 'email' as const, utm: { source: 'spring letter' } }, 'spring letter'],
  [{ channel: 'referral' as const, referrer: 'peaks.example', utm: {} }, 'peaks.example'],
  [{ channel: 'search' as const, utm: {} }, 'search'],
  [{ channel: 'direct' as const, utm: {} }, undefined],
])('who came by %j came from %s', (source, said) => {
  expect(say(of([visit(NOW, { source })]), 'source')['source']).toBe(said);
});

test.each([
  [[NOW], undefined],
  [[NOW - 3 * DAY - 1000, NOW], '3'],
  [[NOW - DAY + 1, NOW], '0'],
])('visits at %j: %s days since the last', (starts, said) => {
  expect(say(of(starts.map((at) => visit(at))), 'days_since_last_visit')['days_since_last_visit']).toBe(said);
});

test('the page of a set viewed most or last is called by its title, and the one they are on is not meant', () => {
  const views = [
    view('/huts/tarn', 'Tarn hut – Huts', NOW - 9),
    view('/huts/birk', 'Birk hut | Huts', NOW - 8),
    view('/huts/tarn', 'Tarn hut – Huts', NOW - 7),
    view('/huts/fell', 'Fell-side hut', NOW - 6),
    view('/about', 'About', NOW - 5),
    view('/huts/col', 'Col hut', NOW),
  ];
  expect(say(of([visit(NOW - 9, { views })]), 'most_viewed_s1', 'last_viewed_s1', 'most_viewed_gone')).toEqual({
    most_viewed_s1: 'Tarn hut',
    last_viewed_s1: 'Fell-side hut',
  });
});

test('an event says what its newest occurrence said', () => {
  const events = (hut: string, at: number) => [{ name: 'Booking done', at, props: { 'Hut name': hut, nights: 2, open: true } }];
  const visits = [visit(NOW - 2 * DAY, { events: events('Tarn', NOW - 2 * DAY) }), visit(NOW, { events: events('Birk', NOW) })];
  expect(say(of(visits), 'last_booking_done_hut_name', 'last_booking_done_nights', 'last_booking_done_open', 'last_x')).toEqual({
    last_booking_done_hut_name: 'Birk',
    last_booking_done_nights: '2',
  });
});

test('a release names sets by their ids, whatever they come to be called', () => {
  const flow = { texts: ['{Most viewed our huts, or the mountains}', '{last viewed Routes}', '{first name, or you}'] };
  const named = withSetIds(flow, new Map([['our_huts', 'S1']]));
  expect(named.texts).toEqual(['{Most viewed S1, or the mountains}', '{last viewed Routes}', '{first name, or you}']);
  expect(namesIn(named)).toEqual(['first_name', 'last_viewed_routes', 'most_viewed_s1']);
  expect(withSetIds(flow, new Map())).toBe(flow);
});

test('of a history no more is read than the values need', () => {
  expect(readsOfValues([])).toEqual({ views: false, events: false, profile: false, responses: false });
  expect(readsOfValues(['first_name'])).toMatchObject({ views: false, events: false, profile: true });
  expect(readsOfValues(['last_viewed_s1'])).toMatchObject({ views: true, events: false });
  expect(readsOfValues(['last_booking_hut'])).toMatchObject({ views: false, events: true });
});

test('what is offered can be written in a text and is found again', () => {
  const names = valueNames({ traits: ['First_Name', 'a,b'], sets: ['Our huts'], events: [{ name: 'booking', prop: 'hut' }] });
  expect(names).toEqual([
    'first name',
    'town',
    'country',
    'source',
    'days since last visit',
    'most viewed our huts',
    'last viewed our huts',
    'last booking hut',
  ]);
  expect(namesIn(names.map((name) => `{${name}, or x}`))).toHaveLength(names.length);
});
