import { referencesIn } from './references';

test('segments, page sets and places are found however deep they stand, each once', () => {
  const rule = {
    people: {
      all: [
        { kind: 'segment', id: 'seg_a' },
        {
          none: [
            { kind: 'location', places: ['place_a', 'place_b'] },
            { kind: 'segment', id: 'seg_a' },
          ],
        },
        { kind: 'viewed', pages: [{ set: 'set_a' }, { op: 'like', value: '/x' }], times: { min: 1 } },
      ],
    },
    pages: { on: [{ set: 'set_b' }], except: [{ set: 'set_a' }] },
  };
  expect(referencesIn(rule)).toEqual({ segments: ['seg_a'], sets: ['set_a', 'set_b'], places: ['place_a', 'place_b'] });
});

test('what names nothing names nothing', () => {
  for (const document of [undefined, null, 3, 'segment', {}, [], { kind: 'location', cities: ['Graz'] }])
    expect(referencesIn(document)).toEqual({ segments: [], sets: [], places: [] });
});
