import { applyFix, lintRule } from './lint';
import type { Rule } from './schema';

const NOW = Date.parse('2026-11-25T00:00:00Z');
const codes = (rule: Rule): string[] => lintRule(rule, { now: NOW }).map(({ code, severity }) => `${severity} ${code}`);

test.each<{ rule: Rule; finds: string[] }>([
  { rule: { pages: { on: [{ op: 'is', value: '/huts' }], except: [{ op: 'is', value: '/Huts' }] } }, finds: ['never pages.allExcepted'] },
  {
    rule: {
      pages: {
        on: [
          { op: 'is', value: '/huts' },
          { op: 'is', value: '/book' },
        ],
        except: [{ op: 'is', value: '/huts' }],
      },
    },
    finds: ['note pages.excepted'],
  },
  { rule: { moment: { any: [] } }, finds: ['never group.emptyAny'] },
  {
    rule: { people: { all: [{ kind: 'known', is: true }, { none: [{ kind: 'known', is: true }] }] } },
    finds: ['never group.contradiction'],
  },
  { rule: { people: { kind: 'calendar', until: '2026-11-24' } }, finds: ['never condition.impossible'] },
  { rule: { people: { none: [{ kind: 'calendar', until: '2026-11-24' }] } }, finds: [] },
  // Whoever is here for the first time was never away, by whatever number of days.
  { rule: { people: { none: [{ kind: 'away', days: { min: 0 } }] } }, finds: [] },
  {
    rule: {
      people: {
        none: [
          { kind: 'away', days: { max: 3 } },
          { kind: 'away', days: { min: 3 } },
        ],
      },
    },
    finds: [],
  },
  {
    rule: { people: { all: [{ kind: 'away', days: { min: 9 } }, { none: [{ kind: 'away', days: { min: 3 } }] }] } },
    finds: ['never group.contradiction'],
  },
  { rule: { people: { kind: 'device', category: ['phone'] }, moment: { kind: 'exit' } }, finds: ['hardly exit.phonesOnly'] },
  { rule: { people: { kind: 'device', category: ['phone', 'desktop'] }, moment: { kind: 'exit' } }, finds: [] },
  {
    rule: { moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 60 }, { kind: 'exit' }] } },
    finds: ['note condition.repeated'],
  },
  {
    rule: {
      moment: {
        all: [
          { kind: 'delay', seconds: 10 },
          { kind: 'delay', seconds: 60 },
        ],
      },
    },
    finds: ['note condition.contained'],
  },
  {
    rule: {
      people: {
        all: [
          { kind: 'device', category: ['phone'] },
          { kind: 'device', category: ['phone', 'tablet'] },
        ],
      },
    },
    finds: ['note condition.contained'],
  },
  {
    rule: {
      pages: {
        on: [
          { op: 'like', value: '/huts/**' },
          { op: 'is', value: '/huts/moss' },
        ],
      },
    },
    finds: ['note pages.contained'],
  },
  { rule: {}, finds: [] },
])('$rule has $finds', ({ rule, finds }) => {
  expect(codes(rule)).toEqual(finds);
});

test('everything that is known around a rule is used', () => {
  const shape = { type: 'Circle' as const, center: [11, 47] as const, coordinates: [11, 47], radius: 900 };
  const rule: Rule = {
    people: {
      all: [
        { kind: 'segment', id: 'gone' },
        { kind: 'location', places: ['small'] },
      ],
    },
    pages: { on: [{ set: 'gone' }] },
    moment: { kind: 'click', selector: 'register' },
  };
  const found = lintRule(rule, {
    now: NOW,
    segments: {},
    sets: {},
    places: { small: { name: 'Yard', shape } } as never,
    budget: { perVisit: 0 },
    locationAccuracy: 25_000,
    matchesOf: (selector) => (selector === '.register' ? 12 : 0),
  });
  expect(found.map(({ code }) => code).sort()).toEqual(['budget.none', 'place.tooSmall', 'segment.gone', 'selector.noMatch', 'set.gone']);
  const fix = found.find(({ code }) => code === 'selector.noMatch')?.fix;
  expect(fix && applyFix(rule, fix).moment).toEqual({ kind: 'click', selector: '.register' });
});

test('a fix takes out a group that it leaves empty, and the brackets around what is left alone', () => {
  const rule: Rule = { people: { all: [{ kind: 'known', is: true }, { any: [{ kind: 'tagged', tag: 'a' }] }] } };
  expect(applyFix(rule, { kind: 'remove', path: ['people', 'all', 1, 'any', 0], words: '' }).people).toEqual({ kind: 'known', is: true });
  expect(applyFix(rule, { kind: 'remove', path: ['people', 'all', 0], words: '' }).people).toEqual({ any: [{ kind: 'tagged', tag: 'a' }] });
  expect(applyFix({ people: { all: [{ kind: 'known', is: true }] } }, { kind: 'remove', path: ['people', 'all', 0], words: '' })).toEqual(
    {},
  );
});

test('of two that cannot hold together both are named', () => {
  const location = (country: string) => ({ kind: 'location' as const, countries: [country] });
  const rule = { people: { all: [location('AT'), { kind: 'known', is: true }, location('DE')] } } as Rule;
  expect(lintRule(rule, { now: 0 }).filter(({ code }) => code === 'group.contradiction')).toEqual([
    expect.objectContaining({ path: ['people', 'all', 2], other: ['people', 'all', 0], severity: 'never' }),
  ]);
});
