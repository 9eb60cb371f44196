import type { Flow } from '../flows/flow';
import { flowSchema } from '../flows/flow';
import { fieldSchema } from '../messages/field';
import { agreedIn } from './consent';
import { globRegex, leadTerms, leadTermWords } from './filter';
import { leadOffers } from './offers';

test('terms come out of an address; what is none is said with what was met, and the rest stays', () => {
  const { terms, issues } = leadTerms(
    new URLSearchParams('q=anna&campaign=c1&page=%2Fa%2F**&consent=maybe&colour=red&answer=plan%3Dfamily&after=x&tag=&tag=warm&tag=warm'),
  );
  expect(terms).toEqual([
    { kind: 'text', value: 'anna' },
    { kind: 'campaign', value: 'c1' },
    { kind: 'page', value: '/a/**' },
    { kind: 'answer', value: 'plan=family' },
    { kind: 'tag', value: 'warm' },
  ]);
  expect(issues.map(({ path, met, expected }) => [path[0], met, expected])).toEqual([
    ['consent', 'maybe', 'yes or no'],
    ['colour', 'red', 'one of campaign, page, answer, tag, consent, text'],
  ]);
  expect(leadTerms(Array.from({ length: 30 }, (_, nth) => ['tag', `t${nth}`] as const)).issues).toHaveLength(10);
});

test('a path with wildcards is one level or any number, and nothing of it is a pattern of its own', () => {
  const matches = (glob: string, path: string): boolean => new RegExp(globRegex(glob)).test(path);
  expect(['/huts/a', '/huts', '/huts/a/b'].map((path) => matches('/huts/*', path))).toEqual([true, false, false]);
  expect(['/huts/a', '/huts', '/huts/a/b', '/hutsx'].map((path) => matches('/huts/**', path))).toEqual([true, true, true, false]);
  expect([matches('/a.b', '/axb'), matches('/a(b)+', '/a(b)+')]).toEqual([false, true]);
});

const vocabulary = {
  campaigns: [{ id: 'c1', name: 'Packing list' }],
  pages: [{ path: '/journal/winter' }],
  tags: ['warm'],
  answers: ['plan'],
};
const offered = (typed: string): string[] => leadOffers(typed, vocabulary).map(({ words }) => words);

test('what is typed is completed from campaigns, tags, pages and answers, and is always also a text', () => {
  expect(offered('')).toEqual([
    'from “Packing list”',
    'tagged warm',
    'who agreed to something',
    'who agreed to nothing',
    'on /journal/winter',
  ]);
  expect(offered('pack')).toEqual(['from “Packing list”', 'with “pack”']);
  expect(offered('Plan: fam')).toEqual(['who answered plan: fam', 'with “Plan: fam”']);
  expect(offered('/journal/*')[0]).toBe('on /journal/*');
  expect(leadTermWords({ kind: 'campaign', value: 'gone' }, (id) => id)).toBe('from “gone”');
});

test('of a form’s answers what was ticked is agreed to, in the words beside it', () => {
  const field = (name: string, label: string, kind: 'consent' | 'text' = 'consent') => ({ kind, name, label });
  const flow: Flow = {
    start: 'a',
    messages: [
      {
        id: 'a',
        format: 'popup',
        closes: { button: true, dim: true, escape: true },
        blocks: [
          {
            kind: 'form',
            submit: 'Send',
            thanks: 'Thanks',
            fields: [field('letters', 'You may write to me'), field('share', 'You may share it'), field('plan', 'For whom?', 'text')],
          },
        ],
      },
    ],
  };
  expect(agreedIn(flow, { letters: true, share: false, plan: true })).toEqual([{ name: 'letters', words: 'You may write to me' }]);
  expect(agreedIn(flow, { letters: 'true' })).toEqual([]);
  const [form] = flow.messages.flatMap((message) => ('blocks' in message ? message.blocks : []));
  if (form?.kind !== 'form') throw new Error('no form');
  const linked = { ...field('letters', 'You may write to me.'), link: { words: 'What that means', url: 'https://s.example/privacy' } };
  const withLink: Flow = { ...flow, messages: [{ ...flow.messages[0], blocks: [{ ...form, fields: [linked] }] } as Flow['messages'][0]] };
  expect(flowSchema().safeParse(withLink).success).toBe(true);
  expect(agreedIn(withLink, { letters: true })).toEqual([
    { name: 'letters', words: 'You may write to me. What that means (https://s.example/privacy)' },
  ]);
  for (const wrong of [
    { ...linked, kind: 'text' },
    { ...linked, link: { ...linked.link, url: 'javascript:alert(1)' } },
  ])
    expect(fieldSchema().safeParse(wrong).success).toBe(false);
});
