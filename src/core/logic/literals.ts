import type { Expr, Path } from './expr';
import { asGroup } from './expr';

/** A condition that must hold, or must not. */
export interface Literal<T> {
  readonly leaf: T;
  readonly path: Path;
  readonly negated: boolean;
}

const MOST_TERMS = 128;

/**
 * The expression as alternatives of literals (disjunctive normal form): it can be true only if all literals of one of
 * them are. Undefined where there would be more than 128 alternatives.
 */
export function alternatives<T extends object>(expr: Expr<T>, path: Path = [], negated = false): Literal<T>[][] | undefined {
  const group = asGroup(expr);
  if (!group) return [[{ leaf: expr as T, path, negated }]];
  const inside = group.join === 'none' ? !negated : negated;
  const parts = group.parts.map((part, index) => alternatives(part, [...path, group.join, index], inside));
  // A negated `all` is an alternative of its negated parts, and so on (De Morgan).
  const isAlternative = group.join === 'all' ? negated : !inside;
  let terms: Literal<T>[][] | undefined = isAlternative ? [] : [[]];
  for (const part of parts) {
    if (!part || !terms) return undefined;
    terms = isAlternative ? [...terms, ...part] : terms.flatMap((term) => part.map((more) => [...term, ...more]));
    if (terms.length > MOST_TERMS) terms = undefined;
  }
  return terms;
}
