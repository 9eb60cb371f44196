import { GIVEN_UP_MS, pauseAfter } from '@/core/connections/retry';
import type { Verdict } from '@/core/connections/retry';
import type { Queryable } from '../../db/queryable';
import type { Outgoing } from '../kinds/all';

/** Something that is held to be sent. */
export interface Claimed {
  readonly what: string;
  /** The same again is the same at the other side. */
  readonly delivery: string;
  /** What goes out, as it is now; words where nothing goes out any more. */
  readonly load: (db: Queryable) => Promise<Outgoing | string>;
  /** Writes down what came of it. `now`: UTC ms. */
  readonly settle: (tx: Queryable, verdict: Verdict, now: number) => Promise<void>;
}

/** Where things wait for connections. */
export interface Source {
  /** A select of whatever is due for the row of `connection` around it; `now`: the place of UTC ms. */
  readonly isDue: (now: string) => string;
  /** Holds up to so many that are due until then, UTC ms: nobody else takes them before. */
  readonly claim: (
    db: Queryable,
    given: { site: number; connection: string; now: number; until: number; most: number },
  ) => Promise<readonly Claimed[]>;
}

/**
 * When what was not sent is tried again, and whether it is. `tries`: with this one. `isOwed`: whatever was answered, it is asked again, as
 * somebody who was erased is to be let go of there, too. All UTC ms.
 */
export function nextTry(
  verdict: Exclude<Verdict, { is: 'sent' }>,
  { tries, madeAt, now, isOwed = false }: { tries: number; madeAt: number; now: number; isOwed?: boolean },
): { isOver: boolean; at: number; reason: string } {
  return {
    isOver: !isOwed && (verdict.is === 'never' || now - madeAt > GIVEN_UP_MS),
    at: now + pauseAfter(tries, verdict.is === 'later' ? verdict.afterMs : undefined),
    reason: verdict.reason.slice(0, 500),
  };
}
