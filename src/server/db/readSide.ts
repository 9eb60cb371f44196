import type pg from 'pg';
import { maybeOne, one, outageOf } from './queryable';

/** A replica further behind than this is not read. */
export const MOST_BEHIND_MS = 30_000;
/** How often it is looked at. */
const LOOK_MS = 2000;
const WAIT_MS = 20;
/** A statement of the replica's that its recovery put an end to, or one that it does not take. */
const OF_REPLICA = new Set(['40001', '25006', '55000']);

export type ReplicaState =
  | { readonly is: 'none' }
  | { readonly is: 'used'; readonly behindMs: number }
  | { readonly is: 'behind'; readonly behindMs: number }
  | { readonly is: 'away'; readonly reason: string };

interface Replayed {
  /** By the monotonic clock, ms. */
  readonly at: number;
  readonly lsn: string;
}

/**
 * Where lists, the analysis and sealing read: a streaming replica as long as it is there and near enough, the primary otherwise. How far
 * it is behind is known without writing anything: the primary's place in the log is noted now and then, and the newest one that the
 * replica has reached says since when it lacks something.
 */
export class ReadSide {
  readonly #primary: pg.Pool;
  readonly #replica: pg.Pool | undefined;
  readonly #now: () => number;
  /** Places of the primary's log that the replica has not been seen to reach, oldest first. */
  #places: Replayed[] = [];
  #state: ReplicaState = { is: 'none' };
  #looked: { readonly at: number; readonly done: Promise<void> } | undefined;

  constructor(primary: pg.Pool, replica?: pg.Pool, now: () => number = () => performance.now()) {
    this.#primary = primary;
    this.#replica = replica;
    this.#now = now;
  }

  /** Where everything is written, and where what was just written is read. */
  get primary(): pg.Pool {
    return this.#primary;
  }

  get hasReplica(): boolean {
    return this.#replica !== undefined;
  }

  /** As it was found at the last look, two seconds ago at most. */
  async state(): Promise<ReplicaState> {
    if (!this.#replica) return this.#state;
    if (!this.#looked || this.#now() - this.#looked.at >= LOOK_MS) this.#looked = { at: this.#now(), done: this.#look(this.#replica) };
    await this.#looked.done;
    return this.#state;
  }

  /** Does all of `work` in one place: on the replica where that is near enough; on the primary else, and once more there where the replica fails. */
  async read<T>(work: (db: pg.Pool) => Promise<T>): Promise<T> {
    const replica = this.#replica;
    if (!replica || (await this.state()).is !== 'used') return work(this.#primary);
    try {
      return await work(replica);
    } catch (cause) {
      const code = (cause as { code?: unknown } | null)?.code;
      if (!outageOf(cause) && !OF_REPLICA.has(String(code))) throw cause;
      this.#state = { is: 'away', reason: cause instanceof Error ? cause.message : String(cause) };
      return work(this.#primary);
    }
  }

  /** Where everything can be read that has been committed by now: the replica, once it has it, within `withinMs`; the primary else. */
  async caughtUp(withinMs = 5000): Promise<pg.Pool> {
    const replica = this.#replica;
    if (!replica || (await this.state()).is !== 'used') return this.#primary;
    const lsn = await placeOf(this.#primary);
    for (const began = this.#now(); this.#now() - began < withinMs;) {
      const reached = await hasReached(replica, lsn).catch(() => undefined);
      if (reached === undefined) return this.#primary;
      if (reached) return replica;
      await new Promise((resolve) => setTimeout(resolve, WAIT_MS));
    }
    return this.#primary;
  }

  async #look(replica: pg.Pool): Promise<void> {
    try {
      // Without the primary nobody knows: what was known before stands.
      const place = await placeOf(this.#primary).catch(() => undefined);
      if (place !== undefined && this.#places.at(-1)?.lsn !== place) this.#places.push({ at: this.#now(), lsn: place });
      const missing: Replayed[] = [];
      for (const each of this.#places) if (missing.length > 0 || !(await hasReached(replica, each.lsn))) missing.push(each);
      this.#places = missing.length > 100 ? [...missing.slice(0, 50), ...missing.slice(-50)] : missing;
      const behindMs = missing[0] ? Math.round(this.#now() - missing[0].at) : 0;
      this.#state = { is: behindMs > MOST_BEHIND_MS ? 'behind' : 'used', behindMs };
    } catch (cause) {
      this.#state = { is: 'away', reason: cause instanceof Error ? cause.message : String(cause) };
    }
  }
}

const placeOf = async (primary: pg.Pool): Promise<string> =>
  (await one<{ lsn: string }>(primary, `select pg_current_wal_insert_lsn()::text as lsn`)).lsn;

/** @throws where it is not a replica: reading there would show another database. */
async function hasReached(replica: pg.Pool, lsn: string): Promise<boolean> {
  const row = await maybeOne<{ reached: boolean | null }>(replica, `select pg_last_wal_replay_lsn() >= $1::pg_lsn as reached`, [lsn]);
  if (row?.reached === null || row === undefined) throw new Error('It is not a replica (pg_last_wal_replay_lsn is null)');
  return row.reached;
}
