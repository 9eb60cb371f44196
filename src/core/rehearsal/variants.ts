// Forms of a rule that tell what each of its conditions does: without one of them, and with only the first few.
import type { Moment } from '../moments/moment';
import { momentWords } from '../moments/moment';
import { pacingWords } from '../pacing/words';
import { patternWords } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import { conditionWords } from '../people/condition';
import type { Expr, Group, Path } from '../logic/expr';
import { asGroup, leavesOf } from '../logic/expr';
import type { Rule } from '../rules/schema';
import type { WordsFor } from '../pages/names';
import { idsAsNames } from '../pages/names';

export interface Variant {
  readonly path: Path;
  readonly rule: Rule;
}

/** The rule without each of its leaves, page lists and pacing, one at a time. */
export function withoutEach(rule: Rule): Variant[] {
  const { people, moment, pages, pacing } = rule;
  const variants: Variant[] = [
    ...leavesOf(people, []).map(({ path }) => ({ path: ['people', ...path], rule: put(rule, 'people', removeAt(people, path)) })),
    ...(pages?.on?.length ? [{ path: ['pages', 'on'], rule: { ...rule, pages: { ...pages, on: [] } } }] : []),
    ...(pages?.except ?? []).map((_, index) => ({
      path: ['pages', 'except', index],
      rule: { ...rule, pages: { ...pages, except: (pages?.except ?? []).filter((_one, at) => at !== index) } },
    })),
    ...leavesOf(moment, []).map(({ path }) => ({ path: ['moment', ...path], rule: put(rule, 'moment', removeAt(moment, path)) })),
  ];
  return pacing ? [...variants, { path: ['pacing'], rule: { ...rule, pacing: { again: 'always' as const } } }] : variants;
}

export interface RehearsalStep extends Variant {
  readonly what: string;
}

/** From every visit to a showing: the rule grown condition by condition, in the order of the sentence, without pacing until the last. */
export function steps(rule: Rule, names: WordsFor = idsAsNames): RehearsalStep[] {
  const out: RehearsalStep[] = [{ what: 'all visits', path: [], rule: { pacing: { again: 'visit' } } }];
  // Once a visit is the cheapest pacing that tells in which visits it fires.
  let grown: Rule = { pacing: { again: 'visit' } };
  const grow = (what: string, path: Path, more: Partial<Rule>): void => {
    grown = { ...grown, ...more };
    out.push({ what, path, rule: grown });
  };
  for (const { expr, path, words } of growths<PeopleCondition>(rule.people, (leaf) => conditionWords(leaf, names)))
    grow(words, ['people', ...path], { people: expr });
  if (rule.pages?.on?.length)
    grow(`on ${rule.pages.on.map((one) => patternWords(one, names.set)).join(' or ')}`, ['pages', 'on'], { pages: { on: rule.pages.on } });
  if (rule.pages?.except?.length)
    grow(`except ${rule.pages.except.map((one) => patternWords(one, names.set)).join(' or ')}`, ['pages', 'except'], { pages: rule.pages });
  for (const { expr, path, words } of growths<Moment>(rule.moment, momentWords)) grow(words, ['moment', ...path], { moment: expr });
  grow(pacingWords(rule.pacing ?? {}).join(', '), ['pacing'], { pacing: rule.pacing ?? {} });
  return out;
}

/** The parts of a top-level `all` one after the other; any other expression at once. */
function growths<T extends object>(expr: Expr<T> | undefined, words: (leaf: T) => string): { expr: Expr<T>; path: Path; words: string }[] {
  if (expr === undefined) return [];
  const say = (part: Expr<T>): string =>
    leavesOf(part)
      .map(({ leaf, negated }) => (negated ? `not ${words(leaf)}` : words(leaf)))
      .join(', ') || 'anything';
  const group = asGroup(expr);
  if (group?.join !== 'all') return [{ expr, path: [], words: say(expr) }];
  return group.parts.map((part, index) => ({ expr: { all: group.parts.slice(0, index + 1) }, path: ['all', index], words: say(part) }));
}

function put<K extends 'people' | 'moment'>(rule: Rule, key: K, value: Rule[K]): Rule {
  const { [key]: _old, ...rest } = rule;
  return value === undefined ? rest : { ...rest, [key]: value };
}

/** Takes the leaf at a path away; a group that is left empty goes with it. */
function removeAt<T extends object>(expr: Expr<T> | undefined, path: Path): Expr<T> | undefined {
  const [join, index, ...rest] = path;
  const group = expr && asGroup(expr);
  if (!group || join === undefined) return undefined;
  const parts = group.parts.flatMap((part, at) => {
    if (at !== index) return [part];
    const left = removeAt(part, rest);
    return left === undefined ? [] : [left];
  });
  return parts.length ? ({ [group.join]: parts } as Group<T>) : undefined;
}
