import type { Told } from '@/core/connections/kinds';
import type { Mapping } from '@/core/connections/mapping';
import { mapLead } from '@/core/connections/mapping';
import type { Queryable } from '../../db/queryable';
import { asUuid, many, maybeOne } from '../../db/queryable';
import type { Outgoing } from '../kinds/all';
import type { LeadToSend } from '../kinds/kind';
import type { Claimed, Source } from './source';
import { nextTry } from './source';

const DUE = `state = 'waiting' and next_at <= at_ms`;
const ISO = `'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'`;
const iso = (column: string): string => `to_char(${column} at time zone 'UTC', ${ISO})`;

interface Row {
  readonly [column: string]: unknown;
  readonly id: string;
  readonly what: 'lead' | 'erased' | Told;
  readonly lead: string | null;
  readonly body: { readonly email?: string; readonly showing?: string; readonly number?: number } | null;
  readonly tries: number;
  readonly madeAt: number;
}

/** Leads, and what else connections are told of once. */
export const deliveries: Source = {
  isDue: (now) =>
    `select from delivery where delivery.site_id = connection.site_id and delivery.connection_id = connection.id and ${DUE}(${now})`,
  claim: async (db, { site, connection, now, until, most }) => {
    const rows = await many<Row>(
      db,
      `update delivery set next_at = at_ms($4)
        where site_id = $1 and id in (select id from delivery where site_id = $1 and connection_id = $2 and ${DUE}($3) order by next_at, id limit $5 for update skip locked)
        returning id, what, lead_id as lead, body, tries, ms(made_at)::float8 as "madeAt"`,
      [site, connection, now, until, most],
    );
    return rows.map((row) => claimed(site, connection, row));
  },
};

const claimed = (site: number, connection: string, row: Row): Claimed => ({
  what: row.what,
  delivery: row.id,
  load: (db) => load(db, { site, connection }, row),
  settle: async (tx, verdict, now) => {
    // Whoever was erased is known to nobody once it was told.
    if (verdict.is === 'sent' && row.what === 'erased')
      return void (await tx.query(`delete from delivery where site_id = $1 and id = $2`, [site, row.id]));
    if (verdict.is === 'sent')
      return void (await tx.query(
        `update delivery set state = 'sent', sent_at = at_ms($3), tries = tries + 1, reason = '' where site_id = $1 and id = $2`,
        [site, row.id, now],
      ));
    const { isOver, at, reason } = nextTry(verdict, { tries: row.tries + 1, madeAt: row.madeAt, now, isOwed: row.what === 'erased' });
    // What has arrived meanwhile, sent by somebody who held it before, has arrived.
    await tx.query(
      `update delivery set state = $3, tries = tries + 1, next_at = at_ms($4), reason = $5 where site_id = $1 and id = $2 and state <> 'sent'`,
      [site, row.id, isOver ? 'failed' : 'waiting', at, reason],
    );
  },
});

const GONE = 'it is not here any more';

async function load(
  db: Queryable,
  { site, connection }: { site: number; connection: string },
  { what, lead, body }: Row,
): Promise<Outgoing | string> {
  switch (what) {
    case 'lead':
      return lead ? loadLead(db, { site, connection, lead }) : GONE;
    case 'erased':
      return body?.email ? { what, email: body.email } : GONE;
    case 'conversion':
    case 'conversation': {
      const data = await maybeOne<Record<string, unknown>>(
        db,
        `select showing.id as showing, ${iso('outcome.at')} as at, json_build_object('id', campaign_id, 'name', campaign.name) as campaign, variant, url,
                json_build_object('browser', browser_id, 'email', email, 'customer', customer_id) as visitor
           from showing join visitor on visitor.site_id = $1 and visitor.id = showing.visitor_id
           join outcome on outcome.site_id = $1 and outcome.showing_id = showing.id and outcome.kind = $3
           left join page_view on page_view.site_id = $1 and page_view.id = showing.view_id
           left join campaign on campaign.site_id = $1 and campaign.id = campaign_id
          where showing.site_id = $1 and showing.id = ${asUuid('$2')} limit 1`,
        [site, body?.showing ?? '', what === 'conversion' ? 'converted' : 'replied'],
      );
      return data ? { what, data } : GONE;
    }
    case 'release': {
      const data = await maybeOne<Record<string, unknown>>(
        db,
        `select number, name, note, ${iso('published_at')} as at from release where site_id = $1 and number = $2`,
        [site, body?.number ?? 0],
      );
      return data ? { what, data } : GONE;
    }
  }
}

async function loadLead(
  db: Queryable,
  { site, connection, lead: id }: { site: number; connection: string; lead: string },
): Promise<Outgoing | string> {
  const found = await maybeOne<{ lead: LeadToSend; mapping: Mapping | null; withdrawn: boolean }>(db, LEAD_TO_SEND, [site, id, connection]);
  if (!found) return GONE;
  if (found.withdrawn) return 'their consent was taken back';
  return { what: 'lead', lead: { ...found.lead, ...mapLead(found.lead, found.mapping ?? undefined) } };
}

/** A lead with all it has, and how its campaign maps it for a connection. */
const LEAD_TO_SEND = `
  select json_build_object('id', lead.id, 'at', ${iso('lead.at')}, 'email', lead.email, 'url', lead.url, 'fields', lead.fields, 'consent', lead.consent,
                           'tags', lead.tags, 'campaign', json_build_object('id', lead.campaign_id, 'name', campaign.name)) as lead,
         mapping, withdrawn_at is not null as withdrawn
    from lead left join campaign on campaign.site_id = $1 and campaign.id = lead.campaign_id
    left join campaign_connection as way on way.site_id = $1 and way.campaign_id = lead.campaign_id and way.connection_id = $3
   where lead.site_id = $1 and lead.id = ${asUuid('$2')}`;

/** The last lead of a campaign as it is on record; undefined where it has none. */
export async function lastLead(db: Queryable, siteId: number, campaign: string): Promise<LeadToSend | undefined> {
  const last = await maybeOne<{ id: string }>(
    db,
    `select id::text from lead where site_id = $1 and campaign_id = $2 order by at desc, id desc limit 1`,
    [siteId, campaign],
  );
  return last && (await maybeOne<{ lead: LeadToSend }>(db, LEAD_TO_SEND, [siteId, last.id, '']))?.lead;
}
