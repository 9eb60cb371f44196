// Random rules, visitors and timelines for property tests. Small vocabularies, so that conditions meet what they ask for.
import fc from 'fast-check';
import type { SiteEvent, Visit, Visitor, View } from '../../history/visitor';
import { CHANNELS, DAY_MS, DEVICE_CATEGORIES, OUTCOMES, WEATHERS } from '../../history/visitor';
import type { Moment } from '../../moments/moment';
import type { Signal } from '../../moments/signal';
import type { Pacing } from '../../pacing/pacing';
import type { Pages } from '../../pages/pages';
import type { PagePattern } from '../../pages/pattern';
import type { PeopleCondition } from '../../people/condition';
import type { Expr } from '../expr';
import type { Range } from '../range';
import type { Rule } from '../schema';
import type { ValueTest } from '../valueTest';

export const NOW = Date.parse('2026-11-25T10:30:00Z');
const PATHS = ['/', '/huts', '/huts/upper-moss', '/huts/closed', '/book', '/book/done', '/routes/ridge/day-2'];
const EVENTS = ['booking', 'quote_opened'];
const SELECTORS = ['#book-now', '.signup'];
const TAGS = ['family', 'skier'];

const maybe = <T>(one: fc.Arbitrary<T>) => fc.option(one, { nil: undefined });
/** Leaves out what is undefined, as parsed JSON would. */
function shape<T extends object>(fields: { [K in keyof T]: fc.Arbitrary<T[K]> }): fc.Arbitrary<T> {
  return fc.record(fields).map((record) => Object.fromEntries(Object.entries(record).filter(([, value]) => value !== undefined)) as T);
}

const range = (most: number): fc.Arbitrary<Range> =>
  fc.oneof(
    fc.integer({ min: 0, max: most }).map((min) => ({ min })),
    fc.integer({ min: 0, max: most }).map((max) => ({ max })),
    fc
      .tuple(fc.integer({ min: 0, max: most }), fc.integer({ min: 0, max: most }))
      .map(([a, b]) => ({ min: Math.min(a, b), max: Math.max(a, b) })),
  );
const within = maybe(fc.constantFrom<number | 'visit'>(1, 7, 30, 'visit'));
const times = maybe(range(4));
const list = <T>(from: readonly T[]) => fc.uniqueArray(fc.constantFrom(...from), { minLength: 1, maxLength: 2 });

export const pattern: fc.Arbitrary<PagePattern> = fc.oneof(
  fc.record({ op: fc.constantFrom('is' as const, 'like' as const), value: fc.constantFrom(...PATHS, '/huts/*', '/huts/**', '/**/day-2') }),
  fc.record({
    op: fc.constantFrom('starts' as const, 'contains' as const, 'ends' as const),
    value: fc.constantFrom('/huts', 'book', 'done'),
  }),
  fc.constantFrom<PagePattern>(
    { part: 'title', op: 'contains', value: 'moss' },
    { part: 'parameter', name: 'ref', op: 'exists' },
    { part: 'label', op: 'is', value: 'winter' },
  ),
);
const pages = maybe(fc.array(pattern, { minLength: 1, maxLength: 2 }));

const text = fc.constantFrom('yes', 'no', 'member-plus', '5');
export const valueTest: fc.Arbitrary<ValueTest> = fc.oneof(
  fc.record({ op: fc.constantFrom('is' as const, 'contains' as const, 'starts' as const, 'ends' as const), value: text }),
  fc.record({ op: fc.constant('oneOf' as const), value: list(['yes', '5']) }),
  fc.constant({ op: 'exists' as const }),
  range(9).map((bounds) => ({ op: 'range' as const, ...bounds })),
  range(60).map((bounds) => ({ op: 'daysAgo' as const, ...bounds })),
);
const textTest = fc.oneof(
  fc.record({ op: fc.constantFrom('is' as const, 'contains' as const), value: text }),
  fc.constant({ op: 'exists' as const }),
);
const where = maybe(fc.array(fc.record({ key: fc.constantFrom('value', 'hut'), test: valueTest }), { minLength: 1, maxLength: 1 }));
const kind = <K extends string>(name: K) => fc.constant(name);

const calendar = shape<Extract<PeopleCondition, { kind: 'calendar' }>>({
  kind: kind('calendar'),
  from: maybe(fc.constantFrom('2026-11-20', '2026-11-25T10:30:00Z', '2026-12-01')),
  until: maybe(fc.constantFrom('2026-12-24', '2027-01-01')),
  weekdays: maybe(fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1, maxLength: 3 })),
  hours: maybe(fc.constantFrom<[string, string]>(['08:00', '12:00'], ['10:00', '11:00'], ['22:00', '06:00'])),
  zone: maybe(fc.constantFrom('visitor', 'Europe/Vienna')),
});

export const condition: fc.Arbitrary<PeopleCondition> = fc.oneof(
  shape({ kind: kind('viewed'), pages, times, within }),
  shape({ kind: kind('did'), event: fc.constantFrom(...EVENTS), where, times, within }),
  shape({ kind: kind('engaged'), pages, seconds: range(60), within }),
  shape({ kind: kind('read'), pages, scroll: fc.constantFrom(25, 50, 90), times, within }),
  shape({ kind: kind('visits'), times: range(4), within }),
  fc.record({ kind: kind('away'), days: range(20) }),
  fc.record({ kind: kind('firstSeen'), days: range(60) }),
  fc.record({ kind: kind('known'), is: fc.boolean() }),
  fc.record({ kind: kind('trait'), key: fc.constantFrom('plan', 'nights', 'joined', 'gone'), test: valueTest }),
  fc.record({ kind: kind('tagged'), tag: fc.constantFrom(...TAGS) }),
  fc.record({ kind: kind('score'), points: range(9) }),
  shape({ kind: kind('response'), campaign: fc.constantFrom('c1', 'c2'), outcome: fc.constantFrom(...OUTCOMES), times, within }),
  shape({
    kind: kind('source'),
    of: maybe(fc.constantFrom('visit' as const, 'first' as const, 'ever' as const)),
    channel: maybe(list(CHANNELS)),
    referrer: maybe(textTest),
    utm: maybe(shape({ campaign: maybe(textTest) })),
  }),
  shape({ kind: kind('location'), countries: maybe(list(['AT', 'DE', 'IT'])), cities: maybe(list(['graz', 'Munich'])) }),
  shape({ kind: kind('weather'), is: maybe(list(WEATHERS)), celsius: maybe(range(9)) }),
  shape({ kind: kind('device'), category: maybe(list(DEVICE_CATEGORIES)), os: maybe(list(['iOS', 'Linux'])) }),
  fc.record({ kind: kind('language'), is: list(['de', 'de-AT', 'it']) }),
  fc.record({ kind: kind('cookie'), name: fc.constant('seen'), test: textTest }),
  fc.record({ kind: kind('adBlocker'), is: fc.boolean() }),
  calendar.filter(({ from, until }) => !from || !until || Date.parse(from) < Date.parse(until)),
  fc.record({ kind: kind('staffed'), is: fc.boolean() }),
  fc.record({ kind: kind('team'), is: fc.boolean() }),
);

const instant: fc.Arbitrary<Moment> = fc.oneof(
  fc.constant<Moment>({ kind: 'exit' }),
  fc.record({ kind: kind('idle'), seconds: fc.constantFrom(5, 20) }),
);
const lasting: fc.Arbitrary<Moment> = fc.oneof(
  fc.constantFrom<Moment>({ kind: 'open' }, { kind: 'scrollStart' }),
  shape({
    kind: kind('delay'),
    seconds: fc.constantFrom(0, 5, 20, 40),
    of: maybe(fc.constantFrom('page' as const, 'visit' as const)),
    counting: maybe(fc.constantFrom('open' as const, 'engaged' as const)),
  }),
  fc.record({ kind: kind('scroll'), atLeast: fc.constantFrom(10, 40, 75) }),
  fc.record({ kind: kind('reach'), selector: fc.constantFrom(...SELECTORS) }),
  shape({
    kind: kind('visible'),
    selector: fc.constantFrom(...SELECTORS),
    share: fc.constantFrom(1, 50),
    seconds: maybe(fc.constantFrom(2, 6)),
  }),
  fc.record({ kind: kind('click'), selector: fc.constantFrom(...SELECTORS) }),
  shape({ kind: kind('clicks'), atLeast: fc.constantFrom(1, 3), of: maybe(fc.constantFrom('page' as const, 'visit' as const)) }),
  shape({ kind: kind('event'), name: fc.constantFrom(...EVENTS), where }),
);

export function exprOf<T extends object>(leaf: fc.Arbitrary<T>, inNone: fc.Arbitrary<T> = leaf, depth = 2): fc.Arbitrary<Expr<T>> {
  if (depth === 0) return leaf;
  const parts = fc.array(exprOf(leaf, inNone, depth - 1), { maxLength: 3 });
  return fc.oneof(
    { weight: 3, arbitrary: leaf },
    { weight: 2, arbitrary: parts.map((all): Expr<T> => ({ all })) },
    { weight: 1, arbitrary: parts.map((any): Expr<T> => ({ any })) },
    { weight: 1, arbitrary: fc.array(exprOf(inNone, inNone, depth - 1), { maxLength: 2 }).map((none): Expr<T> => ({ none })) },
  );
}

export const people = exprOf(condition);
export const moment = exprOf(fc.oneof(instant, lasting), lasting);
export const pacing: fc.Arbitrary<Pacing> = shape<Pacing>({
  again: maybe(fc.constantFrom<NonNullable<Pacing['again']>>('each', 'always', 'visit', 'never', { days: 1 }, { days: 7 })),
  stop: maybe(shape({ converted: maybe(fc.boolean()), dismissed: maybe(fc.constantFrom(1, 2)), shown: maybe(fc.constantFrom(1, 3)) })),
  alone: maybe(fc.boolean()),
});
const pageRules: fc.Arbitrary<Pages> = shape<Pages>({
  on: maybe(fc.array(pattern, { maxLength: 2 })),
  except: maybe(fc.array(pattern, { maxLength: 2 })),
});
export const rule: fc.Arbitrary<Rule> = shape<Rule>({
  version: fc.constant(undefined),
  people: maybe(people),
  pages: maybe(pageRules),
  moment: maybe(moment),
  pacing: maybe(pacing),
});

const url = fc
  .constantFrom(...PATHS)
  .chain((path) => fc.constantFrom('', '?ref=a').map((query) => `https://www.tarnhollow.example${path}${query}`));
const labels = maybe(fc.subarray(['winter', 'article']));
const props = fc.record({ value: fc.integer({ min: 0, max: 9 }), hut: text });

function visitAt(at: number): fc.Arbitrary<Visit> {
  const view = shape<View>({
    at: fc.integer({ min: 0, max: 600_000 }).map((later) => at + later),
    url,
    title: maybe(fc.constantFrom('Upper Moss', 'Routes')),
    labels,
    engaged: fc.integer({ min: 0, max: 60 }),
    scroll: fc.integer({ min: 0, max: 100 }),
  });
  const event: fc.Arbitrary<SiteEvent> = fc.record({
    at: fc.integer({ min: 0, max: 600_000 }).map((later) => at + later),
    name: fc.constantFrom(...EVENTS),
    props,
  });
  const byTime = <T extends { at: number }>(ones: readonly T[]): T[] => [...ones].sort((a, b) => a.at - b.at);
  return shape<Visit>({
    at: fc.constant(at),
    source: maybe(
      shape({
        channel: fc.constantFrom(...CHANNELS),
        referrer: maybe(fc.constantFrom('yes.example', 'maps.example')),
        utm: shape({ campaign: maybe(text) }),
      }),
    ),
    views: fc.tuple(view, fc.array(view, { maxLength: 3 })).map(([first, more]) => byTime([{ ...first, at }, ...more])),
    events: fc.array(event, { maxLength: 2 }).map(byTime),
  });
}

export const visitor: fc.Arbitrary<Visitor> = fc
  .uniqueArray(fc.integer({ min: 1, max: 60 * 24 }), { minLength: 1, maxLength: 4 })
  .map((hours) => hours.sort((a, b) => b - a).map((ago) => NOW - ago * 3_600_000))
  .chain((starts) =>
    shape<Visitor>({
      visits: fc.tuple(...starts.map(visitAt)),
      known: fc.boolean(),
      traits: shape({
        plan: maybe(text),
        nights: maybe(fc.integer({ min: 0, max: 9 })),
        joined: maybe(fc.constantFrom('2026-11-01', '2026-10-10T00:00:00Z')),
      }),
      tags: fc.subarray(TAGS),
      score: maybe(fc.integer({ min: 0, max: 9 })),
      responses: fc.array(
        fc.record({
          campaign: fc.constantFrom('c1', 'c2'),
          outcome: fc.constantFrom(...OUTCOMES),
          at: fc.integer({ min: 1, max: 40 }).map((days) => NOW - days * DAY_MS + 7),
        }),
        { maxLength: 3 },
      ),
      device: maybe(
        shape({
          category: maybe(fc.constantFrom(...DEVICE_CATEGORIES)),
          os: maybe(fc.constantFrom('iOS', 'Linux')),
          browser: fc.constant('Chrome'),
        }),
      ),
      location: maybe(shape({ country: maybe(fc.constantFrom('AT', 'DE')), city: maybe(fc.constantFrom('Graz', 'Munich')) })),
      weather: maybe(shape({ is: maybe(fc.constantFrom(...WEATHERS)), celsius: maybe(fc.integer({ min: 0, max: 9 })) })),
      language: maybe(fc.constantFrom('de-AT', 'it')),
      cookies: maybe(shape({ seen: maybe(fc.constantFrom('yes', 'no')) })),
      adBlocker: maybe(fc.boolean()),
      team: maybe(fc.boolean()),
      zone: maybe(fc.constantFrom('Europe/Vienna', 'Asia/Tokyo')),
    } as unknown as { [K in keyof Visitor]: fc.Arbitrary<Visitor[K]> }),
  );

const signalBody: fc.Arbitrary<Record<string, unknown>> = fc.oneof(
  { weight: 3, arbitrary: fc.integer({ min: 0, max: 20 }).map((step) => ({ s: 'scroll', depth: step * 5 })) },
  { weight: 2, arbitrary: fc.constant({ s: 'input' }) },
  { weight: 2, arbitrary: fc.constant({ s: 'exit' }) },
  { weight: 2, arbitrary: fc.subarray(SELECTORS).map((on) => ({ s: 'click', on })) },
  {
    weight: 2,
    arbitrary: fc.record({
      s: fc.constant('seen'),
      selector: fc.constantFrom(...SELECTORS),
      share: fc.constantFrom(0, 40, 60, 100),
      top: fc.boolean(),
    }),
  },
  { weight: 1, arbitrary: fc.record({ s: fc.constant('event'), name: fc.constantFrom(...EVENTS), props }) },
  { weight: 1, arbitrary: fc.constantFrom({ s: 'hide' }, { s: 'show' }) },
);
/** A page view's signals in order, and its last instant. */
export const timeline: fc.Arbitrary<{ signals: Signal[]; leave: number }> = fc
  .tuple(fc.array(fc.tuple(fc.integer({ min: 0, max: 12_000 }), signalBody), { maxLength: 12 }), fc.integer({ min: 0, max: 50_000 }))
  .map(([steps, tail]) => {
    let t = 0;
    const signals = steps.map(([pause, body]) => ({ ...body, t: (t += pause) }) as unknown as Signal);
    return { signals, leave: t + tail };
  });
