import type { PeopleCondition } from '../people/condition';
import type { Expr } from '../logic/expr';
import type { SegmentDocument } from './schema';

/** The same condition with segments named by other ids; ids that are not in the map stay. */
export function withSegmentIds(people: Expr<PeopleCondition>, ids: ReadonlyMap<string, string>): Expr<PeopleCondition> {
  const walk = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(walk);
    if (typeof value !== 'object' || value === null) return value;
    const { kind, id } = value as { kind?: unknown; id?: unknown };
    if (kind === 'segment' && typeof id === 'string') return { ...value, id: ids.get(id) ?? id };
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, walk(inner)]));
  };
  return walk(people) as Expr<PeopleCondition>;
}

/** Segments in an order in which each comes after those it names; those in a circle come last, in any order. */
export function inOrderOfUse<T extends Pick<SegmentDocument, 'id'>>(
  segments: readonly T[],
  namesOf: (segment: T) => readonly string[],
): T[] {
  const ordered: T[] = [];
  let left = [...segments];
  while (left.length) {
    const ready = left.filter((one) => namesOf(one).every((id) => !left.some((other) => other !== one && other.id === id)));
    if (ready.length === 0) return [...ordered, ...left];
    ordered.push(...ready);
    left = left.filter((one) => !ready.includes(one));
  }
  return ordered;
}
