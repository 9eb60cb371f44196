import { describeRule, describeSegment, proposedName, sentenceOf } from './describe';
import type { Rule } from './schema';
import type { WordsFor } from '../pages/names';

const names: WordsFor = { segment: (id) => (id === 'seg_1' ? 'Comparing huts' : id), set: String, campaign: String, place: String };
const say = (rule: Rule): string => sentenceOf(describeRule(rule, names));

test('a rule reads as one sentence', () => {
  expect(
    say({
      people: {
        all: [{ kind: 'segment', id: 'seg_1' }, { none: [{ kind: 'viewed', pages: [{ op: 'is', value: '/book/done' }], within: 90 }] }],
      },
      pages: { on: [{ op: 'like', value: '/huts/**' }], except: [{ op: 'is', value: '/huts/closed' }] },
      moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 20 }, { kind: 'scroll', atLeast: 40 }] },
      pacing: { again: { days: 7 } },
    }),
  ).toBe(
    'Show it to people who are in “Comparing huts” and are not among those who viewed /book/done in the last 90 days, on /huts/** except /huts/closed, ' +
      'when they move to leave and stay for 20 s on the page and scroll to 40 %, not again for 7 days, until a conversion.',
  );
});

test('an empty rule says everyone, everywhere, at once', () => {
  expect(say({})).toBe('Show it to everyone, on any page, as soon as the page opens, once a visit, until a conversion.');
});

test('groups inside groups are told apart', () => {
  const [a, b, c] = [{ kind: 'scrollStart' }, { kind: 'exit' }, { kind: 'open' }] as const;
  const sentences = [{ all: [a, { any: [b, c] }] }, { any: [{ all: [a, b] }, c] }, { all: [a, b, c] }, { any: [a, b, c] }].map((moment) =>
    say({ moment }),
  );
  expect(new Set(sentences).size).toBe(4);
});

test('a literal star and a wildcard do not read the same', () => {
  const on = (op: 'is' | 'like'): string => say({ pages: { on: [{ op, value: '/huts/*' }] } });
  expect(on('is')).not.toBe(on('like'));
});

test('phrases carry their family and the path of their node', () => {
  const phrases = describeRule({ moment: { all: [{ kind: 'open' }, { kind: 'scroll', atLeast: 5 }] } });
  expect(phrases.find(({ text }) => text === 'scroll to 5 %')).toMatchObject({ family: 'moment', path: ['moment', 'all', 1] });
});

test('a name is proposed from the conditions, at most 60 characters long', () => {
  const segment = {
    lookback: 30,
    people: {
      all: Array.from({ length: 9 }, () => ({
        kind: 'viewed' as const,
        pages: [{ op: 'like' as const, value: '/routes/**' }],
        times: { min: 2 },
      })),
    },
  };
  expect(proposedName({ lookback: 30, people: { kind: 'known', is: true } })).toBe('Are known');
  expect(proposedName(segment).length).toBeLessThanOrEqual(60);
  expect(sentenceOf(describeSegment(segment))).toContain('looking back 30 days');
});
