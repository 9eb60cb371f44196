import { CHANNELS } from '../history/visitor';
import { idsAsNames } from '../pages/names';
import type { PeopleCondition } from './condition';
import { conditionWords } from './condition';
import type { Moment } from '../moments/moment';
import { momentWords } from '../moments/moment';
import { pacingWords } from '../pacing/words';

test.each<[PeopleCondition, string]>([
  [{ kind: 'viewed' }, 'viewed any page'],
  [
    {
      kind: 'viewed',
      pages: [
        { op: 'like', value: '/huts/*' },
        { op: 'contains', value: 'moss' },
      ],
      times: { max: 0 },
      within: 7,
    },
    'never viewed /huts/* or path containing "moss" in the last 7 days',
  ],
  [
    { kind: 'did', event: 'booking', where: [{ key: 'value', test: { op: 'range', min: 50 } }], times: { min: 2, max: 2 }, within: 1 },
    'did "booking" where value is at least 50 exactly 2 times in the last day',
  ],
  [{ kind: 'engaged', seconds: { min: 30, max: 60 }, within: 'visit' }, 'engaged 30 to 60 s with any page in this visit'],
  [{ kind: 'read', scroll: 80, times: { min: 3 } }, 'read any page to 80 % at least 3 times'],
  [{ kind: 'visits', times: { min: 1, max: 1 } }, 'made exactly 1 visit'],
  [{ kind: 'away', days: { min: 30 } }, 'came back after at least 30 days away'],
  [{ kind: 'firstSeen', days: { max: 3 } }, 'first came at most 3 days ago'],
  [{ kind: 'known', is: false }, 'are not known yet'],
  [{ kind: 'trait', key: 'joined', test: { op: 'daysAgo', min: 300 } }, 'have a trait "joined" that was at least 300 days ago'],
  [{ kind: 'response', campaign: 'c1', outcome: 'dismissed', times: { min: 2 } }, 'dismissed “c1” at least 2 times'],
  [
    { kind: 'source', of: 'first', channel: [CHANNELS[1], CHANNELS[0]], utm: { campaign: { op: 'starts', value: 'snow' } } },
    'first came from email or paid with utm_campaign that starts with "snow"',
  ],
  [{ kind: 'location', countries: ['AT'], places: ['p1'] }, 'are in countries AT or places “p1”'],
  [{ kind: 'weather', is: ['snow'], celsius: { max: 0 } }, 'have snow and at most 0 °C weather'],
  [{ kind: 'device', category: ['phone', 'tablet'], os: ['iOS'] }, 'use phone or tablet with iOS'],
  [
    { kind: 'calendar', weekdays: [6, 7], hours: ['08:00', '12:00'], zone: 'Europe/Vienna' },
    'come on Sat, Sun between 08:00 and 12:00 in Europe/Vienna',
  ],
  [{ kind: 'cookie', name: 'seen', test: { op: 'exists' } }, 'have a cookie "seen" that is set'],
  [{ kind: 'staffed', is: true }, 'can reach someone by chat now'],
])('%j reads “%s”', (condition, words) => {
  expect(conditionWords(condition, idsAsNames)).toBe(words);
});

test.each<[Moment, string]>([
  [{ kind: 'delay', seconds: 20 }, 'stay for 20 s on the page'],
  [{ kind: 'delay', seconds: 20, of: 'visit', counting: 'engaged' }, 'are engaged for 20 s in the visit'],
  [{ kind: 'visible', selector: '#a', share: 50, seconds: 2 }, 'have 50 % of the element "#a" in view for 2 s'],
  [{ kind: 'clicks', atLeast: 1 }, 'click 1 time on the page'],
  [{ kind: 'event', name: 'booking' }, 'do "booking"'],
])('%j reads “%s”', (moment, words) => {
  expect(momentWords(moment)).toBe(words);
});

test('pacing reads in parts', () => {
  expect(pacingWords({ again: { days: 1 }, stop: { dismissed: 1, shown: 3, converted: false }, alone: true })).toEqual([
    'not again for 1 day',
    'until 1 dismissal or 3 showings',
    'even after a conversion',
    'only if nothing else has shown in the visit',
  ]);
  expect(pacingWords({})).toEqual(['once a visit', 'until a conversion']);
  expect(pacingWords({ stop: { converted: false } })).toEqual(['once a visit', 'even after a conversion']);
  expect(pacingWords({ stop: { dismissed: 2, shown: 1 } })).toEqual(['once a visit', 'until a conversion, 2 dismissals or 1 showing']);
});
