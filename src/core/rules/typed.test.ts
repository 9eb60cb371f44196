import fc from 'fast-check';
import { momentKinds, momentWords } from '../moments/moment';
import { pacingWords } from '../pacing/words';
import { idsAsNames } from '../pages/names';
import { patternWords } from '../pages/pattern';
import { conditionWords, peopleKinds } from '../people/condition';
import { NO_VOCABULARY } from '../typing/vocabulary';
import type { Vocabulary } from '../typing/vocabulary';
import { parseRule } from './parseRule';
import { PHRASINGS } from './testing/phrasings';
import { pacing, pattern } from './testing/arbitrary';
import { readTyped } from './typed';

// The same each time, so that a check does not hang on luck; FAST_CHECK_SEED tries others.
fc.configureGlobal({ seed: Number(process.env['FAST_CHECK_SEED'] ?? 20261126) });
const RUNS = Number(process.env['FAST_CHECK_RUNS'] ?? 150);

const vocabulary: Vocabulary = {
  ...NO_VOCABULARY,
  pages: [
    { path: '/', views: 900 },
    { path: '/huts', views: 300 },
    { path: '/huts/moss', views: 500 },
    { path: '/book', views: 120 },
    { path: '/book/pay', views: 120 },
  ],
  segments: [
    { id: 'seg_comparing', name: 'Comparing huts' },
    { id: 'seg_snow', name: 'Course-curious in snow' },
  ],
  campaigns: [
    { id: 'camp_snow', name: 'Snow' },
    { id: 'camp_quiet', name: 'Quiet weeks' },
  ],
  sets: [{ id: 'set_booking', name: 'Booking pages' }],
  places: [{ id: 'place_near', name: 'Within a day’s drive' }],
  events: [
    { value: 'booking', times: 40 },
    { value: 'quote_opened', times: 12 },
  ],
  traits: [
    { value: 'plan', times: 30 },
    { value: 'nights', times: 20 },
  ],
  tags: [{ value: 'has-list', times: 9 }],
  countries: [{ value: 'AT', times: 700 }],
  cities: [{ value: 'Innsbruck', times: 90 }],
  sources: [{ value: 'newsletter', times: 40 }],
  utmCampaigns: [{ value: 'first-snow', times: 30 }],
  languages: [{ value: 'de-AT', times: 20 }],
};
const first = (typed: string) => readTyped(typed, vocabulary, idsAsNames)[0];

test('there are at least 200 phrasings, of every kind of condition and moment that is offered', () => {
  expect(PHRASINGS.length).toBeGreaterThanOrEqual(200);
  const all = JSON.stringify(PHRASINGS.map(([, rule]) => rule));
  for (const { kind, isSupplied } of peopleKinds()) if (isSupplied) expect(all).toContain(`"kind":"${kind}"`);
  for (const { kind } of momentKinds()) expect(all).toContain(`"kind":"${kind}"`);
});

test.each(PHRASINGS)('“%s” is taken for what it says', (typed, rule) => {
  expect(first(typed)?.addTo({})).toEqual(rule);
  const parsed = parseRule(first(typed)?.addTo({}));
  expect(parsed.ok ? [] : parsed.issues).toEqual([]);
});

test.each([
  'zzzzz',
  'the',
  'not',
  'or',
  '0 s',
  '200 %',
  'scroll 400',
  'idle 0',
  'viewed',
  'click',
  'cookie',
  'tag',
  'from',
  'with utm_source',
  'between',
  '-5 visits',
])('“%s” says nothing for sure', (typed) => {
  const sure = readTyped(typed, vocabulary, idsAsNames).filter(({ sureness }) => sureness >= 2 && typed !== 'click' && typed !== 'not');
  expect(sure.map(({ words }) => words)).toEqual([]);
});

test('“or” goes with what was said last, “and” beside it, and nothing is put in twice', () => {
  const start = first('phone')?.addTo({}) ?? {};
  const both = first('or tablet')?.addTo(start) ?? {};
  expect(both.people).toEqual({
    any: [
      { kind: 'device', category: ['phone'] },
      { kind: 'device', category: ['tablet'] },
    ],
  });
  const three = first('and from Austria')?.addTo(both) ?? {};
  expect(three.people).toEqual({ all: [both.people, { kind: 'location', countries: ['AT'] }] });
  expect(first('or from Germany')?.addTo(three).people).toEqual({
    all: [
      both.people,
      {
        any: [
          { kind: 'location', countries: ['AT'] },
          { kind: 'location', countries: ['DE'] },
        ],
      },
    ],
  });
  expect(first('from Austria')?.addTo(three)).toBe(three);
  const moment = first('exit')?.addTo({}) ?? {};
  expect(first('exit intent')?.addTo(moment)).toBe(moment);
  expect(first('/huts')?.addTo(first('/huts')?.addTo({}) ?? {})).toEqual({ pages: { on: [{ op: 'like', value: '/huts' }] } });
});

/** Lists may come back in another order. */
const sorted = (words: string | undefined): string | undefined =>
  words
    ?.split(/[\s,]+/)
    .sort()
    .join(' ');

/** What a kind calls itself is always understood as itself; what stands for a default may be written out. */
test.each(peopleKinds().filter(({ isSupplied, kind }) => isSupplied && kind !== 'segment' && kind !== 'response'))(
  'a condition of the kind $kind is understood in the words of its description',
  ({ example }) => {
    fc.assert(
      fc.property(example(fc), (condition) => {
        const words = conditionWords(condition, idsAsNames);
        // A condition that asks for nothing says nothing.
        if (/ (?:anywhere|any device|nowhere|any weather|at any time)$|^come in \S+$/.test(words)) return;
        const [reading] = readTyped(words, vocabulary, idsAsNames);
        expect([words, sorted(reading?.words)]).toEqual([words, sorted(words)]);
      }),
      { numRuns: RUNS },
    );
  },
);

test.each(momentKinds())('a moment of the kind $kind is understood in the words of its description', ({ example }) => {
  fc.assert(
    fc.property(example(fc), (moment) => {
      const words = momentWords(moment);
      expect([words, readTyped(words, vocabulary, idsAsNames)[0]?.words]).toEqual([words, words]);
    }),
    { numRuns: RUNS },
  );
});

test('pages and pacing are understood in the words of their description', () => {
  fc.assert(
    fc.property(pattern, (one) => {
      const words = `on ${patternWords(one, idsAsNames.set)}`;
      expect([words, readTyped(words, NO_VOCABULARY, idsAsNames)[0]?.words]).toEqual([words, words]);
    }),
  );
  fc.assert(
    fc.property(pacing, (one) => {
      for (const words of pacingWords(one)) {
        if (words.includes(' or ')) continue;
        expect([words, readTyped(words, NO_VOCABULARY, idsAsNames)[0]?.words]).toEqual([words, words]);
      }
    }),
  );
});

test('no text whatever makes it fail', () => {
  fc.assert(
    fc.property(fc.oneof(fc.string({ maxLength: 80 }), fc.string({ unit: 'grapheme', maxLength: 40 })), (text) => {
      for (const { addTo } of readTyped(text, vocabulary, idsAsNames)) {
        const parsed = parseRule(addTo({}));
        expect([text, parsed.ok ? [] : parsed.issues]).toEqual([text, []]);
      }
    }),
    { numRuns: 2000 },
  );
});
