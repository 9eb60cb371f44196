import fc from 'fast-check';
import { campaignSchema } from '../campaigns/campaign';
import type { CampaignDocument } from '../campaigns/campaign';
import { parseWith } from '../parsing/parse';
import { goodPart } from './goodPart';

const wrongIn = (document: object) => {
  const parsed = parseWith(campaignSchema, document);
  return parsed.ok ? [] : parsed.issues.map(({ path }) => path);
};
const button = (url: string) => ({ label: 'Go', does: [{ kind: 'page', url }] });
const message = (id: string, url: string, text = 'Hello') => ({
  id,
  format: 'popup',
  closes: { button: true, dim: true, escape: true },
  blocks: [
    { kind: 'heading', text },
    { kind: 'buttons', buttons: [button(url)] },
  ],
});
const campaign = (messages: object[], more: object = {}): CampaignDocument =>
  ({ name: 'Winter', goal: { kind: 'form' }, rule: {}, flow: { start: 'a', messages }, ...more }) as unknown as CampaignDocument;
const base = campaign([message('a', '/a'), message('b', '/b')]);

test('the document that the cases begin with is right', () => expect(wrongIn(base)).toEqual([]));

test.each<[string, CampaignDocument, CampaignDocument]>([
  [
    'an address that is none: the last one that was, and what else was written',
    campaign([message('a', 'www.site', 'Changed'), message('b', '/b')], { name: 'Summer' }),
    campaign([message('a', '/a', 'Changed'), message('b', '/b')], { name: 'Summer' }),
  ],
  [
    'known by its id where another went before it',
    campaign([message('new', '/new'), message('a', '/a'), message('b', 'nowhere')]),
    campaign([message('new', '/new'), message('a', '/a'), message('b', '/b')]),
  ],
  [
    'new and wrong: left out, with no more around it than must be',
    campaign([message('a', '/a'), message('b', '/b'), message('c', 'nowhere', 'Third')]),
    campaign([
      message('a', '/a'),
      message('b', '/b'),
      {
        ...message('c', '', 'Third'),
        blocks: [
          { kind: 'heading', text: 'Third' },
          { kind: 'buttons', buttons: [{ label: 'Go', does: [] }] },
        ],
      },
    ]),
  ],
  [
    'an empty name',
    campaign([message('a', '/other'), message('b', '/b')], { name: '' }),
    campaign([message('a', '/other'), message('b', '/b')]),
  ],
  ['a field that is none', campaign([message('a', '/x'), message('b', '/b')], { colour: 'red' }), base],
])('%s', (_, draft, expected) => {
  const made = goodPart(base, draft, wrongIn);
  expect(wrongIn(made)).toEqual([]);
  expect(made).toEqual(expected);
});

test('several wrong ones at once, each in its place', () => {
  const draft = campaign([message('a', 'no', 'One'), message('b', 'neither', 'Two')], { name: '' });
  expect(goodPart(base, draft, wrongIn)).toEqual(campaign([message('a', '/a', 'One'), message('b', '/b', 'Two')]));
});

test('whatever is wrong, what is made of it is right, and what is right is left as it is', () => {
  const texts = fc.oneof(fc.constantFrom('/ok', 'https://ok.example', 'wrong', ''), fc.string({ maxLength: 5 }));
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.constantFrom('a', 'b', 'c', 'd'), texts), { minLength: 1, maxLength: 6 }),
      fc.string(),
      (made, name) => {
        const draft = campaign(
          made.map(([id, url]) => message(id, url)),
          { name },
        );
        const good = goodPart(base, draft, wrongIn);
        expect(wrongIn(good)).toEqual([]);
        if (wrongIn(draft).length === 0) expect(good).toBe(draft);
        expect(goodPart(base, good, wrongIn)).toBe(good);
      },
    ),
  );
});
