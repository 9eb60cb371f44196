import { z } from 'zod';
import type { Expr, Path } from './expr';
import { MOST_LEAVES, MOST_LEVELS } from './expr';

type Report = (path: Path, issue: { message: string; [key: string]: unknown }) => void;

/**
 * Checks an expression of unknown shape node by node, so that every mistake is told with its own path and a hostile
 * nesting ends early. Leaves are checked by their own schema.
 */
export function exprSchema<T extends object>(leaf: () => z.ZodType<T>, alsoRefuse?: (leaf: T, isInNone: boolean) => string | undefined) {
  const leafSchema = leaf();
  return z
    .custom<Expr<T>>((input) => input !== undefined)
    .superRefine((input, context) => {
      let leaves = 0;
      const report: Report = (path, issue) => context.addIssue({ ...issue, code: 'custom', path: [...path], message: issue.message });
      const check = (node: unknown, path: Path, { level, isInNone }: { level: number; isInNone: boolean }): void => {
        const join = joinOf(node);
        if (join === undefined) {
          if (++leaves === MOST_LEAVES + 1) report([], { message: 'expr.tooManyLeaves' });
          if (leaves > MOST_LEAVES) return;
          const parsed = leafSchema.safeParse(node);
          if (!parsed.success)
            for (const issue of parsed.error.issues)
              report([...path, ...(issue.path as Path)], { message: issue.message, params: { issue } });
          else refuse(parsed.data, path, isInNone);
          return;
        }
        if (level === MOST_LEVELS) return report(path, { message: 'expr.tooDeep' });
        const keys = Object.keys(node as object);
        if (keys.length !== 1) return report(path, { message: 'expr.mixedGroup' });
        const parts: unknown = (node as Record<string, unknown>)[join];
        if (!Array.isArray(parts)) return report([...path, join], { message: 'expr.partsNotList' });
        const inside = { level: level + 1, isInNone: isInNone || join === 'none' };
        parts.slice(0, MOST_LEAVES * 2).forEach((part, index) => check(part, [...path, join, index], inside));
        if (parts.length > MOST_LEAVES * 2) report([...path, join], { message: 'expr.tooManyLeaves' });
      };
      const refuse = (one: T, path: Path, isInNone: boolean): void => {
        const message = alsoRefuse?.(one, isInNone);
        if (message) report(path, { message });
      };
      check(input, [], { level: 0, isInNone: false });
    });
}

function joinOf(node: unknown): 'all' | 'any' | 'none' | undefined {
  if (typeof node !== 'object' || node === null) return undefined;
  return (['all', 'any', 'none'] as const).find((join) => Object.hasOwn(node, join));
}
