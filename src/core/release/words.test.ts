import type { CampaignDocument } from '../campaigns/campaign';
import { idsAsNames } from '../pages/names';
import type { ReleaseSource } from './words';
import { changesInWords } from './words';

const like = (value: string) => ({ op: 'like' as const, value });
const popup = (id: string, text: string) => ({
  id,
  format: 'popup' as const,
  closes: { button: true, dim: true, escape: true },
  blocks: [{ kind: 'text' as const, text }],
});
const base: CampaignDocument & { id: string } = {
  id: 'a',
  name: 'Packing list',
  goal: { kind: 'form' },
  rule: { people: { kind: 'known', is: true }, pages: { on: [like('/huts/*')] }, moment: { kind: 'exit' } },
  flow: { start: 'list', messages: [popup('list', 'Take warm things')] },
};
const source = (...campaigns: (CampaignDocument & { id: string })[]): ReleaseSource => ({ campaigns, budget: {}, brand: {} });
const told = (change: Partial<CampaignDocument>) => changesInWords(source(base), source({ ...base, ...change }), idsAsNames);

test('nothing changed is nothing to tell, in whatever order the keys stand', () => {
  const { moment, pages, people } = base.rule;
  const shuffled = { ...base, rule: { moment, pages, people } };
  expect(changesInWords(source(base), source(shuffled), idsAsNames)).toEqual([]);
});

test.each<[string, Partial<CampaignDocument>, string[]]>([
  ['a page more', { rule: { ...base.rule, pages: { on: [like('/huts/*'), like('/courses/**')] } } }, ['is now also on /courses/**']],
  ['another page', { rule: { ...base.rule, pages: { on: [like('/routes/*')] } } }, ['is now on /routes/*', 'is no longer on /huts/*']],
  ['any page', { rule: { ...base.rule, pages: {} } }, ['is now on any page']],
  [
    'an exception',
    { rule: { ...base.rule, pages: { on: [like('/huts/*')], except: [like('/huts/closed')] } } },
    ['is not on /huts/closed'],
  ],
  ['other people', { rule: { ...base.rule, people: { kind: 'known', is: false } } }, ['is now for people who are not known yet']],
  ['another moment', { rule: { ...base.rule, moment: { kind: 'scroll', atLeast: 60 } } }, ['shows now when they scroll to 60 %']],
  ['another name', { name: 'The list' }, ['was called “Packing list”']],
  ['another goal', { goal: { kind: 'event', event: 'booking', days: 3 } }, ['counts “booking” within 3 days as success now']],
  ['some who see nothing', { holdout: 0.1 }, ['10 of 100 see nothing now']],
  [
    'another flow',
    { flow: { start: 'more', messages: [popup('list', 'Take a map'), popup('more', 'And a stove')] } },
    ['has “more” in addition', 'says or looks otherwise in “list”', 'begins at “more” now'],
  ],
])('%s', (_what, change, words) => expect(told(change).flatMap((one) => one.words)).toEqual(words));

test('campaigns that come and go, their order, the budget and the brand', () => {
  const b = { ...base, id: 'b', name: 'Quiet weeks' };
  const c = { ...base, id: 'c', name: 'Snow' };
  const next = { ...source(c, b), budget: { perVisit: 1 }, brand: { colour: '#123456' } };
  expect(changesInWords(source(base, b, c), next, idsAsNames).map(({ name, words }) => `${name} ${words.join('; ')}`)).toEqual([
    'Packing list is taken off',
    'The order of campaigns is changed',
    'The site’s budget is changed',
    'The brand has the colour #123456 now',
  ]);
  expect(changesInWords(undefined, source(base), idsAsNames)).toEqual([{ campaign: 'a', name: 'Packing list', words: ['goes live'] }]);
});

test('what a brand has become is told part by part', () => {
  const words = (was: ReleaseSource['brand'], is: ReleaseSource['brand']) =>
    changesInWords({ ...source(base), brand: was }, { ...source(base), brand: is }, idsAsNames).map((told) => [told.name, told.words]);
  const logo = { src: '/logo.png', width: 80, height: 20, alt: '' };
  expect(
    words(
      {
        colour: '#111111',
        font: 'Old',
        values: [
          { name: 'price', text: '5' },
          { name: 'town', text: 'Leith' },
        ],
      },
      {
        colour: '#222222',
        corners: 4,
        logo,
        senders: [{ name: 'Ines' }],
        values: [{ name: 'price', text: '6' }],
      },
    ),
  ).toEqual([
    [
      'The brand',
      [
        'has the colour #222222 now',
        'has the corners 4 now',
        'has no font of its own any more',
        'has another logo',
        'has “Ines” otherwise or anew among its senders',
        'has “price” otherwise or anew among its values',
        'has no “town” any more among its values',
      ],
    ],
  ]);
  expect(words({ colour: '#111111' }, { colour: '#111111' })).toEqual([]);
});
