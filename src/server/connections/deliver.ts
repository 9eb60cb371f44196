import type { ConnectionBody } from '@/core/connections/kinds';
import type { Verdict } from '@/core/connections/retry';
import { restAfter } from '@/core/connections/retry';
import type pg from 'pg';
import { noteExchange } from '../db/connections';
import { isNotResting, steps } from '../db/failedTasks';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many, maybeOne } from '../db/queryable';
import { sendTo } from './kinds/all';
import type { Exchanged } from './kinds/kind';
import { neverSent } from './kinds/kind';
import { decrypt } from './secrets';
import { deliveries } from './waiting/deliveries';
import { members } from './waiting/members';
import type { Claimed, Source } from './waiting/source';

/** What a connection's secret is bound to: it cannot be read as another one's. */
export const boundTo = (siteId: number, id: string): string => `site ${siteId} ${id}`;

/** At once to one connection; as many times, before others are looked for. */
const [WIDTH, ROUNDS] = [5, 40];
const MOST_CONNECTIONS = 50;
/** Whoever was killed while it was sending lets go after this; it is sent again under the same id, which is once at the other side. */
const HELD_MS = 60_000;

const SOURCES: readonly Source[] = [deliveries, members];

type Clock = () => number;
interface Options {
  readonly now: Clock;
  readonly send: typeof sendTo;
}

/** Sends what is due on a server, connection by connection side by side. Gives how many were sent. `now`: UTC ms. */
export async function deliverDue(pool: pg.Pool, { now = Date.now, send = sendTo }: Partial<Options> = {}): Promise<number> {
  const due = SOURCES.map(({ isDue }) => `exists (${isDue('$1')})`).join(' or ');
  const connections = await many<{ site: number; id: string; name: string }>(
    pool,
    `select site_id as site, id, name from connection where (rests_until is null or rests_until <= at_ms($1)) and (${due}) and ${isNotResting('deliver', 'connection.site_id', 'connection.id', '$1')} order by random() limit ${MOST_CONNECTIONS}`,
    [now()],
  );
  let sent = 0;
  const { step, failures } = await steps(pool, 'deliver', { now: now() });
  await Promise.all(
    connections.map(({ site, id, name }) =>
      step({ site, subject: id, name }, () => deliverTo(pool, { site, id }, { now, send, onSent: () => sent++ })),
    ),
  );
  if (failures.length > 0) throw new AggregateError(failures, `${failures.length} connections were not served: ${String(failures[0])}`);
  return sent;
}

type To = ConnectionBody & { readonly site: number; readonly id: string; readonly secret: Buffer | null; readonly failures: number };

async function deliverTo(
  pool: pg.Pool,
  { site, id }: { site: number; id: string },
  { onSent, ...options }: Options & { onSent: () => void },
): Promise<void> {
  for (let nth = 0; nth < ROUNDS; nth++) {
    const at = options.now();
    const to = await maybeOne<To & Record<string, unknown>>(
      pool,
      `select site_id as site, id, kind, settings, secret, failures from connection
        where site_id = $1 and id = $2 and (rests_until is null or rests_until <= at_ms($3))`,
      [site, id, at],
    );
    if (!to) return;
    // A service that has just failed is asked for one thing at a time.
    const claimed = await claim(pool, to, { now: at, most: to.failures > 0 ? 1 : WIDTH });
    if (claimed.length === 0) return;
    const settled = await Promise.allSettled(claimed.map((one) => deliverOne(pool, to, one, options)));
    for (const one of settled) if (one.status === 'fulfilled' && one.value.is === 'sent') onSent();
    // Each of the others has been settled: what could not be is let go of by itself.
    const failed = settled.find((one) => one.status === 'rejected');
    if (failed) throw failed.reason;
  }
}

async function claim(pool: pg.Pool, { site, id }: To, { now, most }: { now: number; most: number }): Promise<Claimed[]> {
  const claimed: Claimed[] = [];
  for (const source of SOURCES)
    if (claimed.length < most)
      claimed.push(...(await source.claim(pool, { site, connection: id, now, until: now + HELD_MS, most: most - claimed.length })));
  return claimed;
}

async function deliverOne(pool: pg.Pool, to: To, claimed: Claimed, { now, send }: Options): Promise<Verdict> {
  const began = now();
  const { verdict, status, note } = await attempt(pool, to, claimed, { now: began, send });
  await withTransaction(pool, async (tx) => {
    await noteExchange(tx, to.site, to.id, { what: claimed.what, status, tookMs: now() - began, note });
    await claimed.settle(tx, verdict, now());
    if (verdict.is === 'sent')
      await tx.query(`update connection set failures = 0, rests_until = null where site_id = $1 and id = $2 and failures > 0`, [
        to.site,
        to.id,
      ]);
    // What is refused for its own sake says nothing of the service.
    if (verdict.is === 'later') await noteFailure(tx, to, { now: now(), afterMs: verdict.afterMs ?? 0 });
  });
  return verdict;
}

/** Nothing more goes to a service that is down, or that asked for time, until it has rested. */
async function noteFailure(tx: Queryable, { site, id }: To, { now, afterMs }: { now: number; afterMs: number }): Promise<void> {
  const row = await maybeOne<{ failures: number }>(
    tx,
    `update connection set failures = failures + 1 where site_id = $1 and id = $2 returning failures`,
    [site, id],
  );
  const rest = Math.max(afterMs, restAfter(row?.failures ?? 0));
  if (rest > 0) await tx.query(`update connection set rests_until = at_ms($3) where site_id = $1 and id = $2`, [site, id, now + rest]);
}

async function attempt(
  pool: pg.Pool,
  to: To,
  { delivery, load }: Claimed,
  { now, send }: { now: number; send: Options['send'] },
): Promise<Exchanged> {
  try {
    const out = await load(pool);
    if (typeof out === 'string') return neverSent(out);
    return await send(to, out, { secret: to.secret ? decrypt(to.secret, boundTo(to.site, to.id)) : undefined, now, delivery });
  } catch (cause) {
    // Something of ours: it waits, and is told.
    console.error(cause);
    const reason = cause instanceof Error ? cause.message : String(cause);
    return { verdict: { is: 'later', reason }, status: null, note: reason };
  }
}
