import { describeRule } from '@/core/rules/describe';
import type { Rule } from '@/core/rules/schema';
import { withoutPhrase } from './withoutPhrase';

const rule: Rule = {
  people: {
    all: [
      { kind: 'known', is: true },
      { kind: 'visits', times: { min: 2 } },
    ],
  },
  pages: {
    on: [
      { op: 'is', value: '/a' },
      { op: 'is', value: '/b' },
    ],
    except: [{ op: 'is', value: '/c' }],
  },
  moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 5 }] },
  pacing: { again: { days: 7 } },
};

test('every phrase takes its own condition with it, and only that', () => {
  const phrases = describeRule(rule).filter(({ path }) => path);
  expect(phrases).toHaveLength(9);
  const usual = describeRule({}).map(({ text }) => text);
  for (const { text, path = [] } of phrases) {
    const left = describeRule(withoutPhrase(rule, path)).filter((phrase) => phrase.family);
    expect([text, left.some((phrase) => phrase.text === text)]).toEqual([text, usual.includes(text)]);
    // Where nothing of a family is left, its "any page", "everyone" or usual pacing takes the place.
    expect(left.length).toBeGreaterThanOrEqual(phrases.length - 1);
  }
});

test('a phrase that stands for no condition takes nothing', () => {
  expect(withoutPhrase({}, ['people'])).toEqual({});
  expect(withoutPhrase({}, ['pages', 'on'])).toEqual({});
  expect(withoutPhrase({ moment: { kind: 'exit' } }, ['moment'])).toEqual({});
});
