import { rangeWords } from '../logic/range';

/** "3 views", or "2 to 3 views" where some are unknown. */
export const between = ({ low, high }: { low: number; high: number }, unit: string): string =>
  low === high ? `${low} ${unit}` : rangeWords({ min: low, max: high }, unit);

export const shown = (value: unknown): string => (value === undefined ? 'not there' : JSON.stringify(value));
