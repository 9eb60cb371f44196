import fc from 'fast-check';
import { openTimeline, takeSignal } from '../moments/timeline';
import { momentHolds } from '../moments/moment';
import { emptyPacing } from '../pacing/pacing';
import { replayView } from '../pacing/replay';
import { pagesHold } from '../pages/pages';
import { covers } from '../pages/covers';
import { patternHolds } from '../pages/pattern';
import { peopleHold } from '../people/condition';
import type { Subject } from '../people/subject';
import { writeOut } from '../people/writeOut';
import { describeRule, sentenceOf } from './describe';
import { explainRule } from './explain';
import { applyMend, lintRule } from './lint';
import { parseRule } from './parse';
import { moment, NOW, pattern, people, rule, timeline, visitor } from './testing/arbitrary';
import { and } from './truth';

// fast-check prints the seed and path of a failure; FAST_CHECK_SEED repeats it.
fc.configureGlobal({ numRuns: 400, ...(process.env['FAST_CHECK_SEED'] ? { seed: Number(process.env['FAST_CHECK_SEED']) } : {}) });

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

test('a mend gives a rule that can be parsed', () => {
  fc.assert(
    fc.property(rule, (one) => {
      for (const { mend } of lintRule(one, { now: NOW }))
        if (mend) expect(parseRule(JSON.parse(JSON.stringify(applyMend(one, mend)))).ok).toBe(true);
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
