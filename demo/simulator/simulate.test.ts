import { packSignals } from '@/core/wire/pack';
import { CAMPAIGNS } from '../world/campaigns';
import { PAGE_SETS } from '../world/segments';
import { TRUTHS } from '../world/truth';
import { createCampaignPlay } from './campaigns';
import { doubtsAbout } from './plausible';
import { simulate } from './simulate';

const UNTIL = Date.parse('2026-11-25T12:00:00Z');
const options = { seed: 'test', visits: 300, days: 60, until: UNTIL, origin: 'http://tarnhollow.example' };
const lives = [...simulate(options)];
const visits = lives.flatMap((life) => life.visits);

test('the same seed gives the same visits', () => {
  expect([...simulate(options)]).toEqual(lives);
  expect([...simulate({ ...options, seed: 'other' })]).not.toEqual(lives);
});

test('every visit lies in its days, a person’s visits and page views follow each other', () => {
  expect(visits).toHaveLength(300);
  for (const life of lives)
    for (const [index, visit] of life.visits.entries()) {
      expect(visit.at).toBeGreaterThan(life.visits[index - 1]?.at ?? UNTIL - 61 * 86_400_000);
      for (const [at, view] of visit.views.entries())
        expect(view.at).toBeGreaterThan((visit.views[at - 1]?.at ?? 0) + (visit.views[at - 1]?.leaveMs ?? 0));
    }
});

test('timelines are what the page script could have recorded', () => {
  const views = visits.flatMap((visit) => visit.views);
  const doubts = views.flatMap(({ url, signals, leaveMs, engagedMs, scroll, watched }) =>
    doubtsAbout({ signals, leave: leaveMs, engaged: engagedMs, scroll, watched }).map((words) => `${url}: ${words}`),
  );
  expect(doubts).toEqual([]);
  const kinds = new Set(views.flatMap(({ signals }) => signals.map(({ s }) => s)));
  expect([...kinds].sort()).toEqual(['click', 'event', 'exit', 'hide', 'input', 'scroll', 'seen', 'show']);
});

test('the signals of a page view leave in at most 300 bytes on average', () => {
  const views = visits.flatMap((visit) => visit.views);
  const bytes = views.reduce((sum, { signals }) => sum + JSON.stringify(packSignals(signals)).length, 0);
  expect(bytes / views.length).toBeLessThan(300);
});

test('a timeline that cannot have been recorded is told', () => {
  const view = {
    signals: [
      { t: 0, s: 'input' },
      { t: 900, s: 'scroll', depth: 10 },
      { t: 2000, s: 'hide' },
    ],
    leave: 2000,
    engaged: 2000,
    scroll: 10,
    watched: [],
  };
  expect(doubtsAbout(view)).toEqual([]);
  const withSignals = (...signals: unknown[]) =>
    doubtsAbout({ ...view, signals: [...view.signals.slice(0, 2), ...signals, view.signals[2]] });
  expect(withSignals({ t: 950, s: 'scroll', depth: 10 })).toEqual(['scroll at 950 to 10 from 10']);
  expect(withSignals({ t: 950, s: 'seen', selector: '#join', share: 10 })).toEqual(['seen at 950 of #join, which nobody watched']);
  expect(withSignals({ t: 950, s: 'hide' }, { t: 960, s: 'click', on: [], what: 'p' })).toEqual(
    expect.arrayContaining(['click at 960 while the tab was hidden', 'engaged 2000 ms, by its signals 950']),
  );
  expect(withSignals({ t: 950, s: 'wave' })[0]).toMatch(/^a signal has another form/);
  expect(doubtsAbout({ ...view, signals: view.signals.slice(1) })).toEqual(['scrolled, clicked or left with no input']);
});

test('people come back, some book, and snow makes more of them look at courses', () => {
  const many = [...simulate({ ...options, visits: 3000, seed: 'snow' })].flatMap((life) => life.visits);
  expect(new Set(many.map(({ person }) => person.browserId)).size).toBeLessThan(many.length);
  expect(many.flatMap(({ events }) => events).some(({ name }) => name === 'booking')).toBe(true);
  const looksAtCourses = (isSnow: boolean): number => {
    const days = many.filter(({ weather }) => (weather.is === 'snow') === isSnow);
    return days.filter(({ views }) => views.some(({ url }) => url.includes('/courses'))).length / days.length;
  };
  expect(looksAtCourses(true)).toBeGreaterThan(looksAtCourses(false) * 1.5);
});

describe('campaigns in the simulated visits', () => {
  const known = { sets: Object.fromEntries(PAGE_SETS.map(({ id, patterns }) => [id, [...patterns]])), segments: {}, places: {} };
  const basket = CAMPAIGNS.find(({ id }) => id === 'camp_basket');
  const truth = TRUTHS.find(({ campaign }) => campaign === 'camp_basket');
  if (!basket || !truth) throw new Error('The campaign with the basket is gone');
  const campaigns = createCampaignPlay([{ id: basket.id, ...basket.document, truth }], known, UNTIL);
  const played = [...simulate({ ...options, visits: 12_000, seed: 'basket', campaigns })].flatMap((life) => life.visits);
  const triggered = played.flatMap((visit) => visit.showings.map((showing) => ({ showing, visit })));

  test('show where their rule says, to all but the holdout', () => {
    expect(triggered.length).toBeGreaterThan(200);
    expect(triggered.every(({ showing }) => /\/book(\/|$)/.test(new URL(showing.url).pathname))).toBe(true);
    const held = triggered.filter(({ showing }) => !showing.shown).length / triggered.length;
    expect(Math.abs(held - 0.2)).toBeLessThan(0.1);
  });

  test('are converted by the bookings that follow within the goal’s days, the last showing first', () => {
    const converted = triggered.filter(({ showing }) =>
      showing.outcomes.some(({ kind, at }) => kind === 'converted' && at > showing.at + 9000),
    );
    expect(converted.length).toBeGreaterThan(30);
    // Those held back are counted by the same rule: what they do without the message is what it is compared with.
    expect(converted.some(({ showing }) => !showing.shown)).toBe(true);
    const bookings = new Set(played.flatMap(({ events }) => events.flatMap(({ name, at }) => (name === 'booking' ? [at] : []))));
    for (const { showing } of converted)
      for (const { kind, at } of showing.outcomes.filter(({ kind, at }) => kind === 'converted' && at > showing.at + 9000)) {
        expect({ kind, isBooking: bookings.has(at) }).toEqual({ kind, isBooking: true });
        expect(at - showing.at).toBeLessThan(3 * 86_400_000);
      }
  });

  test('change what the ground truth says they change', () => {
    const books = (isShown: boolean): number => {
      const group = triggered.filter(({ showing }) => showing.shown === isShown);
      return (
        group.filter(({ showing, visit }) => visit.events.some(({ name, at }) => name === 'booking' && at > showing.at)).length /
        group.length
      );
    };
    expect(books(true) - books(false)).toBeGreaterThan(0.1);
  });
});
