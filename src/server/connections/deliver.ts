import type { ConnectionBody } from '@/core/connections/kinds';
import type { Verdict } from '@/core/connections/retry';
import { GIVEN_UP_MS, pauseAfter, restAfter } from '@/core/connections/retry';
import type pg from 'pg';
import { withTransaction } from '../db/pool';
import { noteExchange } from '../db/connections';
import type { Queryable } from '../db/queryable';
import { many, maybeOne } from '../db/queryable';
import { sendLead } from './kinds/all';
import type { Exchanged, LeadToSend } from './kinds/kind';
import { decrypt } from './secrets';

/** What a connection's secret is bound to: it cannot be read as another one's. */
export const boundTo = (siteId: number, id: string): string => `site ${siteId} ${id}`;

interface Due {
  readonly site: number;
  readonly id: string;
  readonly connection: string;
  readonly tries: number;
  readonly madeAt: number;
}

/** Beside this one connection others go on: of each so many at a time. */
const EACH = 20;
const MOST_CONNECTIONS = 50;

/**
 * Sends what is due on a server, connection by connection side by side, and of each one after the other. A delivery is held while it is sent; whoever is
 * killed meanwhile lets go of it, and it is sent again under the same id, which is once at the other side. Gives how many were sent. `now`: UTC ms.
 */
export async function deliverDue(
  pool: pg.Pool,
  { now = Date.now, send = sendLead }: { now?: () => number; send?: typeof sendLead } = {},
): Promise<number> {
  const connections = await many<{ site: number; id: string }>(
    pool,
    `select distinct delivery.site_id as site, connection_id as id from delivery join connection on connection.site_id = delivery.site_id and connection.id = connection_id
      where state = 'waiting' and next_at <= at_ms($1) and (rests_until is null or rests_until <= at_ms($1)) limit ${MOST_CONNECTIONS}`,
    [now()],
  );
  const sent = await Promise.all(connections.map((one) => deliverTo(pool, one, { now, send })));
  return sent.reduce((sum, count) => sum + count, 0);
}

async function deliverTo(
  pool: pg.Pool,
  { site, id }: { site: number; id: string },
  { now, send }: { now: () => number; send: typeof sendLead },
): Promise<number> {
  let sent = 0;
  for (let nth = 0; nth < EACH; nth++) {
    const went = await withTransaction(pool, async (tx) => {
      const due = await maybeOne<Due & Record<string, unknown>>(
        tx,
        `select delivery.site_id as site, delivery.id, connection_id as connection, tries, ms(made_at)::float8 as "madeAt" from delivery
           join connection on connection.site_id = delivery.site_id and connection.id = connection_id
          where delivery.site_id = $1 and connection_id = $2 and state = 'waiting' and next_at <= at_ms($3) and (rests_until is null or rests_until <= at_ms($3))
          order by next_at, delivery.id limit 1 for update of delivery skip locked`,
        [site, id, now()],
      );
      if (!due) return undefined;
      return deliverOne(tx, due, { now, send });
    });
    if (!went) return sent;
    if (went.is === 'sent') sent++;
  }
  return sent;
}

async function deliverOne(tx: Queryable, due: Due, { now, send }: { now: () => number; send: typeof sendLead }): Promise<Verdict> {
  const { site, id, connection } = due;
  const began = now();
  const { verdict, status, note } = await attempt(tx, due, { now: began, send });
  await noteExchange(tx, site, connection, { what: 'lead', status, tookMs: now() - began, note });
  if (verdict.is === 'sent') {
    await tx.query(
      `update delivery set state = 'sent', sent_at = at_ms($3), tries = tries + 1, reason = '' where site_id = $1 and id = $2`,
      [site, id, now()],
    );
    await tx.query(`update connection set failures = 0, rests_until = null where site_id = $1 and id = $2 and failures > 0`, [
      site,
      connection,
    ]);
    return verdict;
  }
  const tries = due.tries + 1;
  const isOver = verdict.is === 'never' || now() - due.madeAt > GIVEN_UP_MS;
  const next = now() + pauseAfter(tries, verdict.is === 'later' ? verdict.afterMs : undefined);
  await tx.query(`update delivery set state = $3, tries = $4, next_at = at_ms($5), reason = $6 where site_id = $1 and id = $2`, [
    site,
    id,
    isOver ? 'failed' : 'waiting',
    tries,
    next,
    verdict.reason.slice(0, 500),
  ]);
  // What is refused for its own sake says nothing of the service.
  if (verdict.is === 'later') await noteFailure(tx, due, { now: now(), afterMs: verdict.afterMs ?? 0 });
  return verdict;
}

/** Nothing more goes to a service that is down, or that asked for time, until it has rested. */
async function noteFailure(tx: Queryable, { site, connection }: Due, { now, afterMs }: { now: number; afterMs: number }): Promise<void> {
  const row = await maybeOne<{ failures: number }>(
    tx,
    `update connection set failures = failures + 1 where site_id = $1 and id = $2 returning failures`,
    [site, connection],
  );
  const rest = Math.max(afterMs, restAfter(row?.failures ?? 0));
  if (rest > 0)
    await tx.query(`update connection set rests_until = at_ms($3) where site_id = $1 and id = $2`, [site, connection, now + rest]);
}

async function attempt(
  tx: Queryable,
  { site, id, connection }: Due,
  { now, send }: { now: number; send: typeof sendLead },
): Promise<Exchanged> {
  const lead = await maybeOne<LeadToSend & Record<string, unknown>>(
    tx,
    `select lead.id, to_char(lead.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as at, lead.email, lead.url, lead.fields, lead.consent, lead.tags,
            json_build_object('id', lead.campaign_id, 'name', campaign.name) as campaign
       from delivery join lead on lead.site_id = $1 and lead.id = lead_id
       left join campaign on campaign.site_id = $1 and campaign.id = lead.campaign_id where delivery.site_id = $1 and delivery.id = $2`,
    [site, id],
  );
  const to = await maybeOne<{ kind: ConnectionBody['kind']; settings: never; secret: Buffer | null }>(
    tx,
    `select kind, settings, secret from connection where site_id = $1 and id = $2`,
    [site, connection],
  );
  if (!lead || !to) return { verdict: { is: 'never', reason: 'it is not here any more' }, status: null, note: 'it is not here any more' };
  try {
    const secret = to.secret ? decrypt(to.secret, boundTo(site, connection)) : undefined;
    return await send(lead, { kind: to.kind, settings: to.settings }, { secret, now, delivery: id });
  } catch (cause) {
    // Something of ours: it waits, and is told.
    console.error(cause);
    const reason = cause instanceof Error ? cause.message : String(cause);
    return { verdict: { is: 'later', reason }, status: null, note: reason };
  }
}
