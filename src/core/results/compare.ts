// What groups of visitors come to, and how one differs from another.
import type { Split } from '../campaigns/assign';
import type { Interval, Tally } from './rates';
import type { Exposure } from './report';
import type { Looks, SpanOptions, Stratum, Values } from './span';
import { differenceBy, valueDifferenceBy } from './span';

/** How far those of a row are from those whom they are compared with. */
export interface Against {
  readonly value: string;
  /** Of the rates; where shares were changed, within each part of the visitors that was dealt alike, put together. */
  readonly difference: number;
  readonly span: readonly [number, number];
  readonly alpha: number;
  /** Whether the span may be looked at always, or is one for a single look: then nothing is called clear. */
  readonly looks: Looks;
  /** How many parts were dealt otherwise, and the visitors of those in which one of both groups has nobody: in no difference. */
  readonly strata: number;
  readonly leftOut: number;
  /** Of mean values; undefined where there are too few, or none have a value. */
  readonly worth?: { readonly difference: number; readonly span: readonly [number, number] } | undefined;
}

/** What some visitors come to. Whoever had no success was worth nothing. */
interface Counts {
  met: number;
  successes: number;
  sum: number;
  squares: number;
}

export interface Sums extends Counts {
  shown: number;
  /** Any of them had a value. */
  hasValues: boolean;
  /** The same by the shares under which they were dealt. */
  readonly strata: Map<string, Counts>;
}

export const tallyOf = ({ met, successes }: Counts): Tally => ({ of: met, conversions: successes });
export const valuesOf = ({ met, sum, squares }: Counts): Values => ({ of: met, sum, squares });
const noCounts = (): Counts => ({ met: 0, successes: 0, sum: 0, squares: 0 });
export const noSums = (): Sums => ({ ...noCounts(), shown: 0, hasValues: false, strata: new Map() });

function count(to: Counts, { success, value }: Exposure): void {
  to.met++;
  if (success === null) return;
  to.successes++;
  const worth = value ?? 0;
  to.sum += worth;
  to.squares += worth * worth;
}

/** The shares under which a visitor was dealt, as a name for all who were dealt alike. Of a release that is not on record nobody knows: one name. */
export function stratumOf(splits: ReadonlyMap<number, Split>): (visitor: Exposure) => string {
  const names = new Map([...splits].map(([release, { holdout = 0, variants = [] }]) => [release, sharesName(holdout, variants)]));
  return ({ release }) => names.get(release) ?? '';
}
function sharesName(holdout: number, variants: NonNullable<Split['variants']>): string {
  const total = variants.reduce((sum, { weight }) => sum + weight, 0);
  return JSON.stringify([holdout, ...variants.map(({ name, weight }) => [name, weight / total])]);
}

/** By key, in one go: there may be hundreds of thousands of visitors. */
export function sumsBy(
  visitors: Iterable<Exposure>,
  key: (visitor: Exposure) => string,
  stratum: (visitor: Exposure) => string,
): Map<string, Sums> {
  const groups = new Map<string, Sums>();
  for (const visitor of visitors) {
    const of = key(visitor);
    let sums = groups.get(of);
    if (!sums) groups.set(of, (sums = noSums()));
    count(sums, visitor);
    if (visitor.shown) sums.shown++;
    if (visitor.value !== null) sums.hasValues = true;
    const dealt = stratum(visitor);
    let part = sums.strata.get(dealt);
    if (!part) sums.strata.set(dealt, (part = noCounts()));
    count(part, visitor);
  }
  return groups;
}

export const pair = ({ low, high }: Interval): readonly [number, number] => [low, high];

/** Strata that have somebody of both groups, as tallies or values. */
export function strataOf<T>(
  ones: ReadonlyMap<string, Counts>,
  others: ReadonlyMap<string, Counts>,
  as: (counts: Counts) => T,
): Stratum<T>[] {
  return [...ones].flatMap(([name, one]): Stratum<T>[] => {
    const other = others.get(name);
    return other ? [[as(one), as(other)]] : [];
  });
}

/** Null where no part of the visitors has somebody of both. */
export function compare(
  ones: Sums,
  { value, sums: others }: { readonly value: string; readonly sums: Sums },
  options: SpanOptions & { readonly alpha: number; readonly looks: Looks },
): Against | null {
  const strata = strataOf(ones.strata, others.strata, tallyOf);
  const found = differenceBy(strata, options);
  if (!found) return null;
  const told = strata.reduce((sum, [one, other]) => sum + one.of + other.of, 0);
  const worth = ones.hasValues || others.hasValues ? valueDifferenceBy(strataOf(ones.strata, others.strata, valuesOf), options) : undefined;
  return {
    value,
    difference: found.difference,
    span: pair(found.span),
    alpha: options.alpha,
    looks: options.looks,
    strata: strata.length,
    leftOut: ones.met + others.met - told,
    ...(worth ? { worth: { difference: worth.difference, span: pair(worth.span) } } : {}),
  };
}
