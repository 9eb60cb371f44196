import type { ConnectionBody } from '@/core/connections/kinds';
import type { Mapping } from '@/core/connections/mapping';
import { IS_OPEN } from './keptSegments';
import { orNameTaken, Outdated } from './errors';
import type { Queryable } from './queryable';
import { asUuid, many, maybeOne, one } from './queryable';

export type StoredConnection = ConnectionBody & {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly hasSecret: boolean;
  readonly failures: number;
  readonly restsUntil: Date | null;
};

const SELECT = `select id, name, kind, settings, revision, secret is not null as "hasSecret", failures, rests_until as "restsUntil" from connection`;

export interface ConnectionInList {
  readonly id: string;
  readonly name: string;
  readonly kind: ConnectionBody['kind'];
  readonly campaigns: number;
  /** That it keeps in step. */
  readonly segments: number;
  readonly waiting: number;
  readonly failed: number;
  readonly sent: number;
  readonly restsUntil: Date | null;
}

export const listConnections = (db: Queryable, siteId: number): Promise<ConnectionInList[]> =>
  many<ConnectionInList & Record<string, unknown>>(
    db,
    `select id, name, kind, case when rests_until > now() then rests_until end as "restsUntil",
            (select count(*)::int from campaign_connection as own join campaign on campaign.site_id = $1 and campaign.id = campaign_id
              where own.site_id = $1 and connection_id = connection.id) as campaigns,
            (select count(*)::int from kept_segment where kept_segment.site_id = $1 and connection_id = connection.id) as segments,
            leads.waiting + members.waiting as waiting, leads.failed + members.failed as failed, leads.sent + members.sent as sent
       from connection
       cross join lateral (select count(*) filter (where state = 'waiting')::int as waiting, count(*) filter (where state = 'failed')::int as failed,
                                  count(*) filter (where state = 'sent')::int as sent
                             from delivery where delivery.site_id = $1 and connection_id = connection.id) as leads
       cross join lateral (select count(*) filter (where ${IS_OPEN} and not kept_member.failed)::int as waiting,
                                  count(*) filter (where kept_member.failed)::int as failed,
                                  (select coalesce(sum(joined + gone), 0)::int from kept_segment where kept_segment.site_id = $1 and connection_id = connection.id) as sent
                             from kept_segment join kept_member on kept_member.site_id = $1 and kept_id = kept_segment.id
                            where kept_segment.site_id = $1 and connection_id = connection.id) as members
      where site_id = $1 order by lower(name), id`,
    [siteId],
  );

export const findConnection = (db: Queryable, siteId: number, id: string): Promise<StoredConnection | undefined> =>
  maybeOne<StoredConnection & Record<string, unknown>>(db, `${SELECT} where site_id = $1 and id = $2`, [siteId, id]);

/** Encrypted as it is kept; undefined where there is none. */
export async function findConnectionSecret(db: Queryable, siteId: number, id: string): Promise<Buffer | undefined> {
  const row = await maybeOne<{ secret: Buffer | null }>(db, `select secret from connection where site_id = $1 and id = $2`, [siteId, id]);
  return row?.secret ?? undefined;
}

interface ToSave {
  readonly id: string;
  readonly name: string;
  readonly body: ConnectionBody;
  readonly secret?: Buffer | undefined;
}

export async function insertConnection(db: Queryable, siteId: number, { id, name, body, secret }: ToSave): Promise<void> {
  await orNameTaken(name, 'connection_name_unique', () =>
    db.query(`insert into connection (site_id, id, kind, name, settings, secret) values ($1, $2, $3, $4, $5, $6)`, [
      siteId,
      id,
      body.kind,
      name,
      body.settings,
      secret ?? null,
    ]),
  );
}

/** The new revision; without a secret the one there is stays. Whatever it was resting for is over. @throws Outdated, NameTaken */
export async function updateConnection(
  db: Queryable,
  siteId: number,
  { id, name, body, secret, revision }: ToSave & { revision: number },
): Promise<number> {
  const row = await orNameTaken(name, 'connection_name_unique', () =>
    maybeOne<{ revision: number }>(
      db,
      `update connection set name = $3, settings = $4, secret = coalesce($5, secret), revision = revision + 1, updated_at = now(), failures = 0, rests_until = null
        where site_id = $1 and id = $2 and revision = $6 and kind = $7 returning revision`,
      [siteId, id, name, body.settings, secret ?? null, revision, body.kind],
    ),
  );
  if (!row) throw new Outdated();
  return row.revision;
}

export async function deleteConnection(db: Queryable, siteId: number, id: string): Promise<boolean> {
  return (await db.query(`delete from connection where site_id = $1 and id = $2`, [siteId, id])).rowCount === 1;
}

const EXCHANGES_KEPT = 100;

export interface ExchangeLine {
  readonly at: Date;
  readonly what: string;
  readonly status: number | null;
  readonly tookMs: number;
  readonly note: string;
}

/** Notes what was asked and what came back; older ones than the last hundred are forgotten. */
export async function noteExchange(
  db: Queryable,
  siteId: number,
  connection: string,
  { what, status, tookMs, note }: Omit<ExchangeLine, 'at'>,
): Promise<void> {
  await db.query(
    `with noted as (
       insert into exchange (site_id, connection_id, what, status, took_ms, note) select $1, $2, $3, $4, $5, $6
        where exists (select from connection where site_id = $1 and id = $2) returning id)
     delete from exchange where site_id = $1 and connection_id = $2
        and id < coalesce((select id from exchange where site_id = $1 and connection_id = $2 order by id desc offset ${EXCHANGES_KEPT - 2} limit 1), 0)`,
    [siteId, connection, what.slice(0, 200), status, tookMs, note.slice(0, 500)],
  );
}

export const listExchanges = (db: Queryable, siteId: number, connection: string): Promise<ExchangeLine[]> =>
  many<ExchangeLine & Record<string, unknown>>(
    db,
    `select at, what, status, took_ms as "tookMs", note from exchange where site_id = $1 and connection_id = $2 order by id desc limit ${EXCHANGES_KEPT}`,
    [siteId, connection],
  );

/** A connection that a campaign's leads go to, and how they are told to it; null: everything. */
export interface Way {
  readonly id: string;
  readonly mapping: Mapping | null;
}

export const connectionsOfCampaign = (db: Queryable, siteId: number, campaign: string): Promise<Way[]> =>
  many<Way & Record<string, unknown>>(
    db,
    `select connection_id as id, mapping from campaign_connection where site_id = $1 and campaign_id = $2 order by 1`,
    [siteId, campaign],
  );

/** Whatever is not the site's is left out. Runs in a transaction. */
export async function setConnectionsOfCampaign(tx: Queryable, siteId: number, campaign: string, ways: readonly Way[]): Promise<void> {
  await tx.query(`delete from campaign_connection where site_id = $1 and campaign_id = $2 and not (connection_id = any($3))`, [
    siteId,
    campaign,
    ways.map(({ id }) => id),
  ]);
  await tx.query(
    `insert into campaign_connection (site_id, campaign_id, connection_id, mapping)
     select $1, $2, connection.id, nullif(way.mapping, 'null') from jsonb_to_recordset($3) as way(id text, mapping jsonb)
       join connection on connection.site_id = $1 and connection.id = way.id
      where exists (select from campaign where site_id = $1 and id = $2)
     on conflict (site_id, campaign_id, connection_id) do update set mapping = excluded.mapping`,
    [siteId, campaign, JSON.stringify(ways)],
  );
}

/** A new lead waits for each connection that its campaign names: in the transaction in which it is written. */
export async function queueLead(tx: Queryable, siteId: number, { id, campaign }: { id: string; campaign: string }): Promise<void> {
  await tx.query(
    `insert into delivery (site_id, id, connection_id, lead_id)
     select $1, gen_random_uuid(), connection_id, $2 from campaign_connection where site_id = $1 and campaign_id = $3 on conflict do nothing`,
    [siteId, id, campaign],
  );
}

/** Whichever web hooks want to hear of releases wait to be told of this one: in the transaction in which it is written. */
export async function queueRelease(tx: Queryable, siteId: number, number: number): Promise<void> {
  await tx.query(
    `insert into delivery (site_id, id, connection_id, what, body)
     select site_id, md5(format('%s %s release %s', site_id, id, $2::int))::uuid, id, 'release', jsonb_build_object('number', $2::int)
       from connection where site_id = $1 and kind = 'hook' and settings -> 'tells' ? 'release' on conflict do nothing`,
    [siteId, number],
  );
}

/**
 * Of people whose last lead is erased, or who took their consent back: whichever connections got one of their leads wait to hear it. Before the leads go,
 * in the same transaction.
 */
export async function queueErased(tx: Queryable, siteId: number, emails: readonly string[], erasure?: string): Promise<void> {
  await tx.query(
    `insert into delivery (site_id, id, connection_id, what, body)
     select $1, gen_random_uuid(), connection.id, 'erased', jsonb_strip_nulls(jsonb_build_object('email', email, 'erasure', $3::text))
       from (select distinct lower(lead.email) as email, connection_id from lead join delivery on delivery.site_id = $1 and lead_id = lead.id
              where lead.site_id = $1 and lower(lead.email) = any($2) and delivery.tries > 0) as sent
       join connection on connection.site_id = $1 and connection.id = connection_id and kind <> 'mail'`,
    [siteId, emails, erasure ?? null],
  );
}

export interface WaitingDelivery {
  readonly id: string;
  readonly what: string;
  readonly lead: string | null;
  readonly email: string | null;
  readonly connection: string;
  readonly state: 'waiting' | 'failed';
  readonly tries: number;
  readonly nextAt: Date;
  readonly reason: string;
}

/** What waits for a connection or has failed for good, the latest first; of a lead what is sent as well. */
export const listDeliveries = (db: Queryable, siteId: number, { connection }: { connection: string }): Promise<WaitingDelivery[]> =>
  many<WaitingDelivery & Record<string, unknown>>(
    db,
    `select delivery.id, what, lead_id as lead, coalesce(email, delivery.body ->> 'email') as email, connection_id as connection, state, tries,
            next_at as "nextAt", reason
       from delivery left join lead on lead.site_id = $1 and lead.id = lead_id
      where delivery.site_id = $1 and connection_id = $2 and state <> 'sent' order by state, made_at desc, delivery.id limit 200`,
    [siteId, connection],
  );

export interface DeliveryOfLead {
  readonly connection: string;
  readonly state: 'waiting' | 'sent' | 'failed';
  readonly reason: string;
  readonly at: Date;
}

export const deliveriesOfLead = (db: Queryable, siteId: number, lead: string): Promise<DeliveryOfLead[]> =>
  many<DeliveryOfLead & Record<string, unknown>>(
    db,
    `select connection.name as connection, state, reason, coalesce(sent_at, next_at) as at from delivery
       join connection on connection.site_id = $1 and connection.id = connection_id
      where delivery.site_id = $1 and lead_id = ${asUuid('$2')} order by lower(connection.name)`,
    [siteId, lead],
  );

/** What failed for good, or waits, is tried at once: all of a connection's, or one. How many. */
export async function sendAgain(
  db: Queryable,
  siteId: number,
  { connection, id }: { connection: string; id?: string | undefined },
): Promise<number> {
  await db.query(`update connection set failures = 0, rests_until = null where site_id = $1 and id = $2`, [siteId, connection]);
  const { rowCount } = await db.query(
    `update delivery set state = 'waiting', next_at = now(), made_at = now(), tries = 0
      where site_id = $1 and connection_id = $2 and state <> 'sent' and ($3::text is null or id::text = $3)`,
    [siteId, connection, id ?? null],
  );
  return rowCount ?? 0;
}

/** How many leads a site's connections lack for good: to be told on Today. */
export const countFailed = async (db: Queryable, siteId: number): Promise<number> =>
  (
    await one<{ failed: number }>(
      db,
      `select (select count(*) from delivery where site_id = $1 and state = 'failed')::int + (select count(*) from kept_member where site_id = $1 and failed)::int as failed`,
      [siteId],
    )
  ).failed;
