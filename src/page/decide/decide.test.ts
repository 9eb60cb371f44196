import type { Timeline } from '@/core/moments/timeline';
import { openTimeline } from '@/core/moments/timeline';
import { emptyPacing } from '@/core/pacing/pacing';
import type { Truth } from '@/core/logic/truth';
import type { Release, ReleasedCampaign } from '@/core/release/release';
import { beginDeciding } from './decide';
import type { Host } from './host';

const OPENED = Date.parse('2026-11-26T10:00:00Z');

class Document {
  constructor(readonly cookie: string) {}
}
beforeEach(() => {
  Object.defineProperty(globalThis, 'navigator', { value: { language: 'de-AT' }, configurable: true });
  Object.assign(globalThis, { window: {}, Document });
});

const host = (zone = 'UTC'): Host =>
  ({
    base: 'http://collector/',
    siteKey: 'k',
    now: () => OPENED,
    zone: () => zone,
    state: { browser: 'b', visit: {}, pacing: emptyPacing(OPENED) },
  }) as unknown as Host;

const campaign = (people: ReleasedCampaign['people'], more: Partial<ReleasedCampaign> = {}): ReleasedCampaign => ({
  id: 'c',
  place: 'overlay',
  ...(people ? { people } : {}),
  pages: {},
  moment: { kind: 'delay', seconds: 1 },
  pacing: { again: 'always' },
  goal: { kind: 'form' },
  flow: { start: 'a', messages: [{ id: 'a', format: 'quiet', does: [] }] },
  ...more,
});

/** Whether it shows two seconds after the opening. */
function shows(
  one: ReleasedCampaign,
  { cookie = '', facts = [], url = 'https://shop.example/huts' }: { cookie?: string; facts?: Truth[]; url?: string } = {},
): boolean {
  Object.defineProperty(Document.prototype, 'cookie', { get: () => cookie, configurable: true });
  Object.assign(globalThis, { document: Object.create(Document.prototype) as object });
  const release: Release = { version: 1, number: 1, budget: {}, campaigns: [one], watch: [], values: [] };
  const line: Timeline = openTimeline();
  const decider = beginDeciding(host('Europe/Vienna')).decideFor({
    release,
    line,
    openedAt: OPENED,
    record: emptyPacing(OPENED),
    shownHere: new Set(),
    page: () => ({ url }),
    facts: () => facts,
  });
  return decider.wake(2000).includes('c');
}

test.each([
  ['everybody', undefined, {}, true],
  ['a language of the browser', { kind: 'language' as const, is: ['de'] }, {}, true],
  ['another language', { kind: 'language' as const, is: ['it'] }, {}, false],
  [
    'a cookie, as it was meant',
    { kind: 'cookie' as const, name: 'who', test: { op: 'is' as const, value: 'Jörg' } },
    { cookie: 'who=J%C3%B6rg' },
    true,
  ],
  [
    'a cookie that is not there',
    { kind: 'cookie' as const, name: 'who', test: { op: 'is' as const, value: 'Jörg' } },
    { cookie: 'other=1' },
    false,
  ],
  [
    'hours in the browser’s zone',
    { kind: 'calendar' as const, hours: ['11:00', '12:00'] as [string, string], zone: 'visitor' as const },
    {},
    true,
  ],
  ['a fact that holds', { kind: 'fact' as const, index: 0 }, { facts: [true] }, true],
  ['a fact that does not', { kind: 'fact' as const, index: 0 }, { facts: [false] }, false],
  ['a fact that is not known yet', { kind: 'fact' as const, index: 0 }, {}, false],
  ['none of whom a fact does not know', { none: [{ kind: 'fact' as const, index: 0 }] }, {}, false],
  ['an ad blocker that was not looked for', { kind: 'adBlocker' as const, is: false }, {}, false],
])('shown to %s', (_, people, where, is) => {
  expect(shows(campaign(people as ReleasedCampaign['people']), where)).toBe(is);
});

test.each([
  ['https://shop.example/huts', true],
  ['https://shop.example/book', false],
])('on its pages alone: %s', (url, is) => {
  expect(shows(campaign(undefined, { pages: { on: [{ op: 'is', value: '/huts' }] } }), { url })).toBe(is);
});
