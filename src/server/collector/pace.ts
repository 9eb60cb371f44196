import { LRUCache } from 'lru-cache';

/** Pages that one browser may open in an hour: who opens more is no person. */
export const MOST_OPENS = 600;
const HOUR_MS = 3_600_000;
const MOST_BROWSERS = 50_000;

export interface Pace {
  /** Counts so many pages opened at `now` (UTC ms) in; false where they are too many. */
  readonly mayOpen: (browser: string, pages: number, now: number) => boolean;
}

/** How many pages each browser opens; of the browsers seen last, in this process. */
export function createPace(): Pace {
  const hours = new LRUCache<string, { since: number; pages: number }>({ max: MOST_BROWSERS });
  return {
    mayOpen: (browser, pages, now) => {
      const known = hours.get(browser);
      const hour = known && now - known.since < HOUR_MS ? known : { since: now, pages: 0 };
      hour.pages += pages;
      hours.set(browser, hour);
      return hour.pages <= MOST_OPENS;
    },
  };
}
