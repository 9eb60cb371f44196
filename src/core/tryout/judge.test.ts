import fc from 'fast-check';
import { visitor as anyVisitor, NOW, rule as anyRule } from '../rules/testing/arbitrary';
import { idsAsNames } from '../pages/names';
import { peopleHoldInPage } from '../people/inPage';
import type { Rule } from '../rules/schema';
import { DAY_MS } from '../time/day';
import type { Judge, Pretend, Tried } from './asked';
import { judgeSchema } from './asked';
import type { Draft, DraftCampaign } from './judge';
import { cookiesAsked, draftRelease, judge } from './judge';
import type { Found } from './visitor';

const FOUND: Found = { language: 'en-GB', zone: 'Europe/Vienna', device: { category: 'desktop' } };

const campaign = (id: string, rule: Rule, more: Partial<DraftCampaign> = {}): DraftCampaign => ({
  id,
  name: `Campaign ${id}`,
  status: 'live',
  goal: { kind: 'form' },
  rule,
  flow: { start: 'a', messages: [{ id: 'a', format: 'popup', blocks: [], closes: { button: true, dim: true, escape: true } }] },
  ...more,
});
const draftOf = (campaigns: readonly DraftCampaign[], more: Partial<Draft> = {}): Draft => ({
  campaigns,
  segments: {},
  sets: {},
  setNames: {},
  places: {},
  budget: {},
  brand: {},
  sizes: new Map(),
  names: idsAsNames,
  ownHosts: ['site.example'],
  number: 7,
  ...more,
});
const triedOf = (more: Partial<Tried> = {}): Tried => ({
  visits: [
    {
      at: NOW - 60_000,
      referrer: '',
      views: [{ url: 'https://site.example/huts?utm_source=newsletter&utm_medium=email', at: NOW - 60_000, engaged: 0, scroll: 0 }],
      events: [],
    },
  ],
  known: false,
  traits: {},
  tags: [],
  score: 0,
  responses: [],
  ...more,
});
const askedOf = (pretend: Pretend = {}, more: Partial<Judge> = {}): Judge =>
  judgeSchema.parse({
    kind: 'judge',
    key: 'k',
    token: 't',
    now: NOW,
    tried: triedOf(),
    course: { opened: NOW - 60_000, hidden: false, lasted: 0, engaged: 0, clicks: 0, signals: [], t: 60_000 },
    pacing: { campaigns: {}, visit: { startedAt: NOW - 60_000, showings: 0, campaigns: [] } },
    held: [],
    knows: { language: FOUND.language, zone: FOUND.zone },
    pretend,
    ...more,
  });
const judged = (draft: Draft, asked: Judge, found = FOUND) => {
  const { release, facts } = draftRelease(draft, asked.pretend);
  return { release, ...judge(draft, facts, release.values, { asked, recorded: undefined, found }) };
};
const silence = (rule: Rule, asked: Judge, more: Partial<Draft> = {}) =>
  judged(draftOf([campaign('a', rule)], more), asked).campaigns[0]?.cause;

test('what the page decides by the facts it is given, and what the dock says of the people, are the same for every rule', () => {
  fc.assert(
    fc.property(anyRule, anyVisitor, fc.boolean(), (rule, who, isPretended) => {
      const { visits, known, traits, tags, score = 0, responses, device, location, weather, language, zone, team } = who;
      const plain = visits.map(({ at, views, events }) => ({
        at,
        referrer: '',
        views: views.map(({ url, title, at: seenAt, engaged, scroll }) => ({
          url,
          at: seenAt,
          engaged,
          scroll,
          ...(title ? { title } : {}),
        })),
        events: events.map((event) => ({ ...event, props: {} })),
      }));
      const tried = triedOf({ ...(plain.length ? { visits: plain } : {}), responses: [...responses], tags: [...tags] });
      const pretend: Pretend = isPretended
        ? {
            known,
            score,
            traits: Object.fromEntries(Object.entries(traits).flatMap(([key, value]) => (typeof value === 'string' ? [[key, value]] : []))),
            ...(device?.category ? { device: { category: device.category } } : {}),
            ...(location?.country ? { place: { country: location.country, ...(location.city ? { city: location.city } : {}) } } : {}),
            ...(weather ? { weather: JSON.parse(JSON.stringify(weather)) as NonNullable<Pretend['weather']> } : {}),
            ...(language ? { language } : {}),
            ...(zone ? { zone } : {}),
            ...(team === undefined ? {} : { team }),
          }
        : {};
      const cookies = who.cookies ?? {};
      const asked = askedOf(pretend, { tried, chosen: 'a', knows: { language: 'de-AT', zone: 'UTC', cookies } });
      const { release, facts, chosen } = judged(draftOf([campaign('a', rule)]), asked, { ...FOUND, cookies });
      const inPage = peopleHoldInPage(release.campaigns[0]?.people, { facts, browser: { cookies }, now: NOW });
      expect(inPage).toBe(chosen?.explanation.people.value);
    }),
    { numRuns: 400 },
  );
});

test('each thing that is pretended goes before what is found, and without it what is found counts', () => {
  const near = { country: 'AT', city: 'Innsbruck', lat: 47.27, lon: 11.39 };
  const cases: readonly (readonly [what: string, people: NonNullable<Rule['people']>, pretend: Pretend])[] = [
    ['weather', { kind: 'weather', is: ['snow'] }, { weather: { is: 'snow' } }],
    ['place', { kind: 'location', cities: ['Innsbruck'] }, { place: near }],
    ['device', { kind: 'device', category: ['phone'] }, { device: { category: 'phone' } }],
    ['source', { kind: 'source', channel: ['paid'] }, { source: { channel: 'paid', utm: {} } }],
    ['language', { kind: 'language', is: ['de'] }, { language: 'de-AT' }],
    ['known', { kind: 'known', is: true }, { known: true }],
    ['tag', { kind: 'tagged', tag: 'family' }, { tags: ['family'] }],
    ['trait', { kind: 'trait', key: 'plan', test: { op: 'is', value: 'pro' } }, { traits: { plan: 'pro' } }],
    ['score', { kind: 'score', points: { min: 10 } }, { score: 10 }],
    [
      'response',
      { kind: 'response', campaign: 'b', outcome: 'dismissed' },
      { responses: [{ campaign: 'b', outcome: 'dismissed', daysAgo: 3 }] },
    ],
    ['staffed', { kind: 'staffed', is: true }, { staffed: true }],
    ['team', { kind: 'team', is: true }, { team: true }],
    ['zone', { kind: 'calendar', hours: ['19:00', '20:00'], zone: 'visitor' }, { zone: 'Asia/Tokyo' }],
  ];
  for (const [what, people, pretend] of cases) {
    expect([what, silence({ people }, askedOf())?.family]).toEqual([what, 'people']);
    expect([what, silence({ people }, askedOf(pretend))]).toEqual([what, undefined]);
  }
  // A newsletter's address is one, unless something else is pretended.
  const fromLetter: Rule = { people: { kind: 'source', channel: ['email'] } };
  expect(silence(fromLetter, askedOf())).toBeUndefined();
  expect(silence(fromLetter, askedOf({ source: { channel: 'direct', utm: {} } }))?.family).toBe('people');
});

test('a segment is what one says it is, in the page as in the dock', () => {
  const segments = { s: { lookback: 30, people: { kind: 'visits' as const, times: { min: 99 } } } };
  const rule: Rule = { people: { kind: 'segment', id: 's' } };
  for (const [pretend, isIn] of [
    [{}, false],
    [{ segments: { s: true } }, true],
    [{ segments: { s: false, gone: true } }, false],
  ] as const) {
    const { release, facts, chosen } = judged(draftOf([campaign('a', rule)], { segments }), askedOf(pretend, { chosen: 'a' }));
    expect(chosen?.explanation.people.value).toBe(isIn);
    expect(peopleHoldInPage(release.campaigns[0]?.people, { facts, browser: {}, now: NOW })).toBe(isIn);
  }
});

test('the first cause of silence is the page, the moment, pacing, the budget or the place', () => {
  const exit: Rule = { moment: { kind: 'exit' } };
  expect(silence({ pages: { on: [{ op: 'is', value: '/book' }] } }, askedOf())?.family).toBe('pages');
  expect(silence(exit, askedOf())?.family).toBe('moment');
  const leaving = askedOf().course;
  expect(silence(exit, askedOf({}, { course: { ...leaving, signals: [{ t: 60_000, s: 'exit' }] } }))).toBeUndefined();
  const shown = { campaigns: { a: { shown: 1, dismissed: 0, converted: 0, lastAt: NOW - 5000 } }, lastAt: NOW - 5000 };
  const pacing = { ...shown, visit: { startedAt: NOW - 60_000, showings: 1, campaigns: ['a'] } };
  expect(silence({ pacing: { again: { days: 7 } } }, askedOf({}, { pacing }))).toMatchObject({ family: 'pacing', part: 'pacing' });
  // A moment that comes again would change nothing.
  expect(silence({ ...exit, pacing: { again: { days: 7 } } }, askedOf({}, { pacing }))?.family).toBe('pacing');
  // A week and a day later it is free.
  const later = askedOf({}, { pacing, now: NOW + 8 * DAY_MS, course: { ...leaving, opened: NOW + 8 * DAY_MS - 60_000 } });
  expect(silence({ pacing: { again: { days: 7 } } }, later)).toBeUndefined();
  expect(silence({ pacing: { again: 'always' } }, askedOf({}, { pacing }), { budget: { perVisit: 1 } })).toMatchObject({ part: 'budget' });
  expect(silence({}, askedOf({}, { held: ['overlay'] }))).toMatchObject({ part: 'place' });
});

test('pages that were left count as read for as long as they were; the one under way is a moment’s business', () => {
  const rule: Rule = { people: { kind: 'engaged', seconds: { min: 20 } } };
  const view = { url: 'https://site.example/huts', at: NOW - 60_000, engaged: 25, scroll: 0 };
  const [visit] = triedOf().visits;
  const after = (views: Tried['visits'][0]['views']) =>
    askedOf({}, { tried: triedOf({ visits: [{ at: NOW - 60_000, referrer: '', events: visit?.events ?? [], views }] }) });
  expect(silence(rule, after([view]))?.family).toBe('people');
  expect(silence(rule, after([view, { ...view, at: NOW - 1000, engaged: 0 }]))).toBeUndefined();
});

test('nobody is held out, a variant can be asked for, and drafts take part only where they are asked to', () => {
  const variants = [
    { name: 'A', weight: 1, start: 'a' },
    { name: 'B', weight: 1, start: 'a' },
  ];
  const draft = draftOf([
    campaign('live', {}, { holdout: 0.5, variants }),
    campaign('draft', {}, { status: 'draft' }),
    campaign('later', {}, { status: 'scheduled' }),
  ]);
  const ids = (pretend: Pretend) => draftRelease(draft, pretend).release.campaigns.map(({ id }) => id);
  expect(ids({})).toEqual(['live', 'later']);
  expect(ids({ takes: { draft: true, live: false } })).toEqual(['draft', 'later']);
  const [live] = draftRelease(draft, { variants: { live: 'B' } }).release.campaigns;
  expect([live?.holdout, live?.variants?.map(({ name }) => name)]).toEqual([undefined, ['B']]);
  expect(judged(draft, askedOf()).campaigns.map(({ id, takes }) => [id, takes])).toEqual([
    ['live', true],
    ['draft', false],
    ['later', true],
  ]);
});

test('the page is asked for the cookies that rules name, and for no others', () => {
  const people = (name: string) => ({ kind: 'cookie' as const, name, test: { op: 'exists' as const } });
  const draft = draftOf([campaign('a', { people: { any: [people('seen'), people('plan')] } }), campaign('b', { people: people('seen') })]);
  expect(cookiesAsked(draft)).toEqual(['seen', 'plan']);
});
