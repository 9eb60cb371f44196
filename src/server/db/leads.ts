import type { Queryable } from './queryable';
import { many, maybeOne, one } from './queryable';

export interface Lead {
  readonly id: string;
  readonly at: Date;
  readonly email: string | null;
  readonly fields: Readonly<Record<string, string | number | boolean | null>>;
  readonly url: string;
  readonly campaignId: string;
  readonly campaign: string | null;
  readonly visitorId: number | null;
}

export interface NewLead {
  readonly id: string;
  readonly campaign: string;
  readonly showing: string;
  readonly visitorId: number;
  /** UTC ms. */
  readonly at: number;
  readonly email?: string | undefined;
  readonly fields: Lead['fields'];
  readonly url: string;
}

/** Whether it is new: the same id again changes nothing. */
export async function insertLead(db: Queryable, siteId: number, lead: NewLead): Promise<boolean> {
  const { id, campaign, showing, visitorId, at, email = null, fields, url } = lead;
  const inserted = await maybeOne(
    db,
    `insert into lead (site_id, id, campaign_id, showing_id, visitor_id, at, email, fields, url)
     values ($1, $2, $3, $4, $5, at_ms($6), $7, $8, $9) on conflict (site_id, id) do nothing returning id`,
    [siteId, id, campaign, showing, visitorId, at, email, fields, url],
  );
  return inserted !== undefined;
}

/** The leads of a site whose email or address holds a text, without case; '' is all of them. */
const FOUND = `lead.site_id = $1 and ($2 = '' or strpos(lower(coalesce(lead.email, '') || ' ' || lead.url), lower($2)) > 0)`;

/** A page of leads, newest first; `after` is the id of the last lead of the page before. An id that is not there gives none. */
export async function listLeads(
  db: Queryable,
  siteId: number,
  { search = '', limit = 500, after }: { search?: string; limit?: number; after?: string | undefined } = {},
): Promise<Lead[]> {
  return many<Lead & Record<string, unknown>>(
    db,
    `select lead.id, lead.at, lead.email, lead.fields, lead.url, lead.campaign_id as "campaignId", campaign.name as campaign, lead.visitor_id as "visitorId"
       from lead left join campaign on campaign.site_id = lead.site_id and campaign.id = lead.campaign_id
      where ${FOUND}
        and ($4::text is null or (lead.at, lead.id) < (select at, id from lead before where before.site_id = $1 and before.id::text = $4))
      order by lead.at desc, lead.id desc limit $3`,
    [siteId, search, limit, after ?? null],
  );
}

export async function countLeads(db: Queryable, siteId: number, search = ''): Promise<number> {
  return (await one<{ count: number }>(db, `select count(*)::int as count from lead where ${FOUND}`, [siteId, search])).count;
}

/** All leads of a site, newest first, a page at a time: however many there are, only one page is in memory. */
export async function* eachLead(db: Queryable, siteId: number, pageOf = 5_000): AsyncGenerator<Lead> {
  for (let after: string | undefined; ;) {
    const leads = await listLeads(db, siteId, { limit: pageOf, after });
    yield* leads;
    after = leads.at(-1)?.id;
    if (leads.length < pageOf) return;
  }
}
