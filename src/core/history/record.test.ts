import type { VisitorRecord } from './record';
import { profileAt, visitorAt } from './record';

const record: VisitorRecord = {
  visits: [
    {
      at: 100,
      location: { country: 'AT' },
      views: [
        { at: 100, url: 'https://s.example/', engaged: 1, scroll: 2 },
        { at: 200, url: 'https://s.example/a', engaged: 1, scroll: 2 },
      ],
      events: [{ at: 250, name: 'booking', props: {} }],
    },
    { at: 900, location: { country: 'DE' }, views: [{ at: 900, url: 'https://s.example/b', engaged: 1, scroll: 2 }], events: [] },
  ],
  changes: [
    { at: 150, kind: 'trait', key: 'plan', value: 'solo' },
    { at: 160, kind: 'tag', key: 'family', value: true },
    { at: 170, kind: 'score', key: '', value: 3 },
    { at: 180, kind: 'identity', key: 'email', value: 'a@b.example' },
    { at: 300, kind: 'trait', key: 'plan', value: 'family' },
    { at: 400, kind: 'tag', key: 'family', value: null },
    { at: 410, kind: 'score', key: '', value: -1 },
    { at: 500, kind: 'trait', key: 'plan', value: null },
  ],
  responses: [{ campaign: 'c', outcome: 'shown', at: 260 }],
};

test.each([
  { now: 149, known: false, traits: {}, tags: [], score: 0 },
  { now: 150, known: false, traits: { plan: 'solo' }, tags: [], score: 0 },
  { now: 200, known: true, traits: { plan: 'solo' }, tags: ['family'], score: 3 },
  { now: 399, known: true, traits: { plan: 'family' }, tags: ['family'], score: 3 },
  { now: 1000, known: true, traits: {}, tags: [], score: 2 },
])('at $now it stood as it was then', ({ now, ...standing }) => {
  expect(profileAt(record.changes, now)).toEqual(standing);
});

test('what came later is not there yet, and the location is that of the visit', () => {
  const early = visitorAt(record, 220);
  expect(early.visits).toMatchObject([{ at: 100, views: [{ at: 100 }, { at: 200 }], events: [] }]);
  expect(early.location).toEqual({ country: 'AT' });
  expect(early.responses).toEqual([]);
  const late = visitorAt(record, 1000);
  expect(late.location).toEqual({ country: 'DE' });
  expect(late.responses).toHaveLength(1);
  expect(visitorAt(record, 50).visits).toEqual([]);
});
