// What was typed, read as a part of a rule: people, pages, moment or pacing. Every kind says itself how it is typed.
import type { Expr } from '../logic/expr';
import { asGroup } from '../logic/expr';
import type { Moment } from '../moments/moment';
import { momentKinds, momentWords } from '../moments/moment';
import type { Pacing } from '../pacing/pacing';
import { pacingWords } from '../pacing/words';
import { pacingTyped } from '../pacing/typed';
import type { WordsFor } from '../pages/names';
import type { PagePattern } from '../pages/pattern';
import { patternWords } from '../pages/pattern';
import { pagesTyped } from '../pages/typed';
import type { PeopleCondition } from '../people/condition';
import { conditionWords, peopleKinds } from '../people/condition';
import type { Said } from '../typing/said';
import { said as takeApart } from '../typing/said';
import type { Reading } from '../typing/spoken';
import type { Vocabulary } from '../typing/vocabulary';
import type { Family } from './describe';
import { exprWords } from './describe';
import type { Rule } from './schema';

/** One way to read what was typed. Above 2 it was said so; below, something on record is called so. */
export interface RuleReading {
  readonly id: string;
  readonly family: Family;
  readonly words: string;
  readonly sureness: number;
  /** The rule with this in it; the same rule where it is in it already. */
  readonly addTo: (rule: Rule) => Rule;
  /** Of people readings, the condition itself. */
  readonly people?: Expr<PeopleCondition>;
  readonly moment?: Expr<Moment>;
  readonly pattern?: PagePattern;
}

/** Readings, the surest first; none where nobody understands it. */
export function readTyped(typed: string, vocabulary: Vocabulary, names: WordsFor): RuleReading[] {
  const whole = read(typed, vocabulary, names);
  if (whole.some(({ sureness }) => sureness >= 2)) return whole;
  const joined = readParts(typed, vocabulary, names);
  return joined ? [joined, ...whole] : whole;
}

function read(typed: string, vocabulary: Vocabulary, names: WordsFor): RuleReading[] {
  const said = takeApart(typed);
  if (said.raw === '') return [];
  const found = [
    ...readPeople(said, vocabulary, names),
    ...readMoment(said, vocabulary),
    ...readPages(said, vocabulary, names),
    ...pacingTyped(typed).map(({ pacing, sureness }) => pacingReading(pacing, sureness)),
  ].sort((a, b) => b.sureness - a.sureness);
  return [...new Map(found.reverse().map((one) => [one.id, one] as const)).values()].sort((a, b) => b.sureness - a.sureness);
}

/** "phone and from Austria", "monday or tuesday": each part has to be sure by itself. */
function readParts(typed: string, vocabulary: Vocabulary, names: WordsFor): RuleReading | undefined {
  const isOr = /\s+or\s+/i.test(typed);
  const parts = typed.split(isOr ? /\s+or\s+/i : /\s+and\s+|\s*,\s*|\s*;\s*/i).filter((part) => part.trim() !== '');
  if (parts.length < 2) return undefined;
  const readings = parts.map((part) => read(part, vocabulary, names)[0]);
  if (!readings.every((one) => one !== undefined && one.sureness >= 2)) return undefined;
  const sure = readings as RuleReading[];
  const [first] = sure;
  if (!first) return undefined;
  const words = sure.map((one) => one.words).join(isOr ? ' or ' : ' and ');
  const base = { id: `parts ${sure.map(({ id }) => id).join(' ')}`, family: first.family, words, sureness: 2 };
  if (!isOr) return { ...base, addTo: (rule) => sure.reduce((now, { addTo }) => addTo(now), rule) };
  if (sure.every(({ people }) => people !== undefined)) {
    const any = { any: sure.map(({ people }) => people as Expr<PeopleCondition>) };
    return { ...base, people: any, addTo: (rule) => ({ ...rule, people: joinedTo(rule.people, any, 'and') }) };
  }
  if (sure.every(({ moment }) => moment !== undefined)) {
    const any = { any: sure.map(({ moment }) => moment as Expr<Moment>) };
    return { ...base, moment: any, addTo: (rule) => ({ ...rule, moment: momentWith(rule.moment, any, 'and') }) };
  }
  // Pages are alternatives anyway.
  return sure.every(({ family }) => family === 'pages')
    ? { ...base, addTo: (rule) => sure.reduce((now, { addTo }) => addTo(now), rule) }
    : undefined;
}

function readPeople(said: Said, vocabulary: Vocabulary, names: WordsFor): RuleReading[] {
  return peopleKinds().flatMap((kind) =>
    kind.isSupplied
      ? kind
          .typed(said, vocabulary)
          .filter(({ leaf }) => fits(kind, leaf))
          .map((reading) => {
            const denied = said.isNegated && !reading.includesNot;
            return peopleReading(denied ? (kind.negate?.(reading.leaf) ?? { none: [reading.leaf] }) : reading.leaf, {
              ...reading,
              said,
              names,
            });
          })
      : [],
  );
}

const schemas = new WeakMap<object, { readonly safeParse: (leaf: unknown) => { readonly success: boolean } }>();

/** What was understood but may not be (a delay of minus one second) is not offered. */
function fits(
  kind: { readonly schema: () => { readonly safeParse: (leaf: unknown) => { readonly success: boolean } } },
  leaf: unknown,
): boolean {
  let schema = schemas.get(kind);
  if (!schema) schemas.set(kind, (schema = kind.schema()));
  return schema.safeParse(leaf).success;
}

interface About {
  readonly sureness: number;
  readonly said?: Pick<Said, 'joins'>;
  readonly names: WordsFor;
}

export function peopleReading(people: Expr<PeopleCondition>, { sureness, said, names }: About): RuleReading {
  const joins = said?.joins ?? 'and';
  return {
    id: `people ${joins} ${JSON.stringify(people)}`,
    family: 'people',
    words: `${joins === 'or' ? 'or ' : ''}${exprWords(people, 'people', (condition) => conditionWords(condition, names))}`,
    sureness,
    people,
    addTo: (rule) => {
      const next = joinedTo(rule.people, people, joins);
      return next === rule.people ? rule : { ...rule, people: next };
    },
  };
}

function readMoment(said: Said, vocabulary: Vocabulary): RuleReading[] {
  return momentKinds().flatMap((kind) =>
    kind.typed(said, vocabulary).flatMap((reading: Reading<Moment>) => {
      const denied = said.isNegated && !reading.includesNot;
      // "did not move to leave" has no moment at which it comes true.
      if ((denied && kind.isInstant) || !fits(kind, reading.leaf)) return [];
      return [momentReading(denied ? { none: [reading.leaf] } : reading.leaf, { sureness: reading.sureness, said })];
    }),
  );
}

export function momentReading(moment: Expr<Moment>, { sureness, said }: Omit<About, 'names'>): RuleReading {
  const joins = said?.joins ?? 'and';
  return {
    id: `moment ${joins} ${JSON.stringify(moment)}`,
    family: 'moment',
    words: `${joins === 'or' ? 'or ' : ''}${exprWords(moment, 'moment', momentWords)}`,
    sureness,
    moment,
    addTo: (rule) => {
      const next = momentWith(rule.moment, moment, joins);
      return next === rule.moment ? rule : { ...rule, moment: next };
    },
  };
}

function readPages(said: Said, vocabulary: Vocabulary, names: WordsFor): RuleReading[] {
  const field = said.isNegated ? 'except' : 'on';
  return pagesTyped(said, vocabulary).flatMap(({ pattern, sureness }) => {
    if (pattern !== 'any') return [pageReading(pattern, { field, sureness: sureness + (said.isNegated ? 0.5 : 0), names })];
    if (said.isNegated) return [];
    return [
      {
        id: 'pages any',
        family: 'pages' as const,
        words: 'on any page',
        sureness,
        addTo: (rule: Rule): Rule => (rule.pages?.on?.length ? { ...rule, pages: { ...rule.pages, on: [] } } : rule),
      },
    ];
  });
}

export function pageReading(
  pattern: PagePattern,
  { field = 'on', sureness, names }: { field?: 'on' | 'except'; sureness: number; names: WordsFor },
): RuleReading {
  return {
    id: `pages ${field} ${JSON.stringify(pattern)}`,
    family: 'pages',
    words: `${field} ${patternWords(pattern, names.set)}`,
    sureness,
    pattern,
    addTo: (rule) => {
      const before = rule.pages?.[field] ?? [];
      if (before.some((one) => isSame(one, pattern))) return rule;
      // "Any page" is no page beside another.
      const kept = field === 'on' ? before.filter((one) => 'set' in one || one.value !== '/**') : before;
      return { ...rule, pages: { ...rule.pages, [field]: [...kept, pattern] } };
    },
  };
}

export function pacingReading(pacing: Pacing, sureness: number): RuleReading {
  const [often = ''] = pacingWords(pacing);
  const usual = pacingWords({});
  // What is typed says nothing of conversions, unless it does.
  const { stop } = pacing;
  const said = stop && !('converted' in stop) ? { ...pacing, stop: { ...stop, converted: false } } : pacing;
  return {
    id: `pacing ${JSON.stringify(pacing)}`,
    family: 'pacing',
    words: pacing.again ? often : (pacingWords(said).find((words) => !usual.includes(words)) ?? 'until a conversion'),
    sureness,
    addTo: (rule) => ({
      ...rule,
      pacing: { ...rule.pacing, ...pacing, ...(pacing.stop ? { stop: { ...rule.pacing?.stop, ...pacing.stop } } : {}) },
    }),
  };
}

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** Put beside what is there; "or" goes with what was said last. What is there already is not put in twice. */
function joinedTo<T extends object>(expr: Expr<T> | undefined, more: Expr<T>, joins: 'and' | 'or'): Expr<T> {
  if (expr === undefined) return more;
  const group = asGroup(expr);
  if (joins === 'or') {
    if (group?.join === 'any') return group.parts.some((one) => isSame(one, more)) ? expr : { any: [...group.parts, more] };
    if (group?.join !== 'all') return isSame(expr, more) ? expr : { any: [expr, more] };
    const last = group.parts.at(-1);
    return { all: [...group.parts.slice(0, -1), joinedTo(last, more, 'or')] };
  }
  if (isSame(expr, more)) return expr;
  if (group?.join !== 'all') return { all: [expr, more] };
  return group.parts.some((one) => isSame(one, more)) ? expr : { all: [...group.parts, more] };
}

/** A rule that shows at the opening waits from now on: the first moment takes its place. */
function momentWith(moment: Expr<Moment> | undefined, more: Expr<Moment>, joins: 'and' | 'or'): Expr<Moment> {
  const isOpening = moment !== undefined && 'kind' in moment && moment.kind === 'open';
  return joinedTo(isOpening ? undefined : moment, more, joins);
}
