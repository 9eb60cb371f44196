import type { Flow } from '@/core/flows/flow';
import type { PastShowing } from '@/core/rehearsal/reasons';
import type { Queryable } from './queryable';
import { many, maybeOne } from './queryable';
import { seldom, WATCHED_MS } from './seldom';

export interface NewShowing {
  readonly id: string;
  readonly campaign: string;
  readonly visitorId: number;
  readonly visit: string;
  readonly view: string;
  /** UTC ms. */
  readonly at: number;
  readonly release: number;
  /** False for the holdout. */
  readonly shown?: boolean;
  readonly variant?: string | undefined;
  /** By the site's own code, whatever the rule says. */
  readonly opened?: boolean | undefined;
  /** It stands between the page's own elements, and has not come into sight. */
  readonly unseen?: boolean | undefined;
}

/** The same id again changes nothing. */
export async function insertShowing(db: Queryable, siteId: number, showing: NewShowing): Promise<void> {
  const { id, campaign, visitorId, visit, view, at, release, shown = true, variant = null, opened = false, unseen = false } = showing;
  await db.query(
    `insert into showing (site_id, id, campaign_id, visitor_id, visit_id, view_id, at, release, shown, variant, opened, unseen)
     values ($1, $2, $3, $4, $5, $6, at_ms($7), $8, $9, $10, $11, $12) on conflict (site_id, id) do nothing`,
    [siteId, id, campaign, visitorId, visit, view, at, release, shown, variant, opened, unseen],
  );
}

/** It has come into sight; the same again changes nothing. */
export async function noteSight(db: Queryable, siteId: number, showing: string): Promise<void> {
  await db.query(`update showing set unseen = false where site_id = $1 and id = $2 and unseen`, [siteId, showing]);
}

/** Whose showing it is, and when it was (UTC ms); undefined where none of that id to that browser is on record. */
export async function findShowing(
  db: Queryable,
  siteId: number,
  { showing, browser }: { showing: string; browser: string },
): Promise<{ visitorId: number; at: number } | undefined> {
  return maybeOne<{ visitorId: number; at: number }>(
    db,
    `select visitor_id as "visitorId", ms(at)::float8 as at from showing join visitor on visitor.site_id = showing.site_id and visitor.id = visitor_id
      where showing.site_id = $1 and showing.id = $2 and browser_id = $3`,
    [siteId, showing, browser],
  );
}

/** The flow that a showing was of, as it was released; undefined where the showing is not on record (yet) or its release did not have it. */
export async function flowOfShowing(db: Queryable, siteId: number, showing: string): Promise<Flow | undefined> {
  const found = await maybeOne<{ flow: Flow | null }>(
    db,
    `select jsonb_path_query_first(document, '$.campaigns[*] ? (@.id == $id).flow', jsonb_build_object('id', campaign_id)) as flow
       from showing join release on release.site_id = $1 and release.number = showing.release where showing.site_id = $1 and showing.id = $2`,
    [siteId, showing],
  );
  return found?.flow ?? undefined;
}

export interface PacingCounts {
  readonly campaign: string;
  /** UTC ms. */
  readonly lastAt: number;
  readonly shown: number;
  readonly dismissed: number;
  readonly converted: number;
}

/** What each campaign's rule has shown a visitor, and what came of it; what the site's own code opened is not paced. */
export async function pacingOf(db: Queryable, siteId: number, visitorId: number): Promise<PacingCounts[]> {
  return many<PacingCounts & Record<string, unknown>>(
    db,
    `select campaign_id as campaign, ms(max(showing.at))::float8 as "lastAt", count(distinct showing.id)::int as shown,
            count(*) filter (where kind = 'dismissed')::int as dismissed, count(*) filter (where kind = 'converted')::int as converted
       from showing left join outcome on outcome.site_id = $1 and outcome.showing_id = showing.id
      where showing.site_id = $1 and visitor_id = $2 and not opened group by campaign_id`,
    [siteId, visitorId],
  );
}

export interface CampaignCounts {
  readonly campaign: string;
  readonly triggered: number;
  readonly shown: number;
  readonly dismissed: number;
  readonly converted: number;
}

/** Of the last days, without what the team's own browsers were shown; on a large site not of this very minute. */
export const countShowings = (db: Queryable, siteId: number, days: number): Promise<CampaignCounts[]> =>
  seldom(db, `showings ${siteId} ${days}`, () => countAllShowings(db, siteId, days), { quickMs: WATCHED_MS });

function countAllShowings(db: Queryable, siteId: number, days: number): Promise<CampaignCounts[]> {
  return many<CampaignCounts & Record<string, unknown>>(
    db,
    `select campaign_id as campaign, triggered, shown, coalesce(dismissed, 0) as dismissed, coalesce(converted, 0) as converted
       from (select campaign_id, count(*)::int as triggered, count(*) filter (where shown and not unseen)::int as shown
               from showing
              where site_id = $1 and at > now() - make_interval(days => $2)
                and not exists (select from visitor where visitor.site_id = $1 and visitor.id = showing.visitor_id and team)
              group by campaign_id) as showings
       left join (
         select campaign_id, count(*) filter (where kind = 'dismissed')::int as dismissed, count(*) filter (where kind = 'converted')::int as converted
           from outcome join showing on showing.site_id = $1 and showing.id = outcome.showing_id
          where outcome.site_id = $1 and showing.at > now() - make_interval(days => $2)
            and not exists (select from visitor where visitor.site_id = $1 and visitor.id = showing.visitor_id and team)
          group by campaign_id) as outcomes using (campaign_id)`,
    [siteId, days],
  );
}

export interface VisitorShowing {
  readonly campaign: string;
  readonly view: string;
  /** UTC ms. */
  readonly at: number;
  readonly isSeen: boolean;
  readonly outcomes: PastShowing['outcomes'];
}

/** All that rules have shown a visitor, in order, with what came of each. */
export async function showingsOf(db: Queryable, siteId: number, visitorId: number): Promise<VisitorShowing[]> {
  return many<VisitorShowing & Record<string, unknown>>(
    db,
    `select campaign_id as campaign, ms(showing.at)::float8 as at, view_id as view, shown as "isSeen",
            coalesce((select json_agg(json_build_object('outcome', kind, 'at', ms(outcome.at)) order by outcome.at)
                        from outcome where outcome.site_id = $1 and showing_id = showing.id), '[]') as outcomes
       from showing where site_id = $1 and visitor_id = $2 and not opened order by showing.at`,
    [siteId, visitorId],
  );
}

/** Which campaigns were triggered since a release was published. */
export async function triggeredSince(db: Queryable, siteId: number, release: number): Promise<ReadonlySet<string>> {
  const rows = await many<{ campaign: string }>(
    db,
    `select distinct campaign_id as campaign from showing where site_id = $1
        and at > (select published_at from release where site_id = $1 and number = $2)`,
    [siteId, release],
  );
  return new Set(rows.map(({ campaign }) => campaign));
}
