import type { CampaignDocument, CampaignStatus } from '@/core/campaigns/campaign';
import type { Queryable } from './queryable';
import { upgrade } from '@/core/rules/upgrade';
import { many, maybeOne, one } from './queryable';
import { NameTaken, Outdated, orNameTaken } from './segments';

export { NameTaken, Outdated };

export interface StoredCampaign extends CampaignDocument {
  readonly id: string;
  readonly status: CampaignStatus;
  readonly position: number;
  readonly revision: number;
  readonly updatedAt: Date;
}

const SELECT = `select campaign.id, campaign.name, status, campaign.position, goal, rule, version, revision, updated_at as "updatedAt", message.body as message
  from campaign join message on message.site_id = campaign.site_id and message.campaign_id = campaign.id and message.position = 0`;

type CampaignRow = StoredCampaign & { version: number } & Record<string, unknown>;

/** Stored rules of an older version are brought to the newest as they are read. */
function campaignFromRow({ version, rule, ...row }: CampaignRow): StoredCampaign {
  const { version: _newest, ...newest } = upgrade({ ...rule, version });
  return { ...row, rule: newest };
}

export async function listCampaigns(db: Queryable, siteId: number): Promise<StoredCampaign[]> {
  return (await many<CampaignRow>(db, `${SELECT} where campaign.site_id = $1 order by campaign.position, campaign.id`, [siteId])).map(
    campaignFromRow,
  );
}

export async function findCampaign(db: Queryable, siteId: number, id: string): Promise<StoredCampaign | undefined> {
  const row = await maybeOne<CampaignRow>(db, `${SELECT} where campaign.site_id = $1 and campaign.id = $2`, [siteId, id]);
  return row && campaignFromRow(row);
}

export interface CampaignToSave {
  readonly siteId: number;
  readonly id: string;
  readonly document: CampaignDocument;
  readonly status?: CampaignStatus;
}

/** Goes to the end of the site's order. Call inside a transaction: the campaign and its message belong together. */
export async function insertCampaign(tx: Queryable, { siteId, id, document, status = 'draft' }: CampaignToSave): Promise<void> {
  const { name, goal, rule, message } = document;
  await orNameTaken(name, 'campaign_name_unique', () =>
    tx.query(
      `insert into campaign (site_id, id, name, status, position, goal, rule)
       values ($1, $2, $3, $4, (select coalesce(max(position), 0) + 1 from campaign where site_id = $1), $5, $6)`,
      [siteId, id, name, status, goal, rule],
    ),
  );
  await tx.query(`insert into message (site_id, id, campaign_id, format, body) values ($1, $2, $3, $4, $5)`, [
    siteId,
    `${id}_m1`,
    id,
    message.format,
    message,
  ]);
}

export async function updateCampaign(
  tx: Queryable,
  { siteId, id, document, revision }: CampaignToSave & { revision: number },
): Promise<number> {
  const { name, goal, rule, message } = document;
  const row = await orNameTaken(name, 'campaign_name_unique', () =>
    maybeOne<{ revision: number }>(
      tx,
      `update campaign set name = $3, goal = $4, rule = $5, revision = revision + 1, updated_at = now()
        where site_id = $1 and id = $2 and revision = $6 returning revision`,
      [siteId, id, name, goal, rule, revision],
    ),
  );
  if (!row) throw new Outdated();
  await one(tx, `update message set format = $3, body = $4 where site_id = $1 and campaign_id = $2 and position = 0 returning id`, [
    siteId,
    id,
    message.format,
    message,
  ]);
  return row.revision;
}

export async function setCampaignStatus(db: Queryable, siteId: number, id: string, status: CampaignStatus): Promise<void> {
  await one(db, `update campaign set status = $3, updated_at = now() where site_id = $1 and id = $2 returning id`, [siteId, id, status]);
}

export async function deleteCampaign(db: Queryable, siteId: number, id: string): Promise<void> {
  await one(db, `delete from campaign where site_id = $1 and id = $2 returning id`, [siteId, id]);
}

export interface CampaignCounts {
  readonly campaign: string;
  readonly triggered: number;
  readonly shown: number;
  readonly dismissed: number;
  readonly converted: number;
}

/** Over the last `days` days. */
export async function countShowings(db: Queryable, siteId: number, days: number): Promise<CampaignCounts[]> {
  return many<CampaignCounts & Record<string, unknown>>(
    db,
    `select campaign_id as campaign, count(distinct showing.id)::int as triggered, count(distinct showing.id) filter (where shown)::int as shown,
            count(*) filter (where kind = 'dismissed')::int as dismissed, count(*) filter (where kind = 'converted')::int as converted
       from showing left join outcome on outcome.site_id = $1 and outcome.showing_id = showing.id
      where showing.site_id = $1 and showing.at > now() - make_interval(days => $2)
      group by campaign_id`,
    [siteId, days],
  );
}
