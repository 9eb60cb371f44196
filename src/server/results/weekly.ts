import type { WeeklyCampaign } from '@/core/results/weekly';
import { beginningIn, dueMonday, weekBefore, weeklyMail } from '@/core/results/weekly';
import { isClear, isTooWide, nothingComparedWords, percent, points, successWords, valueName } from '@/core/results/words';
import type { ResultRow } from '@/core/results/report';
import { DAY_MS } from '@/core/time/day';
import type pg from 'pg';
import { analyse } from '../analysis/analyse';
import { listCampaigns } from '../db/campaigns';
import { findMainGoal } from '../db/goals';
import { isNotResting, steps } from '../db/failedTasks';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many, maybeOne, one } from '../db/queryable';
import { findSite } from '../db/sites';
import type { Mail } from '../mail/mailer';
import { campaignsMet, withMessages } from './all';
import { campaignOverview } from './report';

/** Whether a member gets the week's results of a site. */
export const wantsWeekly = async (db: Queryable, siteId: number, memberId: number): Promise<boolean> =>
  (await maybeOne(db, `select true as is from weekly_mail where site_id = $1 and member_id = $2`, [siteId, memberId])) !== undefined;

/** From the next Monday of the zone on. `now`: UTC ms. */
export async function wantWeekly(
  db: Queryable,
  siteId: number,
  { memberId, zone, now }: { memberId: number; zone: string; now: number },
): Promise<void> {
  await db.query(
    `insert into weekly_mail (site_id, member_id, zone, sent_for) values ($1, $2, $3, $4)
     on conflict (site_id, member_id) do update set zone = excluded.zone`,
    [siteId, memberId, zone, dueMonday(zone, now)],
  );
}

export async function stopWeekly(db: Queryable, siteId: number, memberId: number): Promise<void> {
  await db.query(`delete from weekly_mail where site_id = $1 and member_id = $2`, [siteId, memberId]);
}

/** The mail of a week, told by the days of a zone. `monday`: the one after it. */
export async function weeklyOf(
  db: Queryable,
  siteId: number,
  { to, memberId, zone, monday }: { to: string; memberId: number; zone: string; monday: string },
): Promise<Mail> {
  const { from, to: last } = weekBefore(monday);
  const [begins, ends] = [beginningIn(zone, from), beginningIn(zone, monday)];
  const before = begins - (ends - begins);
  const [site, main, visits, withMessage, met] = [
    await findSite(db, siteId),
    await findMainGoal(db, siteId),
    await one<{ now: number; before: number }>(
      db,
      `select count(*) filter (where started_at >= at_ms($2))::int as now, count(*) filter (where started_at < at_ms($2))::int as before
         from visit where site_id = $1 and started_at >= at_ms($3) and started_at < at_ms($4)`,
      [siteId, begins, before, ends],
    ),
    await withMessages(db, siteId, { from: begins, to: ends }),
    await campaignsMet(db, siteId, begins),
  ];
  const times = async (goal: NonNullable<typeof main>['goal']): Promise<readonly [number, number]> => {
    const { quarters } = await analyse({ kind: 'reached', site: siteId, goal, since: before, now: ends - 1 });
    const sum = (since: number, until: number): number =>
      quarters.reduce((all, [quarter, count]) => (quarter * QUARTER_MS >= since && quarter * QUARTER_MS < until ? all + count : all), 0);
    return [sum(begins, ends), sum(before, begins)];
  };
  const campaigns: WeeklyCampaign[] = [];
  const stored = await listCampaigns(db, siteId);
  for (const { id, name } of met) {
    const campaign = stored.find((all) => all.id === id);
    if (!campaign) continue;
    const results = await campaignOverview(db, siteId, campaign, { from: begins, to: ends, now: ends, zone });
    if (results.met === 0) continue;
    const shown = results.rows.filter(({ value }) => value !== 'nothing');
    const [of, successes] = [shown.reduce((sum, row) => sum + row.met, 0), shown.reduce((sum, row) => sum + row.successes, 0)];
    const compared = results.rows.filter(({ against }) => against !== null);
    campaigns.push({
      id,
      name,
      met: results.met,
      rate: of > 0 ? `${percent(successes / of)} ${successWords(campaign.goal)}` : 'nobody saw it',
      difference:
        compared.length > 0
          ? compared.map((row) => differenceWords(row, compared.length > 1)).join('; ')
          : nothingComparedWords(results.isOwnGoal),
      isClear: compared.some(({ against }) => against && isClear(against)),
    });
  }
  return {
    id: `weekly.${siteId}.${memberId}.${monday}`,
    to,
    ...weeklyMail({
      site: site?.name ?? '',
      from,
      to: last,
      visits: [visits.now, visits.before],
      withMessage,
      goal: main ? { name: main.name, times: await times(main.goal) } : undefined,
      campaigns,
      url: `${(process.env['CRINDLE_STUDIO'] ?? 'http://127.0.0.1:4700').replace(/\/$/, '')}/results?days=7`,
    }),
  };
}

const QUARTER_MS = 900_000;

function differenceWords({ value, against }: ResultRow, isOneOfSeveral: boolean): string {
  if (!against) return '';
  const [low, high] = against.span;
  const who = isOneOfSeveral ? `${valueName(value)}: ` : '';
  const span = `somewhere between ${points(low)} and ${points(high)}`;
  if (isTooWide(against)) return `${who}too few yet to say`;
  return isClear(against) ? `${who}${points(against.difference)} points, ${span}` : `${who}no difference is clear yet, ${span} points`;
}

/**
 * Mails what is due on a server, each in a transaction of its own: of two who do it at once one does, and what could not be mailed is tried again next
 * time. Of who has left a site nothing is mailed any more. `now`: UTC ms. @throws AggregateError of what failed
 */
export async function sendDue(pool: pg.Pool, { now, send }: { now: number; send: (mail: Mail) => Promise<void> }): Promise<number> {
  const rows = await many<{ site: number; member: number; zone: string; sent: string }>(
    pool,
    `select weekly_mail.site_id as site, weekly_mail.member_id as member, zone, sent_for::text as sent
       from weekly_mail join membership using (site_id, member_id) where sent_for < at_ms($1)::date + 1
        and ${isNotResting('weekly mail', 'weekly_mail.site_id', 'weekly_mail.member_id::text', '$2')}`,
    [now - 6 * DAY_MS, now],
  );
  const due = rows.filter(({ zone, sent }) => sent < dueMonday(zone, now));
  const { step, failures } = await steps(pool, 'weekly mail', { now });
  let sent = 0;
  for (const { site, member, zone } of due)
    await step({ site, subject: String(member), name: `To member ${member}` }, () =>
      withTransaction(pool, async (tx) => {
        const monday = dueMonday(zone, now);
        const mine = await maybeOne<{ email: string }>(
          tx,
          `select email from weekly_mail join member on member.id = member_id
          where site_id = $1 and member_id = $2 and sent_for < $3::date for update of weekly_mail skip locked`,
          [site, member, monday],
        );
        if (!mine) return;
        await send(await weeklyOf(pool, site, { to: mine.email, memberId: member, zone, monday }));
        await tx.query(`update weekly_mail set sent_for = $3 where site_id = $1 and member_id = $2`, [site, member, monday]);
        sent++;
      }),
    );
  if (failures.length > 0)
    throw new AggregateError(
      failures,
      `${failures.length} of ${due.length} weekly mails were not sent: ${failures.map(String).join('; ')}`,
    );
  return sent;
}
