// When what one condition counts is always counted by another too.
import { covers } from '../pages/covers';
import type { PagePattern } from '../pages/pattern';
import type { Within } from './subject';

/** Lookbacks that are not written out are the same for both. */
export function isShorter(a: Within, b: Within): boolean {
  if (a === b) return true;
  return typeof a === 'number' && typeof b === 'number' && a <= b;
}

export function arePartOf(part: readonly PagePattern[] | undefined, whole: readonly PagePattern[] | undefined): boolean {
  if (!whole?.length) return true;
  return !!part?.length && part.every((one) => whole.some((other) => covers(other, one)));
}
