import type { Places } from '../geo/place';
import { reachOf } from '../geo/place';
import type { Moment } from '../moments/moment';
import type { Budget } from '../pacing/pacing';
import { covers } from '../pages/covers';
import type { PagePattern } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import type { SegmentBody } from '../people/subject';
import { writeOut } from '../people/writeOut';
import {
  conditionImplies,
  isExcepted,
  momentImpossible,
  momentImplies,
  momentsContradict,
  peopleContradict,
  peopleImpossible,
} from './contradictions';
import type { Expr, Path } from '../logic/expr';
import { asGroup, leavesOf } from '../logic/expr';
import type { Literal } from '../logic/literals';
import { alternatives } from '../logic/literals';
import type { Rule, SegmentDocument } from './schema';

/** One change that would fix a finding. */
export type Fix =
  | { readonly kind: 'remove'; readonly path: Path; readonly words: string }
  | { readonly kind: 'replace'; readonly path: Path; readonly value: unknown; readonly words: string };

/** Something about a rule that its author would want to know. `never`: it cannot show; `hardly`: it can, but seldom. */
export interface Finding {
  readonly code: string;
  readonly severity: 'never' | 'hardly' | 'note';
  readonly path: Path;
  readonly message: string;
  /** Of two that cannot hold together, the one at which `path` does not stand. */
  readonly other?: Path;
  readonly fix?: Fix;
}

/** What is known around the rule; the more is given, the more is found. `now` is UTC ms. */
export interface LintContext {
  readonly now: number;
  readonly segments?: Readonly<Record<string, SegmentBody>>;
  readonly sets?: Readonly<Record<string, unknown>>;
  readonly places?: Places;
  readonly budget?: Budget;
  /** How exact locations are, in metres. */
  readonly locationAccuracy?: number;
  /** On how many recorded pages a selector matched; undefined where that was not recorded. */
  readonly matchesOf?: (selector: string) => number | undefined;
}

export function lintRule(rule: Rule, context: LintContext): Finding[] {
  return [
    ...lintPeople(rule.people, context),
    ...lintPages(rule, context),
    ...lintMoment(rule, context),
    ...(context.budget?.perVisit === 0
      ? [{ code: 'budget.none', severity: 'never' as const, path: ['pacing'], message: 'The site’s budget allows no showing at all.' }]
      : []),
  ];
}

export const lintSegment = (segment: SegmentDocument, context: LintContext): Finding[] => lintPeople(segment.people, context);

/** The rule with the fix applied; a group left empty by it is taken out as well. */
export function applyFix<T extends object>(document: T, fix: Fix): T {
  const copy = structuredClone(document) as Record<string | number, unknown>;
  const at = (path: Path) =>
    path.reduce<Record<string | number, unknown>>((node, key) => node[key] as Record<string | number, unknown>, copy);
  const remove = (path: Path): void => {
    const [parent, last] = [at(path.slice(0, -1)), path.at(-1) as string | number];
    if (!Array.isArray(parent)) return void delete parent[last];
    parent.splice(last as number, 1);
    // The group itself is what stands two steps above its part; lists of pages are no groups.
    const group = path.slice(0, -2);
    if (group.length === 0 || path[0] === 'pages') return;
    if (parent.length === 0) remove(group);
    else if (parent.length === 1 && path.at(-2) === 'all') at(group.slice(0, -1))[group.at(-1) as string | number] = parent[0];
  };
  if (fix.kind === 'remove') remove(fix.path);
  else at(fix.path.slice(0, -1))[fix.path.at(-1) as string | number] = fix.value;
  return copy as T;
}

function lintPeople(people: Expr<PeopleCondition> | undefined, context: LintContext): Finding[] {
  if (people === undefined) return [];
  const segments = context.segments ?? {};
  const known = context.segments && leavesOf(people, ['people']).filter(({ leaf }) => leaf.kind === 'segment' && !segments[leaf.id]);
  const gone = (known ?? []).map(({ path }): Finding => ({
    code: 'segment.gone',
    severity: 'never',
    path,
    message: 'This segment no longer exists.',
    fix: { kind: 'remove', path, words: 'Take it out' },
  }));
  return [
    ...gone,
    ...lintExpr(writeOut(people, segments, []), {
      root: 'people',
      contradict: peopleContradict,
      impossible: (literal) => peopleImpossible(literal, context.now),
      shape: people,
    }),
    ...lintPlaces(people, context),
    ...lintRepeats(people, { root: 'people', implies: conditionImplies }),
  ];
}

interface Repeats<T> {
  readonly root: 'people' | 'moment';
  readonly implies: (tighter: T, looser: T) => boolean;
}

/** What stands twice in one group, or asks for what another asks for anyway. */
function lintRepeats<T extends object>(expr: Expr<T>, { root, implies }: Repeats<T>, path: Path = [root]): Finding[] {
  const group = asGroup(expr);
  if (!group) return [];
  const { join, parts } = group;
  const inside = parts.flatMap((part, index) => lintRepeats(part, { root, implies }, [...path, join, index]));
  const found = parts.flatMap((part, index): Finding[] => {
    const at = [...path, join, index];
    const fix = { kind: 'remove', path: at, words: 'Take it out' } as const;
    if (parts.slice(0, index).some((other) => JSON.stringify(other) === JSON.stringify(part)))
      return [{ code: 'condition.repeated', severity: 'note', path: at, message: 'This stands here twice.', fix }];
    if (asGroup(part)) return [];
    // Of "all", what the other asks for anyway says nothing; of "any" and "none", what the other takes in.
    const isIdle = parts.some((other, nth) => {
      if (nth === index || asGroup(other) || JSON.stringify(other) === JSON.stringify(part)) return false;
      return join === 'all' ? implies(other as T, part as T) : implies(part as T, other as T);
    });
    return isIdle
      ? [{ code: 'condition.contained', severity: 'note', path: at, message: 'Another condition beside it says this already.', fix }]
      : [];
  });
  return [...found, ...inside];
}

interface Reasoning<T extends object> {
  readonly root: 'people' | 'moment';
  /** The expression as its author wrote it: written-out segments have no paths of their own. */
  readonly shape: Expr<T>;
  readonly contradict: (a: Literal<T>, b: Literal<T>) => string | undefined;
  readonly impossible: (literal: Literal<T>) => string | undefined;
}

function lintExpr<T extends object>(expr: Expr<T>, reasoning: Reasoning<T>): Finding[] {
  const terms = alternatives(expr);
  if (!terms) return [];
  const reasons = terms.map((term) => reasonAgainst(term, reasoning));
  if (terms.length === 0)
    return [{ code: 'group.emptyAny', severity: 'never', path: [reasoning.root], message: 'This asks for any of nothing.' }];
  const dead = reasons.filter((reason) => reason !== undefined);
  if (dead.length < terms.length) return [];
  const [first] = dead;
  if (!first) return [];
  const path = [reasoning.root, ...within(reasoning.shape, first.path)];
  const isAlone = terms.length === 1 && path.length > 1 && typeof path.at(-1) === 'number';
  return [
    {
      code: first.code,
      severity: 'never',
      path,
      message: first.message,
      ...(first.other ? { other: [reasoning.root, ...within(reasoning.shape, first.other)] } : {}),
      ...(isAlone ? { fix: { kind: 'remove', path, words: 'Take it out' } as const } : {}),
    },
  ];
}

function reasonAgainst<T extends object>(
  term: readonly Literal<T>[],
  { contradict, impossible }: Reasoning<T>,
): { code: string; path: Path; message: string; other?: Path } | undefined {
  for (const [index, literal] of term.entries()) {
    const alone = impossible(literal);
    if (alone) return { code: 'condition.impossible', path: literal.path, message: alone };
    for (const other of term.slice(0, index)) {
      const message = contradict(other, literal);
      if (message) return { code: 'group.contradiction', path: literal.path, message, other: other.path };
    }
  }
  return undefined;
}

/** As much of a path as exists in what the author wrote. */
function within<T extends object>(shape: Expr<T>, path: Path): Path {
  const [join, index, ...rest] = path;
  const group = asGroup(shape);
  const part = group && group.join === join ? group.parts[index as number] : undefined;
  return part === undefined ? [] : [join as string, index as number, ...within(part, rest)];
}

function lintPages({ pages }: Rule, { sets }: LintContext): Finding[] {
  const on = pages?.on ?? [];
  const except = pages?.except ?? [];
  const gone = sets
    ? [
        ...on.map((pattern, index) => ({ pattern, path: ['pages', 'on', index] })),
        ...except.map((pattern, index) => ({ pattern, path: ['pages', 'except', index] })),
      ].filter(({ pattern }) => 'set' in pattern && !sets[pattern.set])
    : [];
  const missing = gone.map(({ path }): Finding => ({
    code: 'set.gone',
    severity: 'hardly',
    path,
    message: 'This page set no longer exists.',
    fix: { kind: 'remove', path, words: 'Take it out' },
  }));
  const excepted = on.flatMap((pattern, index) => (isExcepted(pattern, except) ? [index] : []));
  if (on.length > 0 && excepted.length === on.length) {
    return [
      ...missing,
      {
        code: 'pages.allExcepted',
        severity: 'never',
        path: ['pages', 'except'],
        message: 'Every page the rule is on is also excepted.',
        fix: { kind: 'remove', path: ['pages', 'except'], words: 'Except no page' },
      },
    ];
  }
  return [
    ...missing,
    ...contained(on, 'on'),
    ...contained(except, 'except'),
    ...excepted.map((index): Finding => {
      const path = ['pages', 'on', index];
      return {
        code: 'pages.excepted',
        severity: 'note',
        path,
        message: 'This page is also excepted, so it never counts.',
        fix: { kind: 'remove', path, words: 'Take it out' },
      };
    }),
  ];
}

/** Patterns that another in the list takes in. Of two that say the same the later is named. */
function contained(patterns: readonly PagePattern[], field: 'on' | 'except'): Finding[] {
  return patterns.flatMap((pattern, index): Finding[] => {
    const isIn = patterns.some((other, nth) => nth !== index && covers(other, pattern) && (nth < index || !covers(pattern, other)));
    const path = ['pages', field, index];
    return isIn
      ? [
          {
            code: 'pages.contained',
            severity: 'note',
            path,
            message: 'Another page pattern takes this one in.',
            fix: { kind: 'remove', path, words: 'Take it out' },
          },
        ]
      : [];
  });
}

function lintMoment({ moment, people }: Rule, { matchesOf }: LintContext): Finding[] {
  if (moment === undefined) return [];
  const findings = [
    ...lintExpr<Moment>(moment, { root: 'moment', shape: moment, contradict: momentsContradict, impossible: momentImpossible }),
    ...lintRepeats<Moment>(moment, { root: 'moment', implies: momentImplies }),
  ];
  const exit = leavesOf(moment, ['moment']).find(({ leaf }) => leaf.kind === 'exit');
  const isPhonesOnly = leavesOf(people).some(
    ({ leaf, negated }) => leaf.kind === 'device' && !negated && leaf.category?.every((one) => one === 'phone'),
  );
  if (exit && isPhonesOnly) {
    findings.push({
      code: 'exit.phonesOnly',
      severity: 'hardly',
      path: exit.path,
      message: 'Phones have no pointer: an exit is only guessed from a fast scroll back up.',
    });
  }
  for (const { leaf, path } of leavesOf(moment, ['moment'])) {
    if ('selector' in leaf && matchesOf && (matchesOf(leaf.selector) === 0 || isBareName(leaf.selector, matchesOf)))
      findings.push(nothingMatches(leaf.selector, [...path, 'selector'], matchesOf));
  }
  return findings;
}

/** A class or an id without its dot or hash: a name that nobody looked for as a tag, and that is on record with one of them. */
const isBareName = (selector: string, matchesOf: (selector: string) => number | undefined): boolean =>
  /^[\w-]+$/.test(selector) && matchesOf(selector) === undefined && ['.', '#'].some((mark) => (matchesOf(mark + selector) ?? 0) > 0);

function nothingMatches(selector: string, path: Path, matchesOf: (selector: string) => number | undefined): Finding {
  const meant = ['.', '#']
    .map((mark) => mark + selector.replace(/^[.#]/, ''))
    .find((other) => other !== selector && (matchesOf(other) ?? 0) > 0);
  return {
    code: 'selector.noMatch',
    severity: 'never',
    path,
    message: meant
      ? `“${selector}” matches nothing on the recorded pages; did you mean “${meant}”?`
      : `“${selector}” matches nothing on the recorded pages.`,
    ...(meant ? { fix: { kind: 'replace', path, value: meant, words: `Use ${meant}` } as const } : {}),
  };
}

function lintPlaces(people: Expr<PeopleCondition>, { places, locationAccuracy }: LintContext): Finding[] {
  if (!places || locationAccuracy === undefined) return [];
  return leavesOf(people, ['people']).flatMap(({ leaf, path }) => {
    const small =
      leaf.kind === 'location' ? (leaf.places ?? []).filter((id) => places[id] && reachOf(places[id].shape) < locationAccuracy) : [];
    return small.map((id): Finding => ({
      code: 'place.tooSmall',
      severity: 'hardly',
      path,
      message: `“${places[id]?.name}” is smaller than locations are exact (about ${Math.round(locationAccuracy / 1000)} km).`,
    }));
  });
}
