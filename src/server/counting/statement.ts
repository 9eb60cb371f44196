import type { Places } from '@/core/geo/place';
import type { PageSets } from '@/core/pages/pattern';
import type { DistinctLocation, DistinctPage } from './countBySql';

export interface StatementContext {
  readonly siteId: number;
  readonly now: number;
  readonly lookback: number;
  readonly sets: PageSets;
  readonly places: Places;
  readonly pages: readonly DistinctPage[];
  readonly zones: readonly (string | null)[];
  readonly locations: readonly DistinctLocation[];
}

/** A statement under construction: every value goes in as a numbered parameter, never as text. */
export class Statement {
  readonly values: unknown[] = [];
  readonly site: string;
  readonly now: string;

  constructor(readonly context: StatementContext) {
    this.site = this.parameter(context.siteId, 'int');
    this.now = `at_ms(${this.parameter(context.now, 'float8')})`;
  }

  parameter(value: unknown, type: string): string {
    this.values.push(value);
    return `$${this.values.length}::${type}`;
  }

  /** Days from an instant to now. */
  daysSince(at: string): string {
    return `(extract(epoch from ${this.now} - ${at}) / 86400)`;
  }
}
