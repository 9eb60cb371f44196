import type { Dismissal } from '@/core/history/visitor';
import type { Queryable } from './queryable';

/** Of each kind a showing has one outcome: the same again changes nothing. */
const ONCE = `on conflict (site_id, showing_id, kind) do nothing`;

/** The same insert, after which whichever web hooks want to hear of conversions and conversations wait to be told of those that are new. `$1`: the site. */
const telling = (insert: string): string =>
  `with came as (${insert} returning showing_id, case kind when 'converted' then 'conversion' when 'replied' then 'conversation' end as what),
        told as (insert into delivery (site_id, id, connection_id, what, body)
                 select connection.site_id, md5(format('%s %s %s %s', connection.site_id, connection.id, what, showing_id))::uuid, connection.id, what, jsonb_build_object('showing', showing_id)
                   from came join connection on connection.site_id = $1 and connection.kind = 'hook' and settings -> 'tells' ? what
                 on conflict do nothing)
   select from came`;

/** `at` is UTC ms. `isPast`: it is brought in from elsewhere, and nobody is told. */
export async function insertOutcome(
  db: Queryable,
  siteId: number,
  { showing, kind, at, how, isPast = false }: { showing: string; kind: string; at: number; how?: Dismissal | undefined; isPast?: boolean },
): Promise<void> {
  const insert = `insert into outcome (site_id, showing_id, kind, at, how) values ($1, $2, $3, at_ms($4), $5) ${ONCE}`;
  await db.query(isPast ? insert : telling(insert), [siteId, showing, kind, at, how ?? null]);
}

/** Whoever goes round in a flow for ever is not followed for ever. */
const MOST_STEPS = 100;

/** Another message of the flow was seen at `at`, UTC ms; the same again changes nothing. */
export async function insertStep(
  db: Queryable,
  siteId: number,
  { showing, message, at }: { showing: string; message: string; at: number },
): Promise<void> {
  await db.query(
    `insert into flow_step (site_id, showing_id, at, message)
     select $1, $2, at_ms($3), $4 where (select count(*) from flow_step where site_id = $1 and showing_id = $2) < ${MOST_STEPS}
     on conflict do nothing`,
    [siteId, showing, at, message],
  );
}

/** A form sent converts the showing that it stands in, if that is on record. */
export async function convertShowing(db: Queryable, siteId: number, { showing, at }: { showing: string; at: number }): Promise<void> {
  await db.query(
    telling(`insert into outcome (site_id, showing_id, kind, at)
     select $1, id, 'converted', at_ms($3) from showing where site_id = $1 and id = $2 ${ONCE}`),
    [siteId, showing, at],
  );
}

/** The same for a showing that arrives after its form. Whether there was one. */
export async function convertByLead(db: Queryable, siteId: number, showing: string): Promise<boolean> {
  const { rowCount } = await db.query(
    telling(`insert into outcome (site_id, showing_id, kind, at)
     select $1, $2, 'converted', min(at) from lead where site_id = $1 and showing_id = $2 having count(*) > 0 ${ONCE}`),
    [siteId, showing],
  );
  return rowCount === 1;
}

/** A goal reached converts the campaign's last showing to the visitor until then, if that is less than `days` old. */
export async function convertLastShowing(
  db: Queryable,
  siteId: number,
  { visitorId, campaign, at, days }: { visitorId: number; campaign: string; at: number; days: number },
): Promise<void> {
  await db.query(
    telling(`insert into outcome (site_id, showing_id, kind, at)
     select $1, id, 'converted', at_ms($4) from showing
      where site_id = $1 and visitor_id = $2 and campaign_id = $3 and at <= at_ms($4) and at > at_ms($4) - make_interval(secs => $5 * 86400)
      order by at desc limit 1 ${ONCE}`),
    [siteId, visitorId, campaign, at, days],
  );
}
