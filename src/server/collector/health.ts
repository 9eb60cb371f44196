import type pg from 'pg';
import type { BatchAnswer } from '@/core/wire/items';
import type { Outage } from '../db/queryable';
import { isReadOnly, outageOf } from '../db/queryable';

/** The database is asked no more often than this, however many ask here. */
const FRESH_MS = 1000;
/** A write that failed says so for this long, unless another has gone through since. */
const REMEMBERED_MS = 60_000;

export interface Health {
  /** Why nothing would be taken now; undefined where all is well. */
  readonly look: () => Promise<Outage | undefined>;
  /** A request could not be answered. */
  readonly failed: (cause: unknown) => void;
  readonly wrote: (answer: BatchAnswer) => void;
}

/** Whether what is sent would be taken: by asking the database whether it may be written, and by what became of the last writes. */
export function createHealth(pool: pg.Pool, clock: () => number): Health {
  let asked: { at: number; answer: Promise<Outage | undefined> } | undefined;
  let lastFailure: { at: number; outage: Outage } | undefined;
  const ask = async (): Promise<Outage | undefined> => {
    try {
      return (await isReadOnly(pool)) ? 'readOnly' : undefined;
    } catch (cause) {
      return outageOf(cause) ?? 'away';
    }
  };
  return {
    look: async () => {
      const now = clock();
      if (!asked || now - asked.at >= FRESH_MS) asked = { at: now, answer: ask() };
      const answer = await asked.answer;
      return answer ?? (lastFailure && now - lastFailure.at < REMEMBERED_MS ? lastFailure.outage : undefined);
    },
    failed: (cause) => {
      const outage = outageOf(cause);
      if (outage) lastFailure = { at: clock(), outage };
    },
    wrote: ({ items }) => {
      if (items.some(({ ok }) => ok)) lastFailure = undefined;
    },
  };
}
