import type { RecordedVisitor } from '../rehearsal/recorded';
import { compileTerms, termsFromParameters, visitLength } from './filter';

const MINUTE = 60_000;
const visitor: RecordedVisitor = {
  id: 7,
  visitIds: ['v0', 'v1'],
  viewIds: [['a', 'b'], ['c']],
  timelines: [
    [
      { signals: [], leave: 30_000 },
      { signals: [], leave: 2 * MINUTE },
    ],
    undefined,
  ],
  record: {
    device: { category: 'phone' },
    changes: [],
    responses: [{ campaign: 'camp_a', outcome: 'converted', at: 3 * MINUTE }],
    visits: [
      {
        at: 0,
        source: { channel: 'email', utm: { source: 'Newsletter', campaign: 'spring' } },
        location: { country: 'NO', city: 'Dunbeck' },
        events: [],
        views: [
          { at: 0, url: 'https://shop.example/huts/moss', engaged: 20, scroll: 50 },
          { at: MINUTE, url: 'https://shop.example/booking?x=1', engaged: 60, scroll: 100 },
        ],
      },
      {
        at: 1000 * MINUTE,
        source: { channel: 'referral', referrer: 'walks.example', utm: {} },
        events: [],
        views: [{ at: 1000 * MINUTE, url: 'https://shop.example/', engaged: 45, scroll: 0 }],
      },
    ],
  },
};

function found(query: string): number[] {
  const { terms, issues } = termsFromParameters(new URLSearchParams(query));
  expect(issues).toEqual([]);
  const test = compileTerms(terms, (segment, id) => segment === 'seg_seven' && id === 7);
  return [0, 1].filter((visit) => test(visitor, visit));
}

test.each([
  ['', [0, 1]],
  ['page=/huts/**', [0]],
  ['page=/huts/**&page=/booking', [0]],
  ['page=/huts/**&page=/', []],
  ['page=/', [1]],
  ['source=email', [0]],
  ['source=newsletter', [0]],
  ['source=SPRING', [0]],
  ['source=walks.example', [1]],
  ['source=email&source=referral', [0, 1]],
  ['device=phone', [0, 1]],
  ['device=tablet', []],
  ['place=no', [0]],
  ['place=dunbeck&device=phone', [0]],
  ['segment=seg_seven', [0, 1]],
  ['segment=seg_other', []],
  ['outcome=converted', [0]],
  ['outcome=converted:camp_a', [0]],
  ['outcome=converted:camp_b', []],
  ['outcome=dismissed', []],
  ['longer=180', [0]],
  ['longer=181', []],
  ['shorter=45', [1]],
  ['who={"kind":"visits","times":{"min":2}}', [1]],
  ['who={"none":[{"kind":"device","category":["phone"]}]}', []],
  ['who={"kind":"visits","times":{"max":1}}&place=no', [0]],
  ['who={"kind":"cookie","name":"a","test":{"op":"exists"}}', []],
])('%p finds visits %p', (query, expected) => {
  expect(found(query)).toEqual(expected);
});

test('the length of a visit is to the last leaving known, or to the engaged time of its last page', () => {
  expect(visitLength(visitor, 0)).toBe(3 * MINUTE);
  expect(visitLength(visitor, 1)).toBe(45_000);
});

test('what is no term is named with what was met and what is expected', () => {
  const { terms, issues } = termsFromParameters(
    new URLSearchParams('device=fridge&colour=red&longer=soon&page=%20&outcome=bought&who=nobody&at=5&device=phone'),
    ['at'],
  );
  expect(terms).toEqual([{ kind: 'device', value: 'phone' }]);
  expect(issues.map(({ path, met }) => [path[0], met])).toEqual([
    ['device', 'fridge'],
    ['colour', 'red'],
    ['longer', 'soon'],
    ['page', ' '],
    ['outcome', 'bought'],
    ['who', 'nobody'],
  ]);
  expect(issues.every(({ expected }) => expected.length > 0)).toBe(true);
});

test('the same term twice is one, and more than thirty are too many', () => {
  const many = Array.from({ length: 40 }, (_, index) => `page=/p${index}`).join('&');
  expect(termsFromParameters(new URLSearchParams('page=/a&page=/a')).terms).toHaveLength(1);
  expect(termsFromParameters(new URLSearchParams(many)).terms).toHaveLength(30);
});
