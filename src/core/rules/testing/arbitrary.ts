// Random rules, visitors and timelines for property tests. Small vocabularies, so that conditions meet what they ask for.
import fc from 'fast-check';
import type { Fact } from '../../facts/fact';
import { FACTS } from '../../facts/facts';
import type { SiteEvent, Visit, Visitor, View } from '../../history/visitor';
import { CHANNELS, OUTCOMES, WEATHERS } from '../../history/visitor';
import type { Moment } from '../../moments/moment';
import { momentKinds } from '../../moments/moment';
import type { Signal } from '../../moments/signal';
import type { Pacing } from '../../pacing/pacing';
import type { Pages } from '../../pages/pages';
import type { PeopleCondition } from '../../people/condition';
import { peopleKinds } from '../../people/condition';
import type { Expr } from '../../logic/expr';
import type { Rule } from '../schema';
import { maybe as optional, PATHS, patternExample, shape as shaped, textExample } from '../../testing/examples';
import { DAY_MS } from '../../time/day';

export const NOW = Date.parse('2026-11-25T10:30:00Z');
const EVENTS = ['booking', 'quote_opened'];
const SELECTORS = ['#book-now', '.signup'];
const TAGS = ['family', 'skier'];

const maybe = <T>(one: fc.Arbitrary<T>) => optional(fc, one);
const shape = <T extends object>(fields: { [K in keyof T]: fc.Arbitrary<T[K]> }): fc.Arbitrary<T> => shaped(fc, fields);

export const pattern = patternExample(fc);
const text = textExample(fc);

/** Of every kind but those that name a segment, by the kinds' own examples. */
export const condition: fc.Arbitrary<PeopleCondition> = fc.oneof(
  ...peopleKinds()
    .filter(({ kind }) => kind !== 'segment')
    .map(({ example }) => example(fc)),
);

/** Of every kind, by the kinds' own examples; those that are true at an instant only may not be denied. */
const momentsOf = (isInstant: boolean): fc.Arbitrary<Moment> =>
  fc.oneof(
    ...momentKinds()
      .filter((kind) => kind.isInstant === isInstant)
      .map(({ example }) => example(fc)),
  );
const [instant, lasting] = [momentsOf(true), momentsOf(false)];

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
      location: maybe(shape({ country: maybe(fc.constantFrom('AT', 'DE')), city: maybe(fc.constantFrom('Graz', 'Munich')) })),
      weather: maybe(shape({ is: maybe(fc.constantFrom(...WEATHERS)), celsius: maybe(fc.integer({ min: 0, max: 9 })) })),
      staffed: maybe(fc.boolean()),
      ...Object.fromEntries(Object.entries<Fact>(FACTS).map(([key, { example }]) => [key, maybe(example(fc))])),
    }),
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
  { weight: 1, arbitrary: fc.constantFrom({ s: 'hide' }, { s: 'show' }, { s: 'whole' }) },
);
/** A page view's signals in order, and its last instant. */
export const timeline: fc.Arbitrary<{ signals: Signal[]; leave: number }> = fc
  .tuple(fc.array(fc.tuple(fc.integer({ min: 0, max: 12_000 }), signalBody), { maxLength: 12 }), fc.integer({ min: 0, max: 50_000 }))
  .map(([steps, tail]) => {
    let t = 0;
    const signals = steps.map(([pause, body]) => ({ ...body, t: (t += pause) }) as unknown as Signal);
    return { signals, leave: t + tail };
  });
