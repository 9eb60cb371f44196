import type { Queryable } from './queryable';
import { many } from './queryable';

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

/** Newest first; `search` looks into the email and the address, without case. */
export async function listLeads(
  db: Queryable,
  siteId: number,
  { search = '', limit = 500 }: { search?: string; limit?: number } = {},
): Promise<Lead[]> {
  return many<Lead & Record<string, unknown>>(
    db,
    `select lead.id, lead.at, lead.email, lead.fields, lead.url, lead.campaign_id as "campaignId", campaign.name as campaign, lead.visitor_id as "visitorId"
       from lead left join campaign on campaign.site_id = lead.site_id and campaign.id = lead.campaign_id
      where lead.site_id = $1 and ($2 = '' or strpos(lower(coalesce(lead.email, '') || ' ' || lead.url), lower($2)) > 0)
      order by lead.at desc, lead.id limit $3`,
    [siteId, search, limit],
  );
}
