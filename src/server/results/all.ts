import type { CampaignStatus } from '@/core/campaigns/campaign';
import type { Queryable } from '../db/queryable';
import { many, one } from '../db/queryable';
import { seldom, WATCHED_MS } from '../db/seldom';

export interface MetCampaign {
  readonly id: string;
  readonly name: string;
  readonly status: CampaignStatus;
  /** Name of the purpose that it is one form of. */
  readonly purpose: string | null;
  /** Visitors who met it in the period, roughly: each once, whether for the first time or not. */
  readonly met: number;
}

const HOUR_MS = 3_600_000;

/** What is said of all of a period: its beginning goes on with each moment, and what was said of it a little ago is said again where that took long. */
const ofPeriod = <T>(db: Queryable, { what, siteId, since }: { what: string; siteId: number; since: number }, ask: () => Promise<T>) =>
  seldom(db, `${what} ${siteId} ${Math.round(since / HOUR_MS)}`, ask, { quickMs: WATCHED_MS });

/** Campaigns that somebody met since then, those of one purpose together, the most met first. `since`: UTC ms. */
export const campaignsMet = (db: Queryable, siteId: number, since: number): Promise<MetCampaign[]> =>
  ofPeriod(db, { what: 'met', siteId, since }, () => findMet(db, siteId, since));

const findMet = (db: Queryable, siteId: number, since: number): Promise<MetCampaign[]> =>
  many<MetCampaign & Record<string, unknown>>(
    db,
    `select campaign.id, campaign.name, status, purpose.name as purpose, met.visitors as met
       from (select campaign_id, count(distinct visitor_id)::int as visitors from showing
              where site_id = $1 and at >= at_ms($2) and not opened group by 1) as met
       join campaign on campaign.site_id = $1 and campaign.id = met.campaign_id
       left join purpose on purpose.site_id = $1 and purpose.id = campaign.purpose_id
      order by max(met.visitors) over (partition by coalesce(purpose.id, campaign.id)) desc, coalesce(purpose.id, campaign.id), met.visitors desc, campaign.id`,
    [siteId, since],
  );

/** What all messages together do to visits. */
export interface Annoyance {
  readonly visits: number;
  /** Visits in which something was shown. */
  readonly withMessage: number;
  /** Visits that ended within five seconds of something shown. */
  readonly endedSoon: number;
  /** Visitors who were shown something, and of them those who closed three in a row without answering any. */
  readonly shownTo: number;
  readonly dismissedThrice: number;
}

const SOON_MS = 5000;

/** What all messages since then did to visits. `since`: UTC ms. */
export const annoyance = (db: Queryable, siteId: number, since: number): Promise<Annoyance> =>
  ofPeriod(db, { what: 'annoyance', siteId, since }, () => findAnnoyance(db, siteId, since));

const findAnnoyance = (db: Queryable, siteId: number, since: number): Promise<Annoyance> =>
  one<Annoyance & Record<string, unknown>>(
    db,
    `with shown as (
       select showing.id, visit_id, visitor_id, at from showing
        where site_id = $1 and at >= at_ms($2) and shown and not unseen and not opened
          and not exists (select from visitor where visitor.site_id = $1 and visitor.id = showing.visitor_id and team)),
     ends as (
       select visit_id, max(at + make_interval(secs => leave_ms / 1000.0)) as ended from page_view
        where site_id = $1 and visit_id in (select visit_id from shown) group by 1),
     answers as (
       select visitor_id, shown.at,
              exists (select from outcome where outcome.site_id = $1 and showing_id = shown.id and kind = 'dismissed') as dismissed,
              exists (select from outcome where outcome.site_id = $1 and showing_id = shown.id and kind in ('clicked', 'converted', 'replied')) as answered
         from shown),
     rows as (
       select visitor_id, dismissed and not answered as closed,
              row_number() over (partition by visitor_id order by at) - row_number() over (partition by visitor_id, dismissed and not answered order by at) as island
         from answers),
     streaks as (select visitor_id, count(*) as length from rows where closed group by visitor_id, island)
     select (select count(*)::int from visit where site_id = $1 and started_at >= at_ms($2)) as visits,
            (select count(distinct visit_id)::int from shown) as "withMessage",
            (select count(distinct shown.visit_id)::int from shown join ends using (visit_id)
              where ended - shown.at between interval '0' and make_interval(secs => ${SOON_MS} / 1000.0)) as "endedSoon",
            (select count(distinct visitor_id)::int from shown) as "shownTo",
            (select count(distinct visitor_id)::int from streaks where length >= 3) as "dismissedThrice"`,
    [siteId, since],
  );

/** Visits that began from `from` to `to` (UTC ms) in which a message was shown; of the team none. */
export const withMessages = async (db: Queryable, siteId: number, { from, to }: { from: number; to: number }): Promise<number> =>
  (
    await one<{ visits: number }>(
      db,
      `select count(distinct visit_id)::int as visits from showing join visit on visit.site_id = $1 and visit.id = visit_id
        where showing.site_id = $1 and shown and not unseen and not opened and started_at >= at_ms($2) and started_at < at_ms($3)
          and not exists (select from visitor where visitor.site_id = $1 and visitor.id = showing.visitor_id and team)`,
      [siteId, from, to],
    )
  ).visits;
