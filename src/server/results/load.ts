import type { CampaignDocument } from '@/core/campaigns/campaign';
import type { Split } from '@/core/campaigns/assign';
import { campaignPrint, experimentPrint } from '@/core/release/print';
import type { ReleasedCampaign, ReleasedFacts } from '@/core/release/release';
import { reachesGoal, valueOf } from '@/core/campaigns/goals';
import { visitorAt } from '@/core/history/record';
import { peopleHold } from '@/core/people/condition';
import type { Exposure } from '@/core/results/report';
import { NOTHING, SHOWN } from '@/core/results/report';
import { DAY_MS } from '@/core/time/day';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { findSegment } from '../db/segments';
import { loadVisitors } from '../db/visitors';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';

export interface Asked {
  readonly campaign: string;
  readonly goal: CampaignDocument['goal'];
  /** UTC ms, the first inclusive, the second not. */
  readonly from: number;
  readonly to: number;
  /** What is known by this instant, UTC ms. */
  readonly now: number;
  /** Id of a segment that visitors are told apart by. */
  readonly segment?: string | undefined;
}

type Row = Omit<Exposure, 'dealt' | 'success' | 'value' | 'page' | 'inSegment'> & {
  readonly variant: string | null;
  readonly isSeen: boolean;
  /** Number of the visitor who met it: of several with one email. */
  readonly browser: number;
  readonly url: string | null;
} & Record<string, unknown>;

/** Visitors who have said the same email are one person: the first of them. `$1`: the site. */
const SAME = `same as (select id, min(id) over (partition by lower(email)) as person from visitor where site_id = $1 and email is not null)`;

/** The first meeting of each person with a campaign, and what they were by then. The team is left out, and so is what was asked for. */
const FIRST = `
  with ${SAME},
  every as (
    select showing.*, coalesce(person, visitor_id) as person from showing left join same on same.id = visitor_id
     where site_id = $1 and campaign_id = $2 and not opened and at < at_ms($5)
       and not exists (select from visitor where visitor.site_id = $1 and visitor.id = showing.visitor_id and team)),
  firsts as (select distinct on (person) person, visitor_id, at, shown, variant, visit_id, view_id, release from every order by person, at, id),
  met as (select * from firsts where at >= at_ms($3) and at < at_ms($4)),
  written as (select distinct showing_id from form_sent where site_id = $1 and campaign_id = $2 and at < at_ms($5)),
  came as (
    select person, bool_or(every.shown and not unseen) as shown,
           coalesce(bool_or(outcome.kind in ('clicked', 'replied')), false) as engaged,
           (array_agg(coalesce(outcome.how, 'unknown') order by outcome.at) filter (where outcome.kind = 'dismissed'))[1] as dismissed,
           coalesce(bool_or(outcome.kind = 'replied' or written.showing_id is not null), false) as sent
      from every join met using (person)
      left join outcome on outcome.site_id = $1 and outcome.showing_id = every.id and outcome.at < at_ms($5)
      left join written on written.showing_id = every.id
     group by 1),
  named as (select visitor_id, min(at) as at from visitor_change where site_id = $1 and kind = 'identity' and value <> 'null' group by 1)
  select met.person as visitor, met.visitor_id as browser, ms(met.at)::float8 as met, met.shown as "isSeen", variant, release,
         came.shown, came.engaged, came.dismissed, came.sent, device_category as device, visit.channel, visit.country, page_view.url,
         coalesce(named.at <= met.at, false) as known, coalesce(visitor.first_seen < visit.started_at, false) as returning
    from met join came using (person)
    join visitor on visitor.site_id = $1 and visitor.id = met.visitor_id
    left join named on named.visitor_id = met.visitor_id
    left join visit on visit.site_id = $1 and visit.id = met.visit_id
    left join page_view on page_view.site_id = $1 and page_view.id = met.view_id
   order by met.at, met.person`;

interface Success {
  readonly at: number;
  readonly value: number | null;
}

/** Visitors who first met a campaign in a period, and what came of it. */
export async function loadMet(db: Queryable, siteId: number, asked: Asked): Promise<Exposure[]> {
  const { campaign, from, to, now, segment } = asked;
  const rows = await many<Row>(db, FIRST, [siteId, campaign, from, to, now]);
  if (rows.length === 0) return [];
  const [successes, inSegment] = [
    await loadSuccesses(db, siteId, rows, asked),
    segment ? await membersAt(db, siteId, rows, segment) : undefined,
  ];
  return rows.map(({ variant, isSeen, url, browser: _browser, ...row }): Exposure => {
    const success = successes.get(row.visitor);
    return {
      ...row,
      dealt: isSeen ? (variant ?? SHOWN) : NOTHING,
      page: url && URL.canParse(url) ? new URL(url).pathname : null,
      success: success?.at ?? null,
      value: success?.value ?? null,
      ...(inSegment ? { inSegment: inSegment.has(row.visitor) } : {}),
    };
  });
}

/** Of each visitor the first success at or after the first meeting, and within the goal's days. */
async function loadSuccesses(
  db: Queryable,
  siteId: number,
  rows: readonly Row[],
  { campaign, goal, now }: Asked,
): Promise<Map<number, Success>> {
  const found = new Map<number, Success>();
  const metAt = new Map(rows.map(({ visitor, met }) => [visitor, met]));
  const same = await many<{ id: number; person: number }>(db, `with ${SAME} select id, person from same where person <> id`, [siteId]);
  const personOf = new Map(same.map(({ id, person }) => [id, person]));
  const ids = [...metAt.keys(), ...same.flatMap(({ id, person }) => (metAt.has(person) ? [id] : []))];
  const within = 'days' in goal ? goal.days * DAY_MS : Infinity;
  const note = (who: number, at: number, value: number | null): void => {
    const visitor = personOf.get(who) ?? who;
    const met = metAt.get(visitor);
    if (met === undefined || at < met || at > met + within || found.has(visitor)) return;
    found.set(visitor, { at, value });
  };
  // Rows are in the order of their meetings; a spread of a hundred thousand would be too much for the stack.
  const first = rows[0]?.met ?? 0;
  switch (goal.kind) {
    case 'form': {
      const leads = await many<{ visitor: number; at: number }>(
        db,
        `select visitor_id as visitor, ms(at)::float8 as at from form_sent
          where site_id = $1 and campaign_id = $2 and visitor_id = any($3::int[]) and at < at_ms($4) order by at`,
        [siteId, campaign, ids, now],
      );
      for (const { visitor, at } of leads) note(visitor, at, valueOf(goal));
      return found;
    }
    case 'reply': {
      const replies = await many<{ visitor: number; at: number }>(
        db,
        `select visitor_id as visitor, ms(outcome.at)::float8 as at from outcome join showing on showing.site_id = $1 and showing.id = showing_id
          where outcome.site_id = $1 and kind = 'replied' and campaign_id = $2 and visitor_id = any($3::int[]) and outcome.at < at_ms($4) order by outcome.at`,
        [siteId, campaign, ids, now],
      );
      for (const { visitor, at } of replies) note(visitor, at, valueOf(goal));
      return found;
    }
    case 'event': {
      const events = await many<{ visitor: number; at: number; props: Record<string, unknown> }>(
        db,
        `select visitor_id as visitor, ms(at)::float8 as at, props from event
          where site_id = $1 and name = $2 and visitor_id = any($3::int[]) and at >= at_ms($4) and at < at_ms($5) order by at, id`,
        [siteId, goal.event, ids, first, now],
      );
      for (const { visitor, at, props } of events)
        if (reachesGoal(goal, { kind: 'event', name: goal.event, props }, at)) note(visitor, at, valueOf(goal, props));
      return found;
    }
    case 'page': {
      const sets = await loadPageSets(db, siteId);
      const views = await many<{ visitor: number; at: number; url: string; title: string | null; labels: string[] | null }>(
        db,
        `select visitor_id as visitor, ms(at)::float8 as at, url, title, labels from page_view
          where site_id = $1 and visitor_id = any($2::int[]) and at >= at_ms($3) and at < at_ms($4) order by at, id`,
        [siteId, ids, first, now],
      );
      for (const { visitor, at, url, title, labels } of views)
        if (
          !found.has(personOf.get(visitor) ?? visitor) &&
          reachesGoal(goal, { kind: 'open', url, title: title ?? undefined, labels: labels ?? undefined }, at, sets)
        )
          note(visitor, at, valueOf(goal));
      return found;
    }
  }
}

const AT_ONCE = 1000;

/** Who was in a segment when they first met the campaign. */
async function membersAt(db: Queryable, siteId: number, rows: readonly Row[], id: string): Promise<Set<number>> {
  const segment = await findSegment(db, siteId, id);
  const members = new Set<number>();
  if (!segment) return members;
  const [sets, places, segments] = [await loadPageSets(db, siteId), await loadPlaces(db, siteId), await segmentBodies(db, siteId)];
  const { people, lookback } = segment;
  const metAt = new Map(rows.map(({ browser, met, visitor }) => [browser, { met, visitor }]));
  for (let start = 0; start < rows.length; start += AT_ONCE) {
    const stored = await loadVisitors(
      db,
      siteId,
      rows.slice(start, start + AT_ONCE).map(({ browser }) => browser),
    );
    for (const { id, record } of stored) {
      const { met: now, visitor } = metAt.get(id) ?? { met: 0, visitor: id };
      if (peopleHold(people, { visitor: visitorAt(record, now), now, lookback, sets, places, segments }) === true) members.add(visitor);
    }
  }
  return members;
}

export interface ReleaseMark {
  readonly number: number;
  readonly name: string;
  /** UTC ms. */
  readonly at: number;
}

export interface DealtOut {
  /** By release what it dealt. */
  readonly splits: Map<number, Split>;
  /** Releases in which the campaign itself became another, its shares included. */
  readonly marks: ReleaseMark[];
  /** Releases in which those who meet it began to be compared anew: its first, and each in which its messages, its rule, its people or its goal became others. */
  readonly starts: ReleaseMark[];
  readonly goalChangedAt: number | undefined;
}

/** What each release dealt out of a campaign, and how it changed. */
export async function loadSplits(db: Queryable, siteId: number, campaign: string): Promise<DealtOut> {
  const rows = await many<{ number: number; name: string; at: number; facts: ReleasedFacts; part: ReleasedCampaign | null }>(
    db,
    `select number, name, ms(published_at)::float8 as at, facts,
            jsonb_path_query_first(document, '$.campaigns[*] ? (@.id == $id)', jsonb_build_object('id', $2::text)) as part
       from release where site_id = $1 order by number`,
    [siteId, campaign],
  );
  const splits = new Map<number, Split>();
  const marks: ReleaseMark[] = [];
  const starts: ReleaseMark[] = [];
  let [last, experiment] = ['', ''];
  let goal: string | undefined;
  let goalChangedAt: number | undefined;
  for (const { number, name, at, facts, part } of rows) {
    if (part)
      splits.set(number, { ...(part.holdout ? { holdout: part.holdout } : {}), ...(part.variants ? { variants: part.variants } : {}) });
    const print = part ? campaignPrint(part, facts) : 'none';
    // Whoever was off for a while goes on as before.
    const compared = part ? experimentPrint(part, facts) : experiment;
    if (compared !== experiment) starts.push({ number, name, at });
    experiment = compared;
    if (print !== last && (part || last !== '')) marks.push({ number, name, at });
    last = part ? print : '';
    const now = part ? JSON.stringify(part.goal) : goal;
    if (goal !== undefined && now !== goal) goalChangedAt = at;
    goal = now;
  }
  return { splits, marks, starts, goalChangedAt };
}
