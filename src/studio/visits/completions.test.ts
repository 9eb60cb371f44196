import type { Recorded } from '../rule/recorded';
import { completionsFor, termWords } from './completions';

const recorded: Recorded = {
  pages: [
    { path: '/', views: 900 },
    { path: '/huts/upper-moss', views: 500 },
    { path: '/huts/tarn', views: 300 },
    { path: '/booking/dates', views: 120 },
  ],
  segments: [{ id: 'seg_a', name: 'Comparing huts' }],
  campaigns: [{ id: 'camp_a', name: 'Quiet weeks' }],
  sources: [{ value: 'newsletter', times: 40 }],
  utmCampaigns: [],
  countries: [{ value: 'NO', times: 700 }],
  cities: [{ value: 'Dunbeck', times: 90 }],
  sets: [],
  places: [],
  events: [],
  traits: [],
  tags: [],
  languages: [],
};
const terms = (typed: string): string[] => completionsFor(typed, recorded).map(({ term }) => `${term.kind}=${term.value}`);

test.each([
  ['/bo', 'page=/bo*'],
  ['/huts/upper-moss', 'page=/huts/upper-moss'],
  ['/huts/**', 'page=/huts/**'],
  ['news', 'source=newsletter'],
  ['compar', 'segment=seg_a'],
  ['pho', 'device=phone'],
  ['dunb', 'place=Dunbeck'],
  ['converted quiet', 'outcome=converted:camp_a'],
  ['2 min', 'longer=120'],
  ['90 s', 'longer=90'],
  ['1:30', 'longer=90'],
  ['2,5', 'longer=150'],
  ['mobile', 'device=phone'],
  ['from Norway', 'place=NO'],
  ['organic', 'source=search'],
  ['in comparing huts', 'segment=seg_a'],
  ['/huts/tarn', 'page=/huts/tarn'],
  ['new visitors', 'who={"kind":"visits","times":{"max":1}}'],
  ['not desktop', 'who={"none":[{"kind":"device","category":["desktop"]}]}'],
  ['german', 'who={"kind":"language","is":["de"]}'],
  ['google', 'who={"kind":"source","referrer":{"op":"contains","value":"google"}}'],
  ['not /booking/dates', 'who={"kind":"viewed","pages":[{"op":"like","value":"/booking/dates"}],"times":{"max":0},"within":"visit"}'],
  ['3 pages in this visit', 'who={"kind":"viewed","times":{"min":3},"within":"visit"}'],
])('%p offers %p first', (typed, first) => {
  expect(terms(typed)[0]).toBe(first);
});

test('a page that was recorded is offered beside its section', () => {
  expect(terms('moss')).toEqual(['page=/huts/upper-moss']);
  expect(terms('huts')).toEqual(expect.arrayContaining(['page=/huts/**', 'page=/huts/tarn']));
});

test('nothing typed offers something of each kind, nothing that fits offers nothing', () => {
  expect(new Set(completionsFor('', recorded).map(({ term }) => term.kind))).toEqual(
    new Set(['page', 'segment', 'source', 'device', 'place', 'outcome']),
  );
  expect(terms('zzzz')).toEqual([]);
  expect(terms('0 min')).toEqual([]);
});

test('terms read as words', () => {
  const name = (): string => 'Quiet weeks';
  expect(termWords({ kind: 'outcome', value: 'shown:camp_a' }, name)).toBe('was shown Quiet weeks');
  expect(termWords({ kind: 'outcome', value: 'converted' }, name)).toBe('converted');
  expect(termWords({ kind: 'longer', value: '90' }, name)).toBe('at least 1 min 30 s long');
  expect(termWords({ kind: 'who', value: '{"none":[{"kind":"device","category":["phone"]}]}' }, name)).toBe(
    'are not among those who use phone',
  );
  expect(termWords({ kind: 'shorter', value: '30' }, name)).toBe('at most 30 s long');
});
