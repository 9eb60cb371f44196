import type { CampaignDocument } from '@/core/campaigns/campaign';
import type { Shared } from '@/core/campaigns/purpose';
import { sharedOf, withShared } from '@/core/campaigns/purpose';
import { findCampaign } from './campaigns';
import { orNameTaken } from './errors';
import type { Queryable } from './queryable';
import { many, maybeOne, NotExactlyOneRow } from './queryable';

export interface Purpose {
  readonly id: string;
  readonly name: string;
  readonly campaigns: readonly { readonly id: string; readonly name: string; readonly isLive: boolean }[];
}

export async function listPurposes(db: Queryable, siteId: number): Promise<Purpose[]> {
  return many<Purpose & Record<string, unknown>>(
    db,
    `select purpose.id, purpose.name,
            json_agg(json_build_object('id', campaign.id, 'name', campaign.name, 'isLive', campaign.status = 'live')
                     order by campaign.position, campaign.id) as campaigns
       from purpose join campaign on campaign.site_id = purpose.site_id and campaign.purpose_id = purpose.id
      where purpose.site_id = $1 group by purpose.id, purpose.name order by lower(purpose.name), purpose.id`,
    [siteId],
  );
}

/** A purpose made of what a campaign is for; the campaign is its first. Runs in a transaction. */
export async function makePurpose(
  tx: Queryable,
  siteId: number,
  { id, name, campaign }: { id: string; name: string; campaign: string },
): Promise<void> {
  const first = await findCampaign(tx, siteId, campaign);
  if (!first) throw new NotExactlyOneRow(0);
  await orNameTaken(name, 'purpose_name_unique', () =>
    tx.query(`insert into purpose (site_id, id, name, shared) values ($1, $2, $3, $4)`, [siteId, id, name, sharedOf(first)]),
  );
  await setPurpose(tx, siteId, { campaign, purpose: id });
}

/** Lets a campaign join a purpose, whose people, pages and success it takes over, or leave the one it is of (null), keeping them. Runs in a transaction. */
export async function setPurpose(
  tx: Queryable,
  siteId: number,
  { campaign: id, purpose }: { campaign: string; purpose: string | null },
): Promise<void> {
  // Purposes before campaigns, as everywhere; the one that is left first, so that it is not taken away beside somebody who saves.
  await lockPurposeOf(tx, siteId, id);
  const shared = purpose === null ? undefined : await lockPurpose(tx, siteId, purpose);
  if (purpose !== null && !shared) throw new NotExactlyOneRow(0);
  await tx.query(`select from campaign where site_id = $1 and id = $2 for update`, [siteId, id]);
  const campaign = await findCampaign(tx, siteId, id);
  if (!campaign) throw new NotExactlyOneRow(0);
  const { rule, goal } = shared ? withShared(campaign, shared) : campaign;
  await tx.query(
    `update campaign set purpose_id = $3, rule = $4, goal = $5, revision = revision + 1, updated_at = now() where site_id = $1 and id = $2`,
    [siteId, id, purpose, rule, goal],
  );
  // A purpose of nobody is none.
  await tx.query(
    `delete from purpose where site_id = $1
        and not exists (select from campaign where campaign.site_id = $1 and campaign.purpose_id = purpose.id)`,
    [siteId],
  );
}

export async function renamePurpose(db: Queryable, siteId: number, { id, name }: { id: string; name: string }): Promise<void> {
  const { rowCount } = await orNameTaken(name, 'purpose_name_unique', () =>
    db.query(`update purpose set name = $3 where site_id = $1 and id = $2`, [siteId, id, name]),
  );
  if (!rowCount) throw new NotExactlyOneRow(0);
}

/** Before one of its campaigns is saved: nobody else saves another one of the same purpose until the transaction ends. */
export async function lockPurposeOf(tx: Queryable, siteId: number, campaign: string): Promise<string | undefined> {
  const met = await maybeOne<{ id: string }>(
    tx,
    `select id from purpose where site_id = $1
        and id = (select purpose_id from campaign where campaign.site_id = $1 and campaign.id = $2) for update`,
    [siteId, campaign],
  );
  return met?.id;
}

/** What one campaign of a purpose has become holds for all of them. How many others were changed. Runs in the transaction that holds the purpose. */
export async function spreadShared(
  tx: Queryable,
  siteId: number,
  { purpose, campaign, document }: { purpose: string; campaign: string; document: CampaignDocument },
): Promise<number> {
  const shared = sharedOf(document);
  const changed = await tx.query(`update purpose set shared = $3 where site_id = $1 and id = $2 and shared <> $3`, [
    siteId,
    purpose,
    shared,
  ]);
  if (!changed.rowCount) return 0;
  const others = await many<{ id: string }>(
    tx,
    `select id from campaign where site_id = $1 and purpose_id = $2 and id <> $3 order by id for update`,
    [siteId, purpose, campaign],
  );
  for (const { id } of others) {
    const other = await findCampaign(tx, siteId, id);
    if (!other) continue;
    const { rule, goal } = withShared(other, shared);
    await tx.query(`update campaign set rule = $3, goal = $4, revision = revision + 1, updated_at = now() where site_id = $1 and id = $2`, [
      siteId,
      id,
      rule,
      goal,
    ]);
  }
  return others.length;
}

async function lockPurpose(tx: Queryable, siteId: number, id: string): Promise<Shared | undefined> {
  return (await maybeOne<{ shared: Shared }>(tx, `select shared from purpose where site_id = $1 and id = $2 for update`, [siteId, id]))
    ?.shared;
}
