import type * as FastCheck from 'fast-check';
import type { z } from 'zod';

/** Who says it. */
export type FactSource =
  /** The page, as it opens. */
  | 'open'
  /** The page, once it has found it out, with a piece of a view; what the newest view says counts. */
  | 'piece'
  /** The request's user agent, read by the collector. */
  | 'agent'
  /** The page knows it and keeps it to itself. */
  | 'page'
  /** The team, in the studio. */
  | 'studio';

export type Stored = string | number | boolean | null;
export type ColumnType = 'text' | 'boolean' | 'integer' | 'float8';

/** A column of `visitor`, null where its part of the value is not known. */
export interface FactColumn<Value> {
  readonly name: string;
  readonly type: ColumnType;
  of(this: void, value: Value): Stored | undefined;
}

/**
 * Something that is known of a visitor as such, besides what they have done: everything there is to say of it. The record, the wire, the rows, the
 * sealed attributes, the open format, what a try-out pretends and the made-up visitors of tests are made of the table of these (`facts.ts`).
 */
export interface Fact<Value = unknown, From extends FactSource = FactSource> {
  readonly from: From;
  /** Of the value, wherever it comes from outside. */
  readonly schema: () => z.ZodType<Value>;
  /** Where it is stored; a fact of the page alone is not. */
  readonly columns: readonly FactColumn<Value>[];
  /** The value of what is stored in `columns`, in their order; undefined where it is not known. */
  value(this: void, ...stored: readonly unknown[]): Value | undefined;
  /** Of what somebody may pretend in a try-out, where they may. */
  readonly pretend?: () => z.ZodType<Value>;
  /** For property tests; small vocabularies, so that conditions meet what they ask for. */
  readonly example: (fc: typeof FastCheck.default) => FastCheck.Arbitrary<Value>;
}

/** A fact that is one value in one column. */
export const inColumn = <Value extends Stored>(name: string, type: ColumnType): Pick<Fact<Value>, 'columns' | 'value'> => ({
  columns: [{ name, type, of: (value) => value }],
  value: (stored) => (stored ?? undefined) as Value | undefined,
});
