import { lintRule } from './lint';
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
  { rule: {}, finds: [] },
])('$rule has $finds', ({ rule, finds }) => {
  expect(codes(rule)).toEqual(finds);
});
