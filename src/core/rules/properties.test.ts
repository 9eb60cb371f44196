import fc from 'fast-check';
import { openTimeline, takeSignal } from '../moments/timeline';
import { momentHolds, momentWakesAt } from '../moments/runtime';
import { emptyPacing } from '../pacing/pacing';
import { replayView } from '../pacing/replay';
import { pagesHold } from '../pages/pages';
import { covers } from '../pages/covers';
import { patternHolds } from '../pages/pattern';
import type { Expr } from '../logic/expr';
import { leavesOf } from '../logic/expr';
import { actionKinds } from '../messages/action';
import { blockKinds } from '../messages/block';
import { momentKinds } from '../moments/moment';
import type { PeopleCondition } from '../people/condition';
import { peopleHold, peopleKinds } from '../people/condition';
import type { Subject } from '../people/subject';
import { openOut, writeOut } from '../people/writeOut';
import { describeRule, sentenceOf } from './describe';
import { explainRule } from './explain';
import { applyFix, lintRule } from './lint';
import { parseRule } from './parseRule';
import { moment, NOW, pattern, people, rule, timeline, visitor } from './testing/arbitrary';
import { and } from '../logic/truth';

// The same each time, so that a check does not hang on luck; FAST_CHECK_SEED tries others.
fc.configureGlobal({ numRuns: 400, seed: Number(process.env['FAST_CHECK_SEED'] ?? 20261126) });

const subjectOf = (one: Subject['visitor']): Subject => ({ visitor: one, now: NOW, lookback: 30, sets: {}, segments: {} });

test('a rule that is printed and parsed again is the same', () => {
  fc.assert(
    fc.property(rule, (one) => {
      const json: unknown = JSON.parse(JSON.stringify(one));
      expect(parseRule(json)).toEqual({ ok: true, value: json });
    }),
  );
});

test('the tree of reasons has the value that evaluation has', () => {
  fc.assert(
    fc.property(rule, visitor, timeline, (one, who, { signals }) => {
      const page = { url: 'https://www.tarnhollow.example/huts/upper-moss' };
      const line = openTimeline();
      for (const signal of signals) takeSignal(line, signal);
      const openedAt = NOW - line.t;
      const subject = subjectOf(who);
      const {
        people: p,
        pages,
        moment: m,
        cause,
        value,
      } = explainRule(one, { subject, page, line, openedAt, t: line.t, campaign: 'c', record: emptyPacing(0) });
      expect(p.value).toBe(peopleHold(one.people, subject));
      expect(pages.value).toBe(pagesHold(one.pages, page, {}));
      expect(m.value).toBe(and([momentHolds(one.moment, line, line.t, openedAt), line.visible]));
      expect(cause === undefined).toBe(value === true);
    }),
  );
});

test('what lint calls impossible never holds', () => {
  const never = fc.property(rule, visitor, timeline, (one, who, view) => {
    const findings = lintRule(one, { now: NOW }).filter(({ severity }) => severity === 'never');
    if (findings.length === 0) return;
    const subject = subjectOf(who);
    const fits = (now: number) =>
      and([peopleHold(one.people, { ...subject, now }), pagesHold(one.pages, { url: 'https://www.tarnhollow.example/book' }, {})]);
    const candidate = { id: 'c', place: 'overlay' as const, moment: one.moment, pacing: { again: 'always' as const }, fits };
    expect(replayView({ at: NOW, before: {}, ...view }, { candidates: [candidate], record: emptyPacing(0) })).toEqual([]);
  });
  fc.assert(never, { numRuns: 4000 });
});

test('the people that lint calls impossible match nobody', () => {
  fc.assert(
    fc.property(people, visitor, (asked, who) => {
      if (lintRule({ people: asked }, { now: NOW }).some(({ severity }) => severity === 'never'))
        expect(peopleHold(asked, subjectOf(who))).not.toBe(true);
    }),
    { numRuns: 4000 },
  );
});

/** Two conditions of one kind, asked for or ruled out: where contradictions are. */
const pairs = fc
  .constantFrom(...peopleKinds().filter(({ kind }) => kind !== 'segment'))
  .chain(({ example }) => fc.tuple(example(fc), example(fc), fc.boolean(), fc.boolean()))
  .map(([a, b, denyA, denyB]): Expr<PeopleCondition> => ({ all: [denyA ? { none: [a] } : a, denyB ? { none: [b] } : b] }));

test('of pairs of one kind, what lint calls impossible matches nobody, and what it calls idle changes nothing', () => {
  const found = new Map<string, number>();
  const visitors = fc.sample(visitor, { numRuns: 20, seed: 5 });
  const alone = pairs.map((pair): Expr<PeopleCondition> => ({
    none: leavesOf(pair)
      .slice(0, 1)
      .map(({ leaf }) => leaf),
  }));
  for (const asked of [...fc.sample(pairs, { numRuns: 14_000, seed: 11 }), ...fc.sample(alone, { numRuns: 20_000, seed: 12 })]) {
    for (const { code, severity, fix } of lintRule({ people: asked }, { now: NOW })) {
      found.set(code, (found.get(code) ?? 0) + 1);
      for (const who of visitors) {
        const held = peopleHold(asked, subjectOf(who));
        if (severity === 'never') expect([JSON.stringify(asked), held]).not.toEqual([JSON.stringify(asked), true]);
        if (severity === 'note' && fix) {
          const left = applyFix({ people: asked }, fix).people;
          // What is left out may have been unknown where the other is known.
          if (held !== null) expect([JSON.stringify(asked), peopleHold(left, subjectOf(who))]).toEqual([JSON.stringify(asked), held]);
        }
      }
    }
  }
  const seen = Object.fromEntries(found);
  for (const code of ['group.contradiction', 'condition.impossible', 'condition.repeated', 'condition.contained'])
    expect({ code, seen, isEnough: (found.get(code) ?? 0) >= 200 }).toEqual({ code, seen, isEnough: true });
});

test('moments that lint calls idle change nothing', () => {
  let found = 0;
  const lasting = momentKinds().filter(({ isInstant }) => !isInstant);
  const two = fc.constantFrom(...lasting).chain(({ example }) => fc.tuple(example(fc), example(fc)));
  fc.assert(
    fc.property(two, timeline, fc.boolean(), ([a, b], { signals }, isAny) => {
      const asked = { moment: isAny ? { any: [a, b] } : { all: [a, b] } };
      for (const { fix, severity } of lintRule(asked, { now: NOW })) {
        if (severity !== 'note' || !fix) continue;
        found++;
        const left = applyFix(asked, fix).moment;
        const line = openTimeline();
        // As the decider does: what lasts is followed from the opening.
        for (const one of [asked.moment, left]) momentWakesAt(one, line, 0);
        for (const signal of signals) {
          takeSignal(line, signal);
          expect(momentHolds(left, line, line.t, NOW)).toBe(momentHolds(asked.moment, line, line.t, NOW));
        }
        break;
      }
    }),
    { numRuns: 4000 },
  );
  expect(found).toBeGreaterThan(300);
});

test('the generators make every kind', () => {
  const met = new Set<string>();
  for (const one of fc.sample(rule, { numRuns: 3000, seed: 3 }))
    for (const { leaf } of [...leavesOf(one.people), ...leavesOf(one.moment)]) met.add(leaf.kind);
  const kinds = [...peopleKinds(), ...momentKinds()].map(({ kind }) => kind).filter((kind) => kind !== 'segment');
  expect(kinds.filter((kind) => !met.has(kind))).toEqual([]);
  for (const { kind, example, schema } of [...blockKinds(), ...actionKinds()])
    for (const one of fc.sample<unknown>(example(fc), { numRuns: 20, seed: 3 }))
      expect([kind, schema().safeParse(one).success]).toEqual([kind, true]);
});

test('what a kind begins as can be stored, but for what has to be chosen first', () => {
  const open = ['tagged', 'segment', 'response'];
  for (const { kind, schema, editor } of [...peopleKinds(), ...momentKinds()])
    expect([kind, schema().safeParse(editor.make()).success]).toEqual([kind, !open.includes(kind)]);
  for (const { kind, schema, make } of [...blockKinds(), ...actionKinds()])
    expect([kind, schema().safeParse(make()).success]).toEqual([kind, true]);
});

test('a kind that is counted by the record says the same of histories whose page views were left out', () => {
  const visitors = fc.sample(visitor, { numRuns: 60, seed: 9 });
  for (const { kind, counting, example } of peopleKinds()) {
    if (counting.by !== 'record') continue;
    for (const condition of fc.sample(example(fc), { numRuns: 60, seed: 9 }))
      for (const who of visitors) {
        const without = { ...who, visits: who.visits.map((visit) => ({ ...visit, views: [] })) };
        expect([kind, condition, peopleHold(condition, subjectOf(without))]).toEqual([
          kind,
          condition,
          peopleHold(condition, subjectOf(who)),
        ]);
      }
  }
});

test('a fix gives a rule that can be parsed', () => {
  fc.assert(
    fc.property(rule, (one) => {
      for (const { fix } of lintRule(one, { now: NOW }))
        if (fix) expect(parseRule(JSON.parse(JSON.stringify(applyFix(one, fix)))).ok).toBe(true);
    }),
  );
});

test('a wide pattern matches what the narrow one matches', () => {
  const page = fc
    .constantFrom('/', '/huts', '/huts/upper-moss', '/book/done', '/routes/ridge/day-2', '/hutsmen', '/huts/closed/x')
    .map((path) => ({ url: `https://www.tarnhollow.example${path}?ref=a`, title: 'Moss', labels: ['winter'] }));
  fc.assert(
    fc.property(pattern, pattern, page, (wide, narrow, met) => {
      if (covers(wide, narrow) && patternHolds(narrow, met, {}) === true) expect(patternHolds(wide, met, {})).toBe(true);
    }),
    { numRuns: 5000 },
  );
});

test('two rules that do different things do not read the same', () => {
  const sentences = new Map<string, string>();
  const sample = fc.sample(rule, { numRuns: 8000, seed: 17 });
  for (const one of sample) {
    const text = sentenceOf(describeRule(one));
    const print = JSON.stringify(plain(one));
    expect(sentences.get(text) ?? print).toBe(print);
    sentences.set(text, print);
  }
  expect(sentences.size).toBeGreaterThan(3000);
});

test('people with segments written out hold as they do with segments by name', () => {
  fc.assert(
    fc.property(people, people, visitor, (inner, outer, who) => {
      const segments = { s: { lookback: 7, people: inner } };
      const asked = { all: [outer, { kind: 'segment' as const, id: 's' }] };
      const subject = { ...subjectOf(who), segments };
      expect(peopleHold(writeOut(asked, segments, []), { ...subject, segments: {} })).toBe(peopleHold(asked, subject));
    }),
  );
});

test('a segment opened out in a rule, and people saved as a segment, are the same people', () => {
  fc.assert(
    fc.property(people, fc.constantFrom(7, 30, 540), visitor, (inner, lookback, who) => {
      const [segment, subject] = [
        { lookback, people: inner },
        { ...subjectOf(who), lookback: 540 },
      ];
      const asked = { kind: 'segment' as const, id: 's' };
      const held = peopleHold(asked, { ...subject, segments: { s: segment } });
      expect(peopleHold(openOut(segment, 540), { ...subject, segments: { s: segment } })).toBe(held);
      expect(openOut({ lookback: 540, people: inner }, 540)).toBe(inner);
    }),
  );
});

test('a moment never fires before the page opened or after it was left, and not in a hidden tab', () => {
  fc.assert(
    fc.property(moment, timeline, (asked, view) => {
      const candidate = {
        id: 'c',
        place: 'overlay' as const,
        moment: asked,
        pacing: { again: 'each' as const },
        fits: () => true as const,
      };
      for (const { at } of replayView({ at: 0, before: {}, ...view }, { candidates: [candidate], record: emptyPacing(0) })) {
        expect(at).toBeGreaterThanOrEqual(0);
        expect(at).toBeLessThanOrEqual(view.leave);
        const last = view.signals.filter(({ t, s }) => t <= at && (s === 'hide' || s === 'show')).at(-1);
        if (last && last.t < at) expect(last.s).toBe('show');
      }
    }),
  );
});

/** Rules that ask the same in another form print the same: fields that repeat a default, and groups of one. */
function plain(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(plain);
  if (typeof value !== 'object' || value === null) return value;
  const record = Object.fromEntries(Object.entries(value).map(([key, one]) => [key, plain(one)]));
  for (const join of ['all', 'any'] as const) if (Array.isArray(record[join]) && record[join].length === 1) return record[join][0];
  // No part of a `none` is no condition, as an empty `all` is.
  for (const join of ['none'] as const) if (Array.isArray(record[join]) && record[join].length === 0) return { all: [] };
  if (record['op'] === 'like' && typeof record['value'] === 'string' && !record['value'].includes('*')) record['op'] = 'is';
  const kind = record['kind'];
  if (kind === 'delay') Object.assign(record, { of: record['of'] ?? 'page', counting: record['counting'] ?? 'open' });
  if (kind === 'clicks') record['of'] ??= 'page';
  if (kind === 'source') record['of'] ??= 'visit';
  if (kind === 'calendar') record['zone'] ??= 'visitor';
  if (kind === 'calendar' && record['zone'] === 'visitor') delete record['zone'];
  if (kind === 'source' && JSON.stringify(record['utm']) === '{}') delete record['utm'];
  if ('kind' in record && JSON.stringify(record['times']) === '{"min":1}') delete record['times'];
  if (record['alone'] === false) delete record['alone'];
  if (record['converted'] === true) delete record['converted'];
  if (JSON.stringify(record['stop']) === '{}') delete record['stop'];
  if (record['again'] === 'visit') delete record['again'];
  for (const field of ['on', 'except'] as const) if (Array.isArray(record[field]) && record[field].length === 0) delete record[field];
  if ('pacing' in record || 'pages' in record || 'moment' in record || 'people' in record) {
    for (const field of ['pages', 'pacing'] as const) if (JSON.stringify(record[field]) === '{}') delete record[field];
  }
  return Object.fromEntries(Object.entries(record).sort(([a], [b]) => (a < b ? -1 : 1)));
}
