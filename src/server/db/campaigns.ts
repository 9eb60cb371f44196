import type { Flow } from '@/core/flows/flow';
import { upgradeCampaign } from '@/core/flows/upgrade';
import type { CampaignDocument, CampaignStatus } from '@/core/campaigns/campaign';
import type pg from 'pg';
import { isNotResting, steps } from './failedTasks';
import { withTransaction } from './pool';
import type { Queryable } from './queryable';
import { upgrade } from '@/core/rules/upgrade';
import { many, maybeOne, one } from './queryable';
import { noteChange } from './changeLog';
import { Outdated, orNameTaken } from './errors';

export interface StoredCampaign extends CampaignDocument {
  readonly id: string;
  readonly status: CampaignStatus;
  readonly position: number;
  readonly revision: number;
  readonly updatedAt: Date;
  /** Of which it is one form; null for a campaign of its own. */
  readonly purpose: string | null;
  /** When it begins and ends by itself. */
  readonly startsAt: Date | null;
  readonly endsAt: Date | null;
}

const SELECT = `select id, name, status, position, goal, rule, version, revision, updated_at as "updatedAt", flow, holdout, variants,
  (select purpose.id from purpose where purpose.site_id = campaign.site_id and purpose.id = campaign.purpose_id) as purpose,
  starts_at as "startsAt", ends_at as "endsAt" from campaign`;

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

/** What of a stored campaign is written by people. */
export const documentOf = ({ name, goal, rule, flow, holdout, variants }: StoredCampaign): CampaignDocument => ({
  name,
  goal,
  rule,
  flow,
  ...(holdout ? { holdout } : {}),
  ...(variants ? { variants } : {}),
});

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
/** A goal that names one of the site's is that one as it is now; where there is none of that id it is the campaign's own. */
const settled = (goal: string): string =>
  `coalesce((select of.goal || jsonb_build_object('named', of.id) from goal as of where of.site_id = $1 and of.id = ${goal}::jsonb ->> 'named'), ${goal}::jsonb - 'named')`;

export async function insertCampaign(tx: Queryable, { siteId, id, document, status = 'draft' }: CampaignToSave): Promise<void> {
  const { name, goal, rule, flow, holdout = 0, variants } = document;
  await orNameTaken(name, 'campaign_name_unique', () =>
    tx.query(
      `insert into campaign (site_id, id, name, status, position, goal, rule, flow, holdout, variants)
       values ($1, $2, $3, $4, (select coalesce(max(position), 0) + 1 from campaign where site_id = $1), ${settled('$5')}, $6, $7, $8, $9)`,
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
      `update campaign set name = $3, goal = ${settled('$4')}, rule = $5, flow = $7, holdout = $8, variants = $9, revision = revision + 1, updated_at = now()
        where site_id = $1 and id = $2 and revision = $6 returning revision`,
      [siteId, id, name, goal, rule, revision, flow, holdout, variants ? JSON.stringify(variants) : null],
    ),
  );
  if (!row) throw new Outdated();
  return row.revision;
}

/** By hand: a campaign that is switched on goes on, whatever instants it had that would say otherwise. */
export async function setCampaignStatus(db: Queryable, siteId: number, id: string, status: CampaignStatus): Promise<void> {
  await one(
    db,
    `update campaign set status = $3, updated_at = now(),
            starts_at = case when $3 = 'live' and starts_at > now() then null else starts_at end,
            ends_at = case when $3 = 'live' and ends_at <= now() then null else ends_at end
      where site_id = $1 and id = $2 returning id`,
    [siteId, id, status],
  );
}

/** Of the campaign $2 of the site $1: whether the release that is out has it. */
const IS_OUT = `exists (select from (select document from release where site_id = $1 order by number desc limit 1) as latest
                         where latest.document -> 'campaigns' @> jsonb_build_array(jsonb_build_object('id', $2::text)))`;

/**
 * When a campaign begins and ends by itself. One that begins later is scheduled; without a beginning it stays as it is, or, if it was scheduled, goes on
 * where it is part of the release that is out, and else is a draft again.
 */
export async function setSchedule(
  db: Queryable,
  siteId: number,
  id: string,
  { startsAt, endsAt }: { startsAt: Date | null; endsAt: Date | null },
): Promise<void> {
  await one(
    db,
    `update campaign set starts_at = $3::timestamptz, ends_at = $4::timestamptz, updated_at = now(),
            status = case when $3::timestamptz > now() then 'scheduled' when status = 'scheduled' then (case when $3::timestamptz is null and not ${IS_OUT} then 'draft' else 'live' end)
                          when status = 'ended' and ($4::timestamptz is null or $4::timestamptz > now()) then 'draft' else status end
      where site_id = $1 and id = $2 returning id`,
    [siteId, id, startsAt, endsAt],
  );
}

/** Lets everything begin and end whose instant has come, on one server. How many campaigns it was. */
export async function carryOutSchedules(pool: pg.Pool, now = Date.now()): Promise<number> {
  const due = await many<{ site: number; id: string; name: string }>(
    pool,
    `select site_id as site, id, name from campaign where (${IS_DUE}) and ${isNotResting('schedule', 'campaign.site_id', 'campaign.id', '$1')}`,
    [now],
  );
  if (due.length === 0) return 0;
  let carriedOut = 0;
  const { step, failures } = await steps(pool, 'schedule', { now });
  for (const { site, id, name } of due)
    await step({ site, subject: id, name }, () =>
      withTransaction(pool, async (tx) => {
        const moved = await maybeOne<{ status: 'live' | 'ended' }>(
          tx,
          `update campaign set status = case when ends_at <= at_ms($1) then 'ended' else 'live' end, updated_at = now()
            where (${IS_DUE}) and site_id = $2 and id = $3 returning status`,
          [now, site, id],
        );
        // Somebody else has just done it.
        if (!moved) return;
        const did = moved.status === 'live' ? 'begun, as set' : 'ended, as set';
        await noteChange(tx, site, null, { kind: 'campaign', subject: id, name, did });
        carriedOut++;
      }),
    );
  if (failures.length > 0) throw new AggregateError(failures, `${failures.length} campaigns did not begin or end: ${String(failures[0])}`);
  return carriedOut;
}

/** `$1`: UTC ms. */
const IS_DUE = `(status = 'scheduled' and starts_at <= at_ms($1)) or (status in ('scheduled', 'live', 'paused') and ends_at <= at_ms($1))`;

export type Moved = Readonly<Record<string, { readonly x: number; readonly y: number }>>;

/** How far messages were moved on the campaign's board, by message; undefined where there is no such campaign. */
export const boardOf = async (db: Queryable, siteId: number, id: string): Promise<Moved | undefined> =>
  (await maybeOne<{ board: Moved }>(db, `select board from campaign where site_id = $1 and id = $2`, [siteId, id]))?.board;

export async function setBoard(db: Queryable, siteId: number, id: string, moved: Moved): Promise<boolean> {
  const { rowCount } = await db.query(`update campaign set board = $3 where site_id = $1 and id = $2`, [siteId, id, moved]);
  return rowCount === 1;
}
