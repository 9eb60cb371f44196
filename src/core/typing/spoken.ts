import type { Range } from '../logic/range';
import type { Amount, Said, Unit } from './said';

/** How sure it is that a reading is what was meant: 3 it was named, 2 a unit says it, 1 something recorded is called so, below 1 it may be. */
export interface Reading<T> {
  readonly leaf: T;
  readonly sureness: number;
  /** The "not" that was said is part of it: "not been here for 30 days". */
  readonly includesNot?: true;
}

export interface Wants {
  /** One of these has to be said; several words together count as one. */
  readonly says?: readonly string[];
  /** These may be said beside it. */
  readonly also?: readonly string[];
  /** Units that amounts may have; `none` is a number alone. Without it no amount may be said. */
  readonly amounts?: readonly (Unit | 'none')[];
  readonly mostAmounts?: number;
  readonly window?: boolean;
  readonly pages?: boolean;
  readonly selectors?: boolean;
  readonly quoted?: boolean;
  readonly hours?: boolean;
  readonly dates?: boolean;
  readonly assignments?: boolean;
  /** Words that are left over are a name. */
  readonly name?: boolean;
}

export interface Heard {
  /** What of `says` was said. */
  readonly key: string;
  readonly amounts: readonly Amount[];
  /** Words that are left, as they were written. */
  readonly name: string;
}

/** Words that say nothing by themselves. */
const FILLERS = new Set(
  'a an the they them their who whose people person visitor visitors user users someone somebody anyone anybody everyone if when while on in at to of is are was were be been being it its this that there has have had with from for by and as so my our only get gets any some do does did show shown whoever once'
    .split(' ')
    .filter((word) => word !== 'once' && word !== 'shown' && word !== 'show'),
);

/** Does what was said fit, with nothing left over? Each kind asks for what it understands. */
export function spoken(said: Said, wants: Wants): Heard | undefined {
  if (said.window !== undefined && !wants.window) return undefined;
  if (said.pages.length && !wants.pages) return undefined;
  if (said.selectors.length && !wants.selectors) return undefined;
  if (said.quoted.length && !wants.quoted) return undefined;
  if (said.hours && !wants.hours) return undefined;
  if (said.dates.length && !wants.dates) return undefined;
  if (said.assignments.length && !wants.assignments) return undefined;
  if (said.amounts.length > (wants.amounts ? (wants.mostAmounts ?? 1) : 0)) return undefined;
  if (said.amounts.some(({ unit }) => !wants.amounts?.includes(unit ?? 'none'))) return undefined;
  let rest = ` ${said.words.join(' ')} `;
  let key = '';
  if (wants.says) {
    const found = longestFirst(wants.says).find((phrase) => rest.includes(` ${phrase} `));
    if (found === undefined) return undefined;
    key = found;
    rest = rest.replace(` ${found} `, ' ');
  }
  for (const phrase of longestFirst([...(wants.also ?? []), ...(wants.says ?? [])]))
    while (rest.includes(` ${phrase} `)) rest = rest.replace(` ${phrase} `, ' ');
  const left = rest.split(' ').filter((word) => word !== '' && !(FILLERS.has(word) && !wants.name));
  const name = wants.name ? trimmed(left) : [];
  if (!wants.name && left.length > 0) return undefined;
  return { key, amounts: said.amounts, name: name.join(' ') };
}

/** A name keeps the small words inside it, and loses those around it. */
function trimmed(words: readonly string[]): string[] {
  const from = words.findIndex((word) => !FILLERS.has(word));
  const upTo = words.findLastIndex((word) => !FILLERS.has(word));
  return from < 0 ? [] : words.slice(from, upTo + 1);
}

const sorted = new WeakMap<readonly string[], readonly string[]>();
function longestFirst(phrases: readonly string[]): readonly string[] {
  let known = sorted.get(phrases);
  if (!known) sorted.set(phrases, (known = [...phrases].sort((a, b) => b.length - a.length)));
  return known;
}

/** A whole number of times: "2 times" is at least two, "more than 2" at least three. */
export function countOf(amount: Amount): Range | undefined {
  const whole = wholeRangeOf(amount);
  return whole && (whole.min ?? 0) >= 0 && (whole.max ?? 0) >= 0 ? whole : undefined;
}

/** Whole numbers, below zero too. */
export function wholeRangeOf({ min, max, isOver, isUnder }: Amount): Range | undefined {
  const low = min === undefined ? undefined : isOver ? Math.floor(min) + 1 : min;
  const high = max === undefined ? undefined : isUnder ? Math.ceil(max) - 1 : max;
  if ((low !== undefined && !Number.isInteger(low)) || (high !== undefined && !Number.isInteger(high))) return undefined;
  return { ...(low === undefined ? {} : { min: low }), ...(high === undefined ? {} : { max: high }) };
}

/** A quantity: "20 s" is at least twenty. */
export const rangeOf = ({ min, max }: Amount): Range => ({
  ...(min === undefined ? {} : { min }),
  ...(max === undefined ? {} : { max }),
});

/** The one number that a threshold wants; undefined where an upper bound was said. */
export const thresholdOf = (amount: Amount | undefined): number | undefined =>
  amount && (amount.max === undefined || amount.max === amount.min) ? amount.min : undefined;

/** A number, or one letter, is no part of another number or word: "20 s" does not mean "Start 192005". */
function isIn(word: string, name: string): boolean {
  if (!/^(?:\d+|[a-z])$/.test(word)) return name.includes(word);
  for (let at = name.indexOf(word); at >= 0; at = name.indexOf(word, at + 1))
    if (!/[\p{L}\d]/u.test(name.slice(Math.max(0, at - 1), at))) return true;
  return false;
}

/** What is recorded under a name: first what is called just so, then what begins with it, then what has all its words. */
export function called<T>(name: string, list: readonly T[], nameOf: (one: T) => string): { one: T; sureness: number }[] {
  const wanted = name.toLowerCase().trim();
  if (wanted === '') return [];
  const words = wanted.split(/\s+/);
  return list
    .flatMap((one) => {
      const own = nameOf(one).toLowerCase();
      const spaced = own.replace(/[_-]+/g, ' ');
      if (own === wanted || spaced === wanted.replace(/[_-]+/g, ' ')) return [{ one, sureness: 1 }];
      if (own.startsWith(wanted)) return [{ one, sureness: 0.8 }];
      return words.every((word) => isIn(word, spaced) || isIn(word, own)) ? [{ one, sureness: 0.5 }] : [];
    })
    .sort((a, b) => b.sureness - a.sureness);
}
