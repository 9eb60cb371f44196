import type { Truth } from './truth';
import { and, not, or } from './truth';

export type Group<T> = { all: Expr<T>[] } | { any: Expr<T>[] } | { none: Expr<T>[] };
/** A leaf, or leaves joined by all, any or none. Empty `all` and `none` are true, empty `any` is false. */
export type Expr<T> = T | Group<T>;
export type Path = readonly (string | number)[];

export const MOST_LEVELS = 8;
export const MOST_LEAVES = 200;

/** How a group joins its parts, and the parts; undefined for a leaf. */
export function asGroup<T extends object>(expr: Expr<T>): { join: 'all' | 'any' | 'none'; parts: Expr<T>[] } | undefined {
  if ('all' in expr) return { join: 'all', parts: expr.all };
  if ('any' in expr) return { join: 'any', parts: expr.any };
  if ('none' in expr) return { join: 'none', parts: expr.none };
  return undefined;
}

export function joinTruths(join: 'all' | 'any' | 'none', values: readonly Truth[]): Truth {
  if (join === 'all') return and(values);
  return join === 'any' ? or(values) : not(or(values));
}

export function evaluateExpr<T extends object>(expr: Expr<T>, leaf: (leaf: T) => Truth): Truth {
  const group = asGroup(expr);
  if (!group) return leaf(expr as T);
  // Ends at the first part that decides: this runs at every signal.
  const decides = group.join !== 'all';
  let value: Truth = !decides;
  for (const part of group.parts) {
    const met = evaluateExpr(part, leaf);
    if (met === decides) return group.join === 'none' ? false : met;
    if (met === null) value = null;
  }
  return group.join === 'none' ? not(value) : value;
}

export interface Leaf<T> {
  readonly leaf: T;
  readonly path: Path;
  /** True where an odd number of `none` groups stands above the leaf. */
  readonly negated: boolean;
}

export function leavesOf<T extends object>(expr: Expr<T> | undefined, path: Path = [], negated = false): Leaf<T>[] {
  if (expr === undefined) return [];
  const group = asGroup(expr);
  if (!group) return [{ leaf: expr as T, path, negated }];
  const inside = group.join === 'none' ? !negated : negated;
  return group.parts.flatMap((part, index) => leavesOf(part, [...path, group.join, index], inside));
}

export function mapLeaves<T extends object, U extends object>(expr: Expr<T>, change: (leaf: T) => Expr<U>): Expr<U> {
  const group = asGroup(expr);
  if (!group) return change(expr as T);
  return { [group.join]: group.parts.map((part) => mapLeaves(part, change)) } as Group<U>;
}

export function levelsOf<T extends object>(expr: Expr<T>): number {
  const group = asGroup(expr);
  return group ? 1 + Math.max(0, ...group.parts.map(levelsOf)) : 0;
}
