// When what could not be sent is tried again.

const MINUTE_MS = 60_000;
/** Growing pauses: a minute first, then twice as long each time, six hours at most. */
const LONGEST_MS = 6 * 60 * MINUTE_MS;
/** After three days it has failed for good. */
export const GIVEN_UP_MS = 3 * 24 * 60 * MINUTE_MS;

/** How long to wait after so many tries; never shorter than the service asked for, in ms. */
export const pauseAfter = (tries: number, asked = 0): number =>
  Math.max(asked, Math.min(LONGEST_MS, MINUTE_MS * 2 ** Math.max(0, tries - 1)));

/** A connection that failed so often in a row rests, so that what waits does not ask a dead service one by one. */
const REST_FROM = 5;

/** For how long a connection rests after so many failures in a row, in ms; 0 where it does not. */
export const restAfter = (failures: number): number =>
  failures < REST_FROM ? 0 : Math.min(30 * MINUTE_MS, MINUTE_MS * 2 ** (failures - REST_FROM));

/** What a service answered of a delivery: sent, not for now (perhaps with a time, ms), or never. */
export type Verdict =
  | { readonly is: 'sent' }
  | { readonly is: 'later'; readonly reason: string; readonly afterMs?: number }
  | { readonly is: 'never'; readonly reason: string };

/** By the status of an HTTP answer: what is refused for good is not tried again. `retryAfter`: the header, in seconds or as a date; `now` UTC ms. */
export function verdictOf(status: number, { retryAfter, now }: { retryAfter?: string | undefined; now: number }): Verdict {
  if (status >= 200 && status < 300) return { is: 'sent' };
  const afterMs =
    retryAfter === undefined ? undefined : /^\d+$/.test(retryAfter) ? Number(retryAfter) * 1000 : Date.parse(retryAfter) - now;
  const asked = afterMs !== undefined && Number.isFinite(afterMs) && afterMs > 0 ? { afterMs: Math.min(afterMs, GIVEN_UP_MS) } : {};
  if (status === 429 || status === 408 || status === 425 || status >= 500) return { is: 'later', reason: `answered ${status}`, ...asked };
  if (status >= 300 && status < 400) return { is: 'never', reason: `answered ${status}: it leads elsewhere, which is not followed` };
  return { is: 'never', reason: `answered ${status}` };
}
