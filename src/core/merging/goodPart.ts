import type { Path } from '../flows/edit';
import { valueAt, withValue } from '../flows/edit';

type Json = Readonly<Record<string | number, unknown>>;

/** As often as a wrong part is looked for farther up, at most. */
const MOST_LEVELS = 24;

/**
 * What is right in a document of which a part is not: there it stands as it was in `base`, what is new and wrong is left out, and all else is as in `draft`.
 * `wrongIn` gives the ways to what is wrong. The base itself where nothing smaller can be taken back.
 */
export function goodPart<T extends object>(base: T, draft: T, wrongIn: (document: T) => readonly Path[]): T {
  let wrong = wrongIn(draft).map((path): Path => path);
  for (let level = 0; level < MOST_LEVELS && wrong.every(({ length }) => length > 0); level++) {
    // From the last one on, so that what is left out moves nothing that is still to come.
    const ways = [...new Map(wrong.map((path) => [path.join('\n'), path])).values()].toSorted(lastFirst);
    const next = ways.reduce((made, path) => withValue(made, path, asItWas(base, draft, path)), draft);
    const left = wrongIn(next);
    if (left.length === 0) return next;
    // What was put there does not do by itself: more of what is around it goes back.
    wrong = [...wrong.map((path) => path.slice(0, -1)), ...left.filter((path) => !wrong.some((known) => isWithin(path, known)))];
  }
  return base;
}

const isWithin = (path: Path, outer: Path): boolean => outer.every((key, index) => String(path[index]) === String(key));

function lastFirst(a: Path, b: Path): number {
  for (let index = 0; index < Math.min(a.length, b.length); index++) {
    const [one, other] = [a[index], b[index]];
    if (one === other) continue;
    return typeof one === 'number' && typeof other === 'number' ? other - one : String(other).localeCompare(String(one));
  }
  return b.length - a.length;
}

/** What stood in `base` where `path` leads in `draft`: members of lists are known by their ids, or by their places where none came or went. */
function asItWas(base: unknown, draft: unknown, path: Path): unknown {
  let [was, is] = [base, draft];
  for (const key of path) {
    if (was === null || typeof was !== 'object') return undefined;
    const next = valueAt(is, [key]);
    if (Array.isArray(was) && Array.isArray(is)) {
      const id = idOf(next);
      if (id !== undefined) was = was.find((member) => idOf(member) === id);
      else was = was.length === is.length ? (was[Number(key)] as unknown) : undefined;
    } else was = (was as Json)[key];
    is = next;
  }
  return was;
}

const idOf = (member: unknown): unknown => (member !== null && typeof member === 'object' && 'id' in member ? member.id : undefined);
