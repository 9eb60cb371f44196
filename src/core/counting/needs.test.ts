import { countingNeeds, pagesNeeded } from './needs';

const huts = [{ op: 'like' as const, value: '/huts/**' }];

test('viewed pages ask for the views of those pages only', () => {
  expect(countingNeeds({ lookback: 30, people: { kind: 'viewed', pages: huts } }, {})).toEqual({
    patterns: [huts],
    measures: false,
    histories: 'none',
  });
});

test('a view of any page, and measures, ask for every view', () => {
  expect(countingNeeds({ lookback: 30, people: { kind: 'viewed', times: { min: 2 } } }, {}).patterns).toBeUndefined();
  const read = countingNeeds(
    {
      lookback: 30,
      people: {
        all: [
          { kind: 'viewed', pages: huts },
          { kind: 'read', pages: huts, scroll: 50 },
        ],
      },
    },
    {},
  );
  expect(read).toEqual({ patterns: undefined, measures: true, histories: 'none' });
});

test('what the lists do not hold asks for histories, also through a segment', () => {
  const saved = { a: { lookback: 7, people: { kind: 'tagged' as const, tag: 'family' } } };
  expect(countingNeeds({ lookback: 30, people: { kind: 'segment', id: 'a' } }, saved).histories).toBe('record');
  expect(countingNeeds({ lookback: 30, people: { kind: 'segment', id: 'gone' } }, saved).histories).toBe('none');
});

test('a page is needed if it matches a list, surely or perhaps', () => {
  const pages = [undefined, { url: 'https://s.example/huts/a' }, { url: 'https://s.example/book' }];
  expect(pagesNeeded([huts], pages, {})).toEqual([false, true, false]);
  expect(pagesNeeded([huts, [{ set: 'unknown' }]], pages, {})).toEqual([false, true, true]);
});
