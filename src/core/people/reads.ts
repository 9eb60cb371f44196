import { kindOf } from './condition';
import type { PeopleCondition } from './condition';

/** What of a visitor's history some conditions look at; their visits always. */
export interface Reads {
  readonly views: boolean;
  readonly events: boolean;
  /** Traits, tags, score, identity. */
  readonly profile: boolean;
  readonly responses: boolean;
}

export function readsOf(conditions: readonly PeopleCondition[]): Reads {
  const reads = (what: keyof Reads): boolean => conditions.some((condition) => kindOf(condition).changes[what] === true);
  return { views: reads('views'), events: reads('events'), profile: reads('profile'), responses: reads('responses') };
}
