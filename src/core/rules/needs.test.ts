import { needsOf } from './needs';

test('a rule without conditions needs nothing', () => {
  const needs = needsOf({});
  expect(Object.values(needs).every((value) => (Array.isArray(value) ? value.length === 0 : value === false))).toBe(true);
});

test('what a rule asks for is listed once, through segments as well', () => {
  const segments = {
    s: {
      lookback: 30,
      people: { all: [{ kind: 'viewed' as const }, { kind: 'cookie' as const, name: 'seen', test: { op: 'exists' as const } }] },
    },
  };
  const needs = needsOf(
    {
      people: {
        any: [
          { kind: 'segment', id: 's' },
          { kind: 'segment', id: 'gone' },
          { kind: 'calendar', hours: ['08:00', '09:00'] },
        ],
      },
      pages: { except: [{ part: 'title', op: 'contains', value: 'x' }] },
      moment: {
        all: [
          { kind: 'click', selector: '.a' },
          { kind: 'click', selector: '.a' },
          { kind: 'visible', selector: '#b', share: 50 },
          { kind: 'event', name: 'booking' },
        ],
      },
    },
    segments,
  );
  expect(needs).toMatchObject({
    facts: ['segment', 'viewed'],
    cookies: ['seen'],
    zone: true,
    title: true,
    labels: false,
    clickSelectors: ['.a'],
    viewSelectors: ['#b'],
    events: ['booking'],
    scroll: false,
    clicks: true,
  });
});
