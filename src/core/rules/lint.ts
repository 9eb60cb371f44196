import type { PagePattern } from '../pages/pattern';
import { isoInstant } from './valueTest';
import type { Expr, Path } from './expr';
import { asGroup, leavesOf } from './expr';
import type { Rule } from './schema';

/** Something about a rule that its author would want to know. `never`: it cannot show; `hardly`: it can, but seldom. */
export interface Finding {
  readonly code: string;
  readonly severity: 'never' | 'hardly' | 'note';
  readonly path: Path;
  readonly message: string;
}

/** What can be told from the rule alone. `now` in UTC ms. */
export function lintRule(rule: Rule, now: number): Finding[] {
  return [
    ...lintPages(rule),
    ...lintGroups(rule.people, ['people']),
    ...lintGroups(rule.moment, ['moment']),
    ...lintCalendars(rule, now),
    ...lintMoment(rule),
  ];
}

function lintPages({ pages }: Rule): Finding[] {
  const on = pages?.on ?? [];
  const except = pages?.except ?? [];
  const isExcepted = (pattern: PagePattern) => except.some((other) => samePattern(pattern, other));
  if (on.length > 0 && on.every(isExcepted)) {
    return [
      { code: 'pages.allExcepted', severity: 'never', path: ['pages', 'except'], message: 'Every page the rule is on is also excepted.' },
    ];
  }
  return on.flatMap((pattern, index) =>
    isExcepted(pattern)
      ? [
          {
            code: 'pages.excepted',
            severity: 'note' as const,
            path: ['pages', 'on', index],
            message: 'This page is also excepted, so it never counts.',
          },
        ]
      : [],
  );
}

const samePattern = (a: PagePattern, b: PagePattern): boolean => JSON.stringify(a).toLowerCase() === JSON.stringify(b).toLowerCase();

/** An empty `any`, or a condition beside its own negation, can never hold. */
function lintGroups<T extends object>(expr: Expr<T> | undefined, path: Path): Finding[] {
  if (expr === undefined) return [];
  const group = asGroup(expr);
  if (!group) return [];
  const here: Finding[] = [];
  if (group.join === 'any' && group.parts.length === 0) {
    here.push({ code: 'group.emptyAny', severity: 'never', path, message: 'This group asks for any of nothing.' });
  }
  if (group.join === 'all') {
    const asked = new Set(group.parts.map((part) => JSON.stringify(part)));
    group.parts.forEach((part, index) => {
      const inner = asGroup(part);
      if (inner?.join === 'none' && inner.parts.some((one) => asked.has(JSON.stringify(one)))) {
        here.push({
          code: 'group.contradiction',
          severity: 'never',
          path: [...path, 'all', index],
          message: 'The same condition is asked for and ruled out.',
        });
      }
    });
  }
  return [...here, ...group.parts.flatMap((part, index) => lintGroups(part, [...path, group.join, index]))];
}

function lintCalendars({ people }: Rule, now: number): Finding[] {
  return leavesOf(people, ['people']).flatMap(({ leaf, path, negated }) => {
    const until = leaf.kind === 'calendar' && leaf.until ? isoInstant(leaf.until) : undefined;
    if (negated || until === undefined || until > now) return [];
    return [
      {
        code: 'calendar.over',
        severity: 'never' as const,
        path,
        message: `The calendar ended ${new Date(until).toISOString().slice(0, 10)}.`,
      },
    ];
  });
}

function lintMoment({ moment, people }: Rule): Finding[] {
  const exit = leavesOf(moment, ['moment']).find(({ leaf }) => leaf.kind === 'exit');
  const devices = leavesOf(people, ['people']).find(
    ({ leaf, negated }) => leaf.kind === 'device' && !negated && leaf.category?.every((one) => one === 'phone'),
  );
  if (!exit || !devices) return [];
  return [
    {
      code: 'exit.phonesOnly',
      severity: 'hardly',
      path: exit.path,
      message: 'Phones have no pointer: an exit is only guessed from a fast scroll back up.',
    },
  ];
}
