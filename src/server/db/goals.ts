import type { SiteGoal } from '@/core/campaigns/campaign';
import type { Queryable } from './queryable';
import { many, maybeOne } from './queryable';
import type { StoredGoal } from './vocabulary';
import { goals } from './vocabulary';

export interface GoalInUse extends StoredGoal {
  readonly isMain: boolean;
  readonly campaigns: readonly { readonly id: string; readonly name: string; readonly isLive: boolean }[];
}

/** A site's goals with the campaigns that count them. */
export const listGoals = (db: Queryable, siteId: number): Promise<GoalInUse[]> =>
  many<GoalInUse & Record<string, unknown>>(
    db,
    `select goal.id, goal.name, goal.goal, goal.revision, goal.updated_at as "updatedAt", goal.id is not distinct from site.main_goal as "isMain",
            coalesce((select json_agg(json_build_object('id', campaign.id, 'name', campaign.name, 'isLive', status = 'live') order by position, campaign.id)
               from campaign where campaign.site_id = $1 and campaign.goal ->> 'named' = goal.id), '[]') as campaigns
       from goal join site on site.id = goal.site_id where goal.site_id = $1 order by lower(goal.name), goal.id`,
    [siteId],
  );

/** The new revision. Every campaign that counts it, and every purpose, has it as it is now. Runs in a transaction. @throws Outdated, NameTaken */
export async function saveGoal(
  tx: Queryable,
  siteId: number,
  { id, name, goal, revision }: { id: string; name: string; goal: SiteGoal; revision: number },
): Promise<number> {
  const next = await goals.update(tx, siteId, { id, name, body: goal, revision });
  const copy = { ...goal, named: id };
  // Purposes before campaigns, as everywhere.
  await tx.query(
    `update purpose set shared = jsonb_set(shared, '{goal}', $3) where site_id = $1 and shared -> 'goal' ->> 'named' = $2 and shared -> 'goal' <> $3`,
    [siteId, id, copy],
  );
  await tx.query(
    `update campaign set goal = $3, revision = revision + 1, updated_at = now() where site_id = $1 and goal ->> 'named' = $2 and goal <> $3`,
    [siteId, id, copy],
  );
  return next;
}

/** Before a goal is deleted: whoever counts it goes on doing so, with it as their own. Runs in the transaction in which it goes. */
export async function leaveGoal(tx: Queryable, siteId: number, id: string): Promise<void> {
  await tx.query(`update purpose set shared = shared #- '{goal,named}' where site_id = $1 and shared -> 'goal' ->> 'named' = $2`, [
    siteId,
    id,
  ]);
  await tx.query(
    `update campaign set goal = goal - 'named', revision = revision + 1, updated_at = now() where site_id = $1 and goal ->> 'named' = $2`,
    [siteId, id],
  );
  await tx.query(`update site set main_goal = null where id = $1 and main_goal = $2`, [siteId, id]);
}

/** False where there is no such goal. */
export async function setMainGoal(db: Queryable, siteId: number, goal: string | null): Promise<boolean> {
  const { rowCount } = await db.query(
    `update site set main_goal = $2 where id = $1 and ($2::text is null or exists (select from goal where goal.site_id = $1 and goal.id = $2))`,
    [siteId, goal],
  );
  return rowCount === 1;
}

export const findMainGoal = (db: Queryable, siteId: number): Promise<StoredGoal | undefined> =>
  maybeOne<StoredGoal & Record<string, unknown>>(
    db,
    `select goal.id, goal.name, goal.goal, goal.revision, goal.updated_at as "updatedAt"
       from goal join site on site.id = goal.site_id and site.main_goal = goal.id where goal.site_id = $1`,
    [siteId],
  );
