import type { Flow } from '@/core/flows/flow';
import { upgradeCampaign } from '@/core/flows/upgrade';
import type { CampaignDocument, CampaignStatus } from '@/core/campaigns/campaign';
import type { Queryable } from './queryable';
import { upgrade } from '@/core/rules/upgrade';
import { many, maybeOne, one } from './queryable';
import { Outdated, orNameTaken } from './errors';

export interface StoredCampaign extends CampaignDocument {
  readonly id: string;
  readonly status: CampaignStatus;
  readonly position: number;
  readonly revision: number;
  readonly updatedAt: Date;
  /** Of which it is one form; null for a campaign of its own. */
  readonly purpose: string | null;
}

const SELECT = `select id, name, status, position, goal, rule, version, revision, updated_at as "updatedAt", flow, holdout, variants,
  (select purpose.id from purpose where purpose.site_id = campaign.site_id and purpose.id = campaign.purpose_id) as purpose from campaign`;

interface CampaignRow extends Omit<StoredCampaign, 'flow' | 'holdout' | 'variants'> {
  [column: string]: unknown;
  readonly version: 1;
  readonly flow: object;
  readonly holdout: number;
  readonly variants: StoredCampaign['variants'] | null;
}

/** Stored rules and flows of an older version are brought to the newest as they are read. */
function campaignFromRow({ version, rule, flow, holdout, variants, ...row }: CampaignRow): StoredCampaign {
  const { version: _newest, ...newest } = upgrade({ ...rule, version });
  const upgraded = 'message' in flow ? upgradeCampaign(flow) : { flow };
  return {
    ...row,
    rule: newest,
    ...(upgraded as { flow: Flow }),
    ...(holdout ? { holdout } : {}),
    ...(variants ? { variants } : {}),
  };
}

export async function listCampaigns(db: Queryable, siteId: number): Promise<StoredCampaign[]> {
  return (await many<CampaignRow>(db, `${SELECT} where site_id = $1 order by position, id`, [siteId])).map(campaignFromRow);
}

export async function findCampaign(db: Queryable, siteId: number, id: string): Promise<StoredCampaign | undefined> {
  const row = await maybeOne<CampaignRow>(db, `${SELECT} where site_id = $1 and id = $2`, [siteId, id]);
  return row && campaignFromRow(row);
}

/** Gives all campaigns of a site their places; false, and nothing moved, where the list is not exactly theirs. */
export async function orderCampaigns(db: Queryable, siteId: number, ids: readonly string[]): Promise<boolean> {
  const moved = await many<{ moved: number }>(
    db,
    `update campaign set position = place
       from unnest($2::text[]) with ordinality as asked(id, place)
      where site_id = $1 and campaign.id = asked.id
        and (select count(*) from campaign as every where every.site_id = $1) = cardinality($2::text[])
        and (select count(distinct named) from unnest($2::text[]) as named join campaign as known on known.site_id = $1 and known.id = named) = cardinality($2::text[])
     returning 1 as moved`,
    [siteId, ids],
  );
  return moved.length === ids.length;
}

export interface CampaignToSave {
  readonly siteId: number;
  readonly id: string;
  readonly document: CampaignDocument;
  readonly status?: CampaignStatus;
}

/** Goes to the end of the site's order. */
export async function insertCampaign(tx: Queryable, { siteId, id, document, status = 'draft' }: CampaignToSave): Promise<void> {
  const { name, goal, rule, flow, holdout = 0, variants } = document;
  await orNameTaken(name, 'campaign_name_unique', () =>
    tx.query(
      `insert into campaign (site_id, id, name, status, position, goal, rule, flow, holdout, variants)
       values ($1, $2, $3, $4, (select coalesce(max(position), 0) + 1 from campaign where site_id = $1), $5, $6, $7, $8, $9)`,
      [siteId, id, name, status, goal, rule, flow, holdout, variants ? JSON.stringify(variants) : null],
    ),
  );
}

export async function updateCampaign(
  tx: Queryable,
  { siteId, id, document, revision }: CampaignToSave & { revision: number },
): Promise<number> {
  const { name, goal, rule, flow, holdout = 0, variants } = document;
  const row = await orNameTaken(name, 'campaign_name_unique', () =>
    maybeOne<{ revision: number }>(
      tx,
      `update campaign set name = $3, goal = $4, rule = $5, flow = $7, holdout = $8, variants = $9, revision = revision + 1, updated_at = now()
        where site_id = $1 and id = $2 and revision = $6 returning revision`,
      [siteId, id, name, goal, rule, revision, flow, holdout, variants ? JSON.stringify(variants) : null],
    ),
  );
  if (!row) throw new Outdated();
  return row.revision;
}

export async function setCampaignStatus(db: Queryable, siteId: number, id: string, status: CampaignStatus): Promise<void> {
  await one(db, `update campaign set status = $3, updated_at = now() where site_id = $1 and id = $2 returning id`, [siteId, id, status]);
}
