import type { Queryable } from './queryable';

/** Of each kind a showing has one outcome: the same again changes nothing. */
const ONCE = `on conflict (site_id, showing_id, kind) do nothing`;

/** `at` is UTC ms. */
export async function insertOutcome(
  db: Queryable,
  siteId: number,
  { showing, kind, at }: { showing: string; kind: string; at: number },
): Promise<void> {
  await db.query(`insert into outcome (site_id, showing_id, kind, at) values ($1, $2, $3, at_ms($4)) ${ONCE}`, [siteId, showing, kind, at]);
}

/** A form sent converts the showing that it stands in, if that is on record. */
export async function convertShowing(db: Queryable, siteId: number, { showing, at }: { showing: string; at: number }): Promise<void> {
  await db.query(
    `insert into outcome (site_id, showing_id, kind, at)
     select $1, id, 'converted', at_ms($3) from showing where site_id = $1 and id = $2 ${ONCE}`,
    [siteId, showing, at],
  );
}

/** The same for a showing that arrives after its form. */
export async function convertByLead(db: Queryable, siteId: number, showing: string): Promise<void> {
  await db.query(
    `insert into outcome (site_id, showing_id, kind, at)
     select $1, $2, 'converted', min(at) from lead where site_id = $1 and showing_id = $2 having count(*) > 0 ${ONCE}`,
    [siteId, showing],
  );
}

/** A goal reached converts the campaign's last showing to the visitor until then, if that is less than `days` old. */
export async function convertLastShowing(
  db: Queryable,
  siteId: number,
  { visitorId, campaign, at, days }: { visitorId: number; campaign: string; at: number; days: number },
): Promise<void> {
  await db.query(
    `insert into outcome (site_id, showing_id, kind, at)
     select $1, id, 'converted', at_ms($4) from showing
      where site_id = $1 and visitor_id = $2 and campaign_id = $3 and at <= at_ms($4) and at > at_ms($4) - make_interval(secs => $5 * 86400)
      order by at desc limit 1 ${ONCE}`,
    [siteId, visitorId, campaign, at, days],
  );
}
