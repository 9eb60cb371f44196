import type { PeopleCondition } from '../people/condition';
import { momentKindOf } from '../moments/moment';
import { isJudgedInPage } from '../people/condition';
import type { SegmentBody } from '../people/subject';
import { writeOut } from '../people/writeOut';
import { leavesOf } from '../logic/expr';
import type { Rule } from './schema';

/** What a rule has to be told, so that nothing else is watched or asked for. */
export interface Needs {
  /** Parts of pages beyond the address. */
  readonly title: boolean;
  readonly labels: boolean;
  /** Of the visitor: what the server has to work out, by kind of condition. */
  readonly facts: readonly PeopleCondition['kind'][];
  /** Of the browser. */
  readonly cookies: readonly string[];
  readonly adBlocker: boolean;
  readonly language: boolean;
  readonly zone: boolean;
  /** Of the page view. */
  readonly scroll: boolean;
  readonly exit: boolean;
  readonly idle: boolean;
  readonly clicks: boolean;
  readonly events: readonly string[];
  /** Elements to watch for clicks on them, and for coming into view. */
  readonly clickSelectors: readonly string[];
  readonly viewSelectors: readonly string[];
}

/** Segments are looked into where they are given; otherwise the server works them out as a fact. */
export function needsOf(rule: Rule, segments: Readonly<Record<string, SegmentBody>> = {}): Needs {
  const people = rule.people === undefined ? [] : leavesOf(writeOut(rule.people, segments, [])).map(({ leaf }) => leaf);
  const moments = leavesOf(rule.moment).map(({ leaf }) => leaf);
  const patterns = [...(rule.pages?.on ?? []), ...(rule.pages?.except ?? [])];
  const asksPart = (part: 'title' | 'label'): boolean => patterns.some((pattern) => 'set' in pattern || pattern.part === part);
  const unique = <T>(values: readonly T[]): T[] => [...new Set(values)].sort();
  const hasMoment = (...kinds: readonly (typeof moments)[0]['kind'][]): boolean => moments.some(({ kind }) => kinds.includes(kind));
  const selectorsOf = (watched: 'click' | 'view'): string[] =>
    moments.flatMap((leaf) => ('selector' in leaf && momentKindOf(leaf).watches === watched ? [leaf.selector] : []));
  return {
    title: asksPart('title'),
    labels: asksPart('label'),
    facts: unique(people.filter((leaf) => !isJudgedInPage(leaf)).map(({ kind }) => kind)),
    cookies: unique(people.flatMap((leaf) => (leaf.kind === 'cookie' ? [leaf.name] : []))),
    adBlocker: people.some(({ kind }) => kind === 'adBlocker'),
    language: people.some(({ kind }) => kind === 'language'),
    zone: people.some((leaf) => leaf.kind === 'calendar' && (leaf.zone ?? 'visitor') === 'visitor'),
    scroll: hasMoment('scroll', 'scrollStart'),
    exit: hasMoment('exit'),
    idle: hasMoment('idle'),
    clicks: hasMoment('click', 'clicks'),
    events: unique(moments.flatMap((leaf) => (leaf.kind === 'event' ? [leaf.name] : []))),
    clickSelectors: unique(selectorsOf('click')),
    viewSelectors: unique(selectorsOf('view')),
  };
}
