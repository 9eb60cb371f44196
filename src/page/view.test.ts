import { createDecider } from '@/core/pacing/decider';
import { emptyPacing } from '@/core/pacing/pacing';
import type { Release, ReleasedCampaign } from '@/core/release/release';
import type { PieceItem } from '@/core/wire/items';
import { unpackSignals } from '@/core/wire/pack';
import type { DecideFor } from './decide/decide';
import type { State } from './state';
import type { PageView } from './view';
import { openView } from './view';

const OPENED = Date.parse('2026-11-26T10:00:00Z');

const campaign = (id: string, moment: ReleasedCampaign['moment'], place: ReleasedCampaign['place'] = 'overlay'): ReleasedCampaign => ({
  id,
  place,
  pages: {},
  moment,
  pacing: { again: 'always' },
  goal: { kind: 'form' },
  flow: { start: 'a', messages: [{ id: 'a', format: 'quiet', does: [] }] },
});
const releaseOf = (...campaigns: ReleasedCampaign[]): Release => ({
  version: 1,
  number: 1,
  budget: {},
  campaigns,
  watch: ['#join'],
  values: [],
});

/** The core's decider, for whom every campaign fits while the first fact holds. */
const decideFor: DecideFor = ({ release, line, openedAt, record, shownHere, facts }) =>
  createDecider({
    candidates: release.campaigns.map(({ id, place, moment, pacing }) => ({
      id,
      place,
      moment,
      pacing,
      fits: () => facts()[0] ?? null,
      fitsWakesAt: () => Infinity,
    })),
    line,
    openedAt,
    record,
    budget: release.budget,
    shownHere,
  });

let page: { url: string; title: string; labels: string[] };
let state: State;
let shown: [string, number][];

beforeEach(() => {
  jest.useFakeTimers({ now: OPENED });
  Object.assign(globalThis, { document: { visibilityState: 'visible' } });
  page = { url: 'https://shop.example/huts', title: 'Huts', labels: ['list'] };
  state = {
    browser: 'b',
    visit: { id: 'v', startedAt: OPENED - 5000, lastAt: OPENED, engagedMs: 100, clicks: 2 },
    pacing: emptyPacing(OPENED),
  };
  shown = [];
});
afterEach(() => jest.useRealTimers());

const open = (): PageView =>
  openView({
    id: 'view',
    openedAt: OPENED,
    state,
    page: () => page,
    onShow: ({ id }, at) => shown.push([id, at - OPENED]),
    onActivity: () => undefined,
  });
const after = (ms: number): number => OPENED + ms;
const signalsOf = (piece: ReturnType<PageView['takePiece']>): unknown[] =>
  unpackSignals((piece as unknown as PieceItem).signals) as unknown[];
const wait = (ms: number): void => void jest.advanceTimersByTime(ms);

test('the first piece says what the page is called and what was done; the next only what is new', () => {
  const view = open();
  view.signal({ s: 'scroll', depth: 40 }, after(1000));
  view.signal({ s: 'input' }, after(1500));
  const first = view.takePiece(after(2000));
  expect(first).toMatchObject({ view: 'view', piece: 0, scroll: 40, leave: 2000, title: 'Huts', labels: ['list'], watched: [] });
  expect(signalsOf(first)).toEqual([
    { t: 1000, s: 'scroll', depth: 40 },
    { t: 1500, s: 'input' },
  ]);
  view.signal({ s: 'input' }, after(3000));
  const second = view.takePiece(after(4000));
  expect([second, signalsOf(second)]).toMatchObject([{ piece: 1, leave: 4000 }, [{ t: 3000, s: 'input' }]]);
  expect(second).not.toHaveProperty('title');
  page = { ...page, title: 'Huts, 2 in the basket' };
  view.signal({ s: 'input' }, after(5000));
  expect(view.takePiece(after(6000))).toMatchObject({ piece: 2, title: 'Huts, 2 in the basket' });
});

test('what a page is called while it is left may be the next one’s name, and is not said', () => {
  const view = open();
  view.takePiece(after(1000));
  page = { url: 'https://shop.example/book', title: 'Book', labels: [] };
  view.signal({ s: 'hide' }, after(2500));
  expect(view.takePiece(after(2500), true)).not.toHaveProperty('title');
});

test('a signal that says that it is older than the one before it is taken at the same instant', () => {
  const view = open();
  view.signal({ s: 'input' }, after(2000));
  view.signal({ s: 'scroll', depth: 10 }, after(1000));
  view.signal({ s: 'input' }, OPENED - 500);
  expect(signalsOf(view.takePiece(after(3000)))).toMatchObject([{ t: 2000 }, { t: 2000 }, { t: 2000 }]);
});

test('a page that is looked at and left alone says ever more seldom how long it has been open, and nothing after half an hour', () => {
  const view = open();
  const said: number[] = [];
  for (let t = 10_000; t <= 60 * 60_000; t += 10_000) if (view.takePiece(after(t))) said.push(t / 1000);
  expect(said.slice(0, 4)).toEqual([10, 20, 40, 80]);
  for (const [nth, at] of said.entries()) if (nth > 1) expect(at - (said[nth - 1] ?? 0)).toBeGreaterThanOrEqual(at / 2);
  expect(said.at(-1)).toBeLessThanOrEqual(30 * 60);
  expect(said.length).toBeLessThan(15);
});

test('a hidden page says nothing more, until something happens in it', () => {
  const view = open();
  view.signal({ s: 'hide' }, after(1000));
  expect(view.takePiece(after(1000), true)).toBeDefined();
  expect(view.takePiece(after(11_000))).toBeUndefined();
  view.signal({ s: 'show' }, after(12_000));
  expect(view.takePiece(after(13_000))).toMatchObject({ piece: 1 });
});

test('of very many signals each piece takes what the collector takes, and none is lost', () => {
  const view = open();
  for (let nth = 0; nth < 4500; nth++) view.signal({ s: 'input' }, after(nth));
  const pieces = [1, 2, 3].map((nth) => signalsOf(view.takePiece(after(4500 + nth * 1000))).length);
  expect(pieces).toEqual([2000, 2000, 500]);
});

test('engaged time ends half a minute after the last input, and goes to the visit with the clicks when the view ends', () => {
  const view = open();
  view.signal({ s: 'click', on: [] }, after(5000));
  expect(view.takePiece(after(60_000))).toMatchObject({ engaged: 35_000, leave: 60_000 });
  view.end(after(60_000));
  expect(state.visit).toMatchObject({ engagedMs: 35_100, clicks: 3 });
});

test('a campaign shows at its instant by the view’s own timer, once what it asks for is known', () => {
  const view = open();
  const release = releaseOf(campaign('later', { kind: 'delay', seconds: 20 }));
  view.decideWith(decideFor, release, []);
  wait(25_000);
  expect(shown).toEqual([]);
  view.decideWith(decideFor, release, [true]);
  expect(shown).toEqual([['later', 25_000]]);
  wait(60_000);
  expect(shown).toHaveLength(1);
  expect(view.takePiece(after(90_000))).toMatchObject({ watched: ['#join'] });
});

test('signals from before there was anything to decide count all the same', () => {
  const view = open();
  view.signal({ s: 'scroll', depth: 80 }, after(500));
  wait(1000);
  view.decideWith(decideFor, releaseOf(campaign('deep', { kind: 'scroll', atLeast: 60 })), [true]);
  expect(shown).toEqual([['deep', 1000]]);
});

test('what has shown is not shown once more by another release on the same page', () => {
  const view = open();
  view.decideWith(decideFor, releaseOf(campaign('once', { kind: 'delay', seconds: 1 })), [true]);
  wait(2000);
  view.free('once');
  view.decideWith(decideFor, releaseOf(campaign('once', { kind: 'delay', seconds: 1 })), [true]);
  wait(60_000);
  expect(shown).toEqual([['once', 1000]]);
});

test('whether there is an ad blocker is said with the pieces from when it is known', () => {
  const view = open();
  expect(view.takePiece(after(1000))?.adBlocker).toBeUndefined();
  view.noteAdBlocker(true);
  view.signal({ s: 'input' }, after(2000));
  expect(view.takePiece(after(3000))).toMatchObject({ adBlocker: true });
});

test('a view that has ended shows nothing more', () => {
  const view = open();
  view.decideWith(decideFor, releaseOf(campaign('later', { kind: 'delay', seconds: 20 })), [true]);
  view.end(after(1000));
  wait(60_000);
  expect(shown).toEqual([]);
});
