import type { ValueTest } from '../logic/valueTest';
import type { Said } from './said';
import { said as takeApart } from './said';
import { valueTyped } from './valueTyped';

export interface PropertyTest {
  readonly key: string;
  readonly test: ValueTest;
}

/** Takes "where value is at least 50 and hut is moss", or "value>50", off the end of what was said of an event. */
export function whereTyped(whole: Said): { where: PropertyTest[]; rest: Said } {
  const plain = whole.isNegated ? whole.text : whole.raw;
  const [, before = plain, clause] = /^(.*?)\s+(?:where|with)\s+(.+)$/i.exec(plain) ?? [];
  if (clause !== undefined) {
    const [, own = clause, window = ''] =
      /^(.*?)((?:\s+(?:at least|at most|exactly)? ?\d+(?: to \d+)? times?)?(?:\s+(?:in|within) (?:the )?(?:last|this).*)?)$/i.exec(
        clause,
      ) ?? [];
    const where = own.split(/\s+and\s+(?=[\w.-]+\s)/i).map((one): PropertyTest | undefined => {
      const [, key = '', rest = ''] = /^([\w.-]+)\s*(.*)$/.exec(one.trim()) ?? [];
      const test = valueTyped(rest.replace(/^=(?=\S)/, '= '));
      return key === '' || !test ? undefined : { key, test };
    });
    if (where.every((one) => one !== undefined)) return { where, rest: takeApart(before + window) };
  }
  if (whole.assignments.length === 0) return { where: [], rest: whole };
  const where = whole.assignments.flatMap(({ key, op, value }): PropertyTest[] => {
    const number = Number(value);
    if (op === '=') return [{ key, test: { op: 'is', value } }];
    if (!Number.isFinite(number) || op === '!=') return [];
    return [{ key, test: op.startsWith('>') ? { op: 'range', min: number } : { op: 'range', max: number } }];
  });
  return where.length === whole.assignments.length ? { where, rest: { ...whole, assignments: [] } } : { where: [], rest: whole };
}
