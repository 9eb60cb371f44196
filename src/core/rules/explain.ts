import type { Moment } from '../moments/moment';
import { momentFound, momentWords } from '../moments/moment';
import { leafHolds } from '../moments/runtime';
import type { Timeline } from '../moments/timeline';
import type { Budget, PacingRecord } from '../pacing/pacing';
import { blockedUntil, budgetBlockedUntil } from '../pacing/pacing';
import { pacingWords } from '../pacing/words';
import type { Page } from '../pages/address';
import type { PagePattern } from '../pages/pattern';
import { patternHolds, patternWords } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import { conditionFound, conditionHolds, conditionWords } from '../people/condition';
import type { Subject } from '../people/subject';
import type { Expr, Path } from '../logic/expr';
import { asGroup, joinTruths } from '../logic/expr';
import type { Family } from './describe';
import type { Rule } from './schema';
import type { Truth } from '../logic/truth';
import { and, not, or } from '../logic/truth';
import type { WordsFor } from '../pages/names';
import { idsAsNames } from '../pages/names';

/** A node of a rule with what came of it. Leaves say what was asked and what was found. */
export interface ReasonNode {
  readonly path: Path;
  readonly value: Truth;
  readonly join?: 'all' | 'any' | 'none';
  readonly parts?: readonly ReasonNode[];
  readonly asked?: string;
  readonly found?: string;
}

export interface Explanation {
  /** True: it shows at this instant. */
  readonly value: Truth;
  readonly people: ReasonNode;
  readonly pages: ReasonNode;
  readonly moment: ReasonNode;
  readonly pacing: ReasonNode;
  /** The first family, and in it the first leaf, because of which nothing shows. */
  readonly cause?: { readonly family: Family; readonly node: ReasonNode };
}

export interface Situation {
  readonly subject: Subject;
  readonly page: Page;
  readonly line: Timeline;
  /** UTC ms of the page's opening; `t` is ms since then. */
  readonly openedAt: number;
  readonly t: number;
  readonly campaign: string;
  readonly record: PacingRecord;
  readonly budget?: Budget | undefined;
  readonly isPlaceFree?: boolean | undefined;
  readonly names?: WordsFor;
}

/** Why a rule shows, or does not, for a visitor at an instant: its tree with every leaf's value, what was asked and what was found. */
export function explainRule(rule: Rule, situation: Situation): Explanation {
  const names = situation.names ?? idsAsNames;
  const families = {
    people: explainPeople(rule.people, situation.subject, names),
    pages: explainPages(rule, situation, names),
    moment: explainMoment(rule.moment, situation),
    pacing: explainPacing(rule, situation),
  };
  const value = and([families.people.value, families.pages.value, families.moment.value, families.pacing.value]);
  const silent = (['people', 'pages', 'moment', 'pacing'] as const).find((family) => families[family].value !== true);
  return { value, ...families, ...(silent ? { cause: { family: silent, node: firstCause(families[silent]) } } : {}) };
}

export function explainPeople(people: Expr<PeopleCondition> | undefined, subject: Subject, names: WordsFor = idsAsNames): ReasonNode {
  if (people === undefined) return { path: ['people'], value: true, asked: 'everyone', found: '' };
  return explainExpr(people, ['people'], (leaf, path): ReasonNode => {
    const segment = leaf.kind === 'segment' ? subject.segments[leaf.id] : undefined;
    const value = conditionHolds(leaf, subject);
    const node = { path, value, asked: conditionWords(leaf, names), found: conditionFound(leaf, subject) };
    if (leaf.kind !== 'segment' || !segment || subject.within?.includes(leaf.id)) return node;
    const inner = explainPeople(
      segment.people,
      { ...subject, lookback: segment.lookback, within: [...(subject.within ?? []), leaf.id] },
      names,
    );
    return { ...node, join: 'all', parts: [inner] };
  });
}

function explainPages({ pages }: Rule, { page, subject }: Situation, names: WordsFor): ReasonNode {
  const leaf = (pattern: PagePattern, path: Path): ReasonNode => ({
    path,
    value: patternHolds(pattern, page, subject.sets),
    asked: patternWords(pattern, names.set),
    found: page.url,
  });
  const on = (pages?.on ?? []).map((pattern, index) => leaf(pattern, ['pages', 'on', index]));
  const except = (pages?.except ?? []).map((pattern, index) => leaf(pattern, ['pages', 'except', index]));
  const onNode: ReasonNode = { path: ['pages', 'on'], join: 'any', parts: on, value: on.length ? or(on.map(({ value }) => value)) : true };
  const exceptNode: ReasonNode = {
    path: ['pages', 'except'],
    join: 'none',
    parts: except,
    value: not(or(except.map(({ value }) => value))),
  };
  return { path: ['pages'], join: 'all', parts: [onNode, exceptNode], value: and([onNode.value, exceptNode.value]) };
}

function explainMoment(moment: Expr<Moment> | undefined, { line, t, openedAt }: Situation): ReasonNode {
  const shown: ReasonNode = {
    path: ['moment'],
    value: line.visible,
    asked: 'a tab that is visible',
    found: line.visible ? 'visible' : 'hidden',
  };
  const asked =
    moment === undefined
      ? undefined
      : explainExpr(moment, ['moment'], (leaf, path) => ({
          path,
          value: leafHolds(leaf, line, t, openedAt),
          asked: momentWords(leaf),
          found: momentFound(leaf, line, t),
        }));
  const parts = asked ? [asked, shown] : [shown];
  return { path: ['moment'], join: 'all', parts, value: and(parts.map(({ value }) => value)) };
}

function explainPacing({ pacing = {} }: Rule, { campaign, record, budget, openedAt, t, isPlaceFree = true }: Situation): ReasonNode {
  const now = openedAt + t;
  const seen = record.campaigns[campaign];
  const until = (at: number): string =>
    at === Infinity ? 'blocked for good or for this visit' : at > now ? `blocked until ${new Date(at).toISOString()}` : 'free';
  const paced = blockedUntil(pacing, campaign, record);
  const budgeted = budgetBlockedUntil(budget, record);
  const parts: ReasonNode[] = [
    {
      path: ['pacing'],
      value: paced <= now,
      asked: pacingWords(pacing).join(', '),
      found: seen
        ? `shown ${seen.shown}, dismissed ${seen.dismissed}, converted ${seen.converted}: ${until(paced)}`
        : `never shown to this visitor: ${until(paced)}`,
    },
    {
      path: ['budget'],
      value: budgeted <= now,
      asked: `the site’s budget`,
      found: `${record.visit.showings} shown in this visit: ${until(budgeted)}`,
    },
    { path: ['place'], value: isPlaceFree, asked: 'a free place', found: isPlaceFree ? 'free' : 'held by another message' },
  ];
  return { path: ['pacing'], join: 'all', parts, value: and(parts.map(({ value }) => value)) };
}

function explainExpr<T extends object>(expr: Expr<T>, path: Path, leaf: (leaf: T, path: Path) => ReasonNode): ReasonNode {
  const group = asGroup(expr);
  if (!group) return leaf(expr as T, path);
  const parts = group.parts.map((part, index) => explainExpr(part, [...path, group.join, index], leaf));
  return {
    path,
    join: group.join,
    parts,
    value: joinTruths(
      group.join,
      parts.map(({ value }) => value),
    ),
  };
}

/** The first leaf that keeps its node from being true: one that fails an `all`, or one that holds inside a `none`. */
export function firstCause(node: ReasonNode, negated = false): ReasonNode {
  if (!node.parts?.length) return node;
  const inside = node.join === 'none' ? !negated : negated;
  const isGuilty = ({ value }: ReasonNode): boolean => (inside ? value !== false : value !== true);
  const guilty = node.parts.find(isGuilty);
  return guilty ? firstCause(guilty, inside) : node;
}
