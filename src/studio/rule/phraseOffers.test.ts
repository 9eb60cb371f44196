import { parseRule } from '@/core/rules/parseRule';
import type { Rule } from '@/core/rules/schema';
import { peopleOffers, phraseOffers } from './phraseOffers';
import type { Recorded } from './recorded';

const recorded: Recorded = {
  pages: [
    { path: '/', views: 900 },
    { path: '/huts/moss', views: 500 },
    { path: '/book/pay', views: 120 },
  ],
  segments: [{ id: 'seg_a', name: 'Comparing huts' }],
  campaigns: [{ id: 'camp_a', name: 'Quiet weeks' }],
  sets: [{ id: 'set_news', name: 'News pages' }],
  places: [{ id: 'place_a', name: 'Near the huts' }],
  sources: [{ value: 'newsletter', times: 40 }],
  utmCampaigns: [{ value: 'first-snow', times: 30 }],
  countries: [{ value: 'NO', times: 700 }],
  cities: [{ value: 'Dunbeck', times: 90 }],
  events: [{ value: 'newsletter_signup', times: 12 }],
  traits: [],
  tags: [{ value: 'has-list', times: 9 }],
  languages: [],
};
const names = {
  segment: () => 'Comparing huts',
  set: () => 'News pages',
  place: () => 'Near the huts',
  campaign: () => 'Quiet weeks',
};
const offers = (typed: string) => phraseOffers(typed, recorded, names);
const first = (typed: string): Rule | undefined => offers(typed)[0]?.addTo({});

test('a number is no part of another: what a unit says comes before a name with those digits in it, and before it has its unit', () => {
  const withNumber = {
    ...recorded,
    campaigns: [
      { id: 'camp_n', name: 'Start 1796106492005' },
      { id: 'camp_y', name: 'Autumn 2026' },
    ],
  };
  const words = (typed: string): string[] =>
    phraseOffers(typed, withNumber, { ...names, campaign: (id) => id }).map((offer) => offer.words);
  for (const typed of ['2', '20', '20 ', '20 s']) expect(words(typed)[0]).toMatch(/^stay for \d+ s on the page$/);
  expect(words('20 s').join()).not.toContain('camp_');
  expect(words('start').join()).toContain('camp_n');
  expect(words('2026')).toContain('were shown “camp_y”');
});

test.each([
  ['/bo', { pages: { on: [{ op: 'like', value: '/bo*' }] } }],
  ['/huts/**', { pages: { on: [{ op: 'like', value: '/huts/**' }] } }],
  ['except /book/pay', { pages: { except: [{ op: 'like', value: '/book/pay' }] } }],
  ['viewed /bo', { people: { kind: 'viewed', pages: [{ op: 'like', value: '/bo*' }], times: { min: 1 } } }],
  ['compar', { people: { kind: 'segment', id: 'seg_a' } }],
  ['dunb', { people: { kind: 'location', cities: ['Dunbeck'] } }],
  ['exit', { moment: { kind: 'exit' } }],
  ['20 s', { moment: { kind: 'delay', seconds: 20 } }],
  ['2 min', { moment: { kind: 'delay', seconds: 120 } }],
  ['40 %', { moment: { kind: 'scroll', atLeast: 40 } }],
  ['7 days', { pacing: { again: { days: 7 } } }],
  ['once', { pacing: { again: 'never' } }],
  ['phone', { people: { kind: 'device', category: ['phone'] } }],
  ['has-list', { people: { kind: 'tagged', tag: 'has-list' } }],
  ['first-snow', { people: { kind: 'source', utm: { campaign: { op: 'is', value: 'first-snow' } } } }],
])('%p becomes %j', (typed, rule) => {
  expect(first(typed)).toEqual(rule);
});

test('one word is offered in every family it occurs in', () => {
  const families = offers('news').map(
    ({ family, id }) => `${family} ${id.includes('source') ? 'source' : id.includes('set') ? 'set' : 'event'}`,
  );
  expect(families).toEqual(expect.arrayContaining(['people source', 'pages set', 'people event', 'moment event']));
});

/** What is in the rule already is not put in twice. */
const isThere = (words: string): boolean => words === 'move to leave' || words === 'on /**';

test('everything offered makes a rule that can be stored, and adds to what is there', () => {
  const start: Rule = {
    people: { any: [{ kind: 'known', is: true }] },
    moment: { kind: 'exit' },
    pages: { on: [{ op: 'like', value: '/**' }] },
    pacing: { stop: { shown: 3 } },
  };
  for (const typed of ['e', 'a', '/', '5', '30', 'huts', 'quiet', 'no']) {
    expect(offers(typed).length).toBeGreaterThan(0);
    expect(new Set(offers(typed).map(({ id }) => id)).size).toBe(offers(typed).length);
    for (const { words, addTo } of offers(typed)) {
      const parsed = parseRule(addTo(start));
      expect([words, parsed.ok ? [] : parsed.issues]).toEqual([words, []]);
      expect([words, JSON.stringify(addTo(start)) === JSON.stringify(start)]).toEqual([words, isThere(words)]);
    }
  }
  expect(offers('exit')[0]?.addTo({ moment: { kind: 'delay', seconds: 3 } })).toEqual({
    moment: { all: [{ kind: 'delay', seconds: 3 }, { kind: 'exit' }] },
  });
  expect(offers('exit')[0]?.addTo({ moment: { kind: 'open' } })).toEqual({ moment: { kind: 'exit' } });
  expect(offers('/huts/**')[0]?.addTo(start).pages?.on).toEqual([{ op: 'like', value: '/huts/**' }]);
});

test('nothing typed, and what nothing is called by, offer nothing', () => {
  expect(offers('')).toEqual([]);
  expect(offers('zzzzz')).toEqual([]);
  expect(offers('0 s').some(({ id }) => id.includes('delay'))).toBe(false);
});

test('somebody there to chat is offered by what it is called', () => {
  for (const typed of ['somebody is there', 'staffed'])
    expect(offers(typed).map(({ id }) => id)).toEqual(['people and {"kind":"staffed","is":true}']);
});

test('a segment is offered people alone: pages as pages viewed, and not itself', () => {
  const offered = (typed: string, self = 'seg_x') => peopleOffers(typed, recorded, names, self).map(({ words }) => words);
  expect(offered('/huts/m')[0]).toBe('viewed /huts/m*');
  expect(offered('/huts/m')).toContain('viewed /huts/moss');
  expect(offered('not /book')[0]).toBe('never viewed /book*');
  expect(offered('moss')).toContain('viewed /huts/moss');
  expect(offered('news')).toEqual(expect.arrayContaining(['viewed “News pages”']));
  expect(offered('3 visits')[0]).toBe('made at least 3 visits');
  expect(offered('20 s')).toEqual([]);
  expect(offered('comparing')).toEqual(['are in “Comparing huts”']);
  expect(offered('comparing', 'seg_a')).toEqual([]);
  expect(offered('not desktop')[0]).toBe('are not among those who use desktop');
  expect(offered('')).toEqual([]);
});
