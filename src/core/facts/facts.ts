// The one table of what is known of a visitor as such, and what follows from it.
import type { z } from 'zod';
import { adBlockerFact } from './adBlocker';
import { cookiesFact } from './cookies';
import { deviceFact } from './device';
import type { Fact, FactColumn, FactSource, Stored } from './fact';
import { languageFact } from './language';
import { teamFact } from './team';
import { zoneFact } from './zone';

export const FACTS = {
  device: deviceFact,
  language: languageFact,
  cookies: cookiesFact,
  adBlocker: adBlockerFact,
  team: teamFact,
  zone: zoneFact,
} satisfies Readonly<Record<string, Fact>>;

type Facts = typeof FACTS;
export type FactKey = keyof Facts;
type ValueOf<K extends FactKey> = Facts[K] extends { readonly schema: () => z.ZodType<infer Value> } ? Value : never;

/** What is known of a visitor; what is not known is left out. */
export type FactValues = { readonly [K in FactKey]?: ValueOf<K> | undefined };

type KeyFrom<From extends FactSource> = { [K in FactKey]: Facts[K]['from'] extends From ? K : never }[FactKey];
/** What the page says as it opens. */
export type OpenFacts = Pick<FactValues, KeyFrom<'open'>>;
/** What a browser knows of its visitor. */
export type PageFacts = Pick<FactValues, KeyFrom<'open' | 'piece' | 'page'>>;
/** What somebody may pretend in a try-out: what their own browser does not find out anew each time. */
type Pretended = 'open' | 'agent' | 'studio';

export const FACT_KEYS = Object.keys(FACTS) as readonly FactKey[];
const factOf = (key: FactKey): Fact => FACTS[key];
const isFrom = (key: FactKey, sources: readonly FactSource[]): boolean => sources.length === 0 || sources.includes(FACTS[key].from);

type Shape<Keys extends FactKey> = { readonly [K in Keys]: z.ZodOptional<z.ZodType<NonNullable<FactValues[K]>>> };
const shapeOf = <From extends FactSource>(schemaOf: (fact: Fact) => z.ZodType, sources: readonly From[]): Shape<KeyFrom<From>> =>
  Object.fromEntries(
    FACT_KEYS.filter((key) => isFrom(key, sources)).map((key) => [key, schemaOf(factOf(key)).optional()]),
  ) as unknown as Shape<KeyFrom<From>>;

/** Fields of a strict object for the facts from these sources, each of which may be left out. */
export const factShape = <From extends FactSource>(...sources: readonly From[]): Shape<KeyFrom<From>> =>
  shapeOf(({ schema }) => schema(), sources);
export const pretendShape = (): Shape<KeyFrom<Pretended>> =>
  shapeOf<Pretended>(({ schema, pretend = schema }) => pretend(), ['open', 'agent', 'studio']);

/** Puts every fact of one over those of the other. One by one: a rehearsal does so a hundred thousand times, and a spread takes longer. */
export function copyFacts(into: { -readonly [K in FactKey]?: unknown }, from: FactValues): void {
  for (const key of FACT_KEYS) into[key] = from[key];
}

/** The facts from these sources (from all, where none is named) among an object's fields, without those that are not known. */
export function factsFrom<From extends FactSource>(given: FactValues, ...sources: readonly From[]): Pick<FactValues, KeyFrom<From>> {
  const known = FACT_KEYS.filter((key) => isFrom(key, sources) && given[key] !== undefined);
  return Object.fromEntries(known.map((key) => [key, given[key]])) as Pick<FactValues, KeyFrom<From>>;
}

/** The columns of `visitor` for facts from these sources; from all of them where none is named. Their order stays the same. */
export const factColumns = (...sources: readonly FactSource[]): readonly (FactColumn<unknown> & { readonly key: FactKey })[] =>
  FACT_KEYS.filter((key) => isFrom(key, sources)).flatMap((key) => factOf(key).columns.map((column) => ({ ...column, key })));

/** What goes into these columns; null where it is not known. */
export const storedFacts = (values: FactValues, columns = factColumns()): Record<string, Stored> =>
  Object.fromEntries(
    columns.map(({ name, key, of }) => {
      const value = values[key];
      return [name, (value === undefined ? undefined : of(value)) ?? null];
    }),
  );

/** The facts of a row that has all their columns, without those that are not known. */
export function factsFromRow(row: Readonly<Record<string, unknown>>): FactValues {
  return factsFrom(
    Object.fromEntries(FACT_KEYS.map((key) => [key, factOf(key).value(...factOf(key).columns.map(({ name }) => row[name]))])) as FactValues,
  );
}

/**
 * Of whoever tries things out: what is pretended, else what was on record before, else what is found. What a browser finds out anew each time is
 * as it is found, and only who says so is of the team.
 */
export function pretendedFacts(pretend: FactValues, before: FactValues | undefined, found: FactValues): FactValues {
  const valueOf = (key: FactKey): unknown => {
    switch (FACTS[key].from) {
      case 'open':
      case 'agent':
        return pretend[key] ?? before?.[key] ?? found[key];
      case 'piece':
      case 'page':
        return found[key];
      case 'studio':
        return pretend[key] ?? false;
    }
  };
  return Object.fromEntries(FACT_KEYS.map((key) => [key, valueOf(key)]));
}
