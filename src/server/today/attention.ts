import { JOBS, listFailed } from '../db/failedTasks';
import type { Moment } from '@/core/moments/moment';
import { momentKindOf } from '@/core/moments/moment';
import { leavesOf } from '@/core/logic/expr';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { findCurrentRelease } from '../db/releases';
import { countFailed } from '../db/connections';
import { isReadOnly } from '../db/queryable';
import type { ReplicaState } from '../db/readSide';
import { restartsIn } from './restarts';
import { countWaiting } from '../db/threads';
import { lastSeen, listFaults, listRefusals } from '../db/sites';
import { triggeredSince } from '../db/showings';

/** Something that is off, why it matters, and where it is fixed. */
export interface Attention {
  readonly code:
    | 'script.unseen'
    | 'script.silent'
    | 'script.twice'
    | 'script.fault'
    | 'address'
    | 'release.none'
    | 'database.readOnly'
    | 'database.replica'
    | 'process.restarted'
    | 'campaign.silent'
    | 'selector.silent'
    | 'connection.failed'
    | 'conversation.waits'
    | 'job.failed'
    | 'script.key';
  readonly what: string;
  readonly reason: string;
  readonly fix: { readonly href: string; readonly words: string };
}

const HOUR_MS = 3_600_000;
/** After so many visits without a showing a campaign is called silent. */
const VISITS_UNTIL_SILENT = 200;
const SELECTOR_DAYS = 3;
/** Longer than this nobody waits gladly. */
const WAITED_MS = 10 * 60_000;

export async function listAttention(
  db: Queryable,
  siteId: number,
  { now, replica = { is: 'none' } }: { now: number; replica?: ReplicaState },
): Promise<Attention[]> {
  const [seen, refusals, faults, release, liveDrafts] = await Promise.all([
    lastSeen(db, siteId),
    listRefusals(db, siteId),
    listFaults(db, siteId),
    findCurrentRelease(db, siteId),
    many<{ name: string }>(db, `select name from campaign where site_id = $1 and status = 'live'`, [siteId]),
  ]);
  const setup = (words: string) => ({ href: '/setup', words });
  const found: Attention[] = (await restartsIn(process.env['CRINDLE_RUN']))
    .filter(({ at }) => now - at < 24 * HOUR_MS)
    .map(({ name, times, code, runs }) => ({
      code: 'process.restarted',
      what: runs ? `The ${name} was started again${times > 1 ? ` ${times} times` : ''}` : `The ${name} does not run just now`,
      reason: `It had ended by itself, with ${code}. What visitors sent meanwhile waits in their browsers; ./crindle status and its log say more.`,
      fix: setup('See whether the script is heard'),
    }));
  if (replica.is === 'away' || replica.is === 'behind')
    found.unshift({
      code: 'database.replica',
      what:
        replica.is === 'away'
          ? 'The copy of the database that is read from is away'
          : `The copy of the database that is read from is ${Math.round(replica.behindMs / 1000)} s behind`,
      reason: `Everything is read from the main database meanwhile, which has the more to do.${replica.is === 'away' ? ` It said: ${replica.reason}.` : ''}`,
      fix: setup('See whether the script is heard'),
    });
  if (await isReadOnly(db))
    found.unshift({
      code: 'database.readOnly',
      what: 'The database takes nothing at present',
      reason: 'It may be read and not written. What visitors send waits in their browsers, and nothing can be saved here.',
      fix: setup('See whether the script is heard'),
    });
  if (!seen)
    found.push({
      code: 'script.unseen',
      what: 'The script has not been seen yet',
      reason: 'Nothing is recorded and nothing can show until its line is on the site’s pages.',
      fix: setup('Put the script on the site'),
    });
  else if (now - seen.at.getTime() > HOUR_MS && (await isUsuallyBusy(db, siteId, now)))
    found.push({
      code: 'script.silent',
      what: `The script was last seen ${Math.round((now - seen.at.getTime()) / HOUR_MS)} h ago`,
      reason: 'At this hour the site usually has visits: the line may have been lost from its pages, or the collector cannot be reached.',
      fix: setup('Check the script'),
    });
  for (const { subject, times, lastAt } of refusals.filter(({ reason }) => reason === 'address'))
    if (now - lastAt.getTime() < 24 * HOUR_MS)
      found.push({
        code: 'address',
        what: `${subject} is turned away`,
        reason: `Its pages carry the script (${times === 1 ? 'one request' : `${times} requests`} in 7 days), but it is not one of the site’s addresses.`,
        fix: setup('Add the address'),
      });
  for (const { subject, times, lastAt } of refusals.filter(({ reason }) => reason === 'key'))
    if (now - lastAt.getTime() < 24 * HOUR_MS)
      found.push({
        code: 'script.key',
        what: `Pages carry a line with the key ${subject}`,
        reason: `It is no site’s key, so nothing is recorded there: ${timesWords(times)} in 7 days.`,
        fix: setup('See the right line'),
      });
  for (const { entry, message, times, lastAt } of faults)
    if (now - lastAt.getTime() < 24 * HOUR_MS)
      found.push(
        entry === 'twice'
          ? {
              code: 'script.twice',
              what: 'The script is on a page twice',
              reason: `Met ${timesWords(times)} in 7 days. The second line does nothing but cost time.`,
              fix: setup('See where'),
            }
          : {
              code: 'script.fault',
              what: 'The script met a fault of its own',
              reason: `${entry}: ${message}, ${timesWords(times)} in 7 days. The page itself was not harmed.`,
              fix: setup('See the faults'),
            },
      );
  const undone = await listFailed(db, siteId);
  if (undone.length > 0)
    found.push({
      code: 'job.failed',
      what: undone.length === 1 ? 'One thing could not be done by itself' : `${undone.length} things could not be done by themselves`,
      reason: `${[...new Set(undone.map(({ job }) => JOBS[job]))].join('; ')}. Everything else goes on.`,
      fix: { href: '/setup/log', words: 'See what, and why' },
    });
  const failed = await countFailed(db, siteId);
  if (failed > 0)
    found.push({
      code: 'connection.failed',
      what: failed === 1 ? 'A lead could not be sent on' : `${failed.toLocaleString('en-GB')} leads could not be sent on`,
      reason: 'They are kept here, and a service that they were for has refused them for good or did not answer for three days.',
      fix: { href: '/setup/connections', words: 'See why, and send them again' },
    });
  const { waiting, since } = await countWaiting(db, siteId);
  if (since && now - since.getTime() > WAITED_MS)
    found.push({
      code: 'conversation.waits',
      what: waiting === 1 ? 'A visitor waits for an answer' : `${waiting.toLocaleString('en-GB')} visitors wait for an answer`,
      reason: `The first of them has waited for ${waited(now - since.getTime())}.`,
      fix: { href: '/conversations', words: 'Answer them' },
    });
  if (!release) {
    const [first] = liveDrafts;
    if (first)
      found.push({
        code: 'release.none',
        what: 'No release is live',
        reason: `“${first.name}” is switched on, but nothing shows before the first release is published.`,
        fix: { href: '/campaigns', words: 'Go to the campaigns' },
      });
    return found;
  }
  const names = new Map(
    (await many<{ id: string; name: string }>(db, `select id, name from campaign where site_id = $1`, [siteId])).map(({ id, name }) => [
      id,
      name,
    ]),
  );
  const [{ visits = 0 } = {}] = await many<{ visits: number }>(
    db,
    `select count(*)::int as visits from visit where site_id = $1
        and started_at > (select published_at from release where site_id = $1 and number = $2)`,
    [siteId, release.number],
  );
  const triggered = await triggeredSince(db, siteId, release.number);
  for (const { id } of release.document.campaigns)
    if (visits >= VISITS_UNTIL_SILENT && !triggered.has(id))
      found.push({
        code: 'campaign.silent',
        what: `“${names.get(id) ?? id}” has not shown since release ${release.number}`,
        reason: `There were ${visits.toLocaleString('en-GB')} visits since. Its rehearsal says which condition leaves nobody.`,
        fix: { href: `/campaigns/${id}`, words: 'See its rehearsal' },
      });
  for (const { id, moment } of release.document.campaigns)
    for (const selector of selectorsOf(moment))
      if (await isNeverMet(db, siteId, { selector, now }))
        found.push({
          code: 'selector.silent',
          what: `Nothing on the site matches ${selector}`,
          reason: `“${names.get(id) ?? id}” waits for it, and it was in no page view of the last ${SELECTOR_DAYS} days in which it was looked for.`,
          fix: { href: `/campaigns/${id}`, words: 'Fix the moment' },
        });
  return found;
}

/** Elements whose being in view is watched: whether one matched is on record, while a click may just not have happened. */
function selectorsOf(moment: Parameters<typeof leavesOf<Moment>>[0]): string[] {
  return [
    ...new Set(
      leavesOf<Moment>(moment).flatMap(({ leaf }) => ('selector' in leaf && momentKindOf(leaf).watches === 'view' ? [leaf.selector] : [])),
    ),
  ];
}

async function isNeverMet(db: Queryable, siteId: number, { selector, now }: { selector: string; now: number }): Promise<boolean> {
  const [row] = await many<{ watched: boolean; met: boolean }>(
    db,
    `with looked as (select id from page_view where site_id = $1 and at > at_ms($4) - make_interval(days => $3) and $2 = any(watched) limit 5000)
     select exists (select from looked) as watched,
            exists (select from looked join signal_piece on signal_piece.site_id = $1 and view_id = looked.id
                     where signals @> jsonb_build_array(jsonb_build_object('s', 'seen', 'selector', $2::text))) as met`,
    [siteId, selector, SELECTOR_DAYS, now],
  );
  return row !== undefined && row.watched && !row.met;
}

/** Did the eight days before `now` bring at least seven visits in its hour of the day (UTC)? */
async function isUsuallyBusy(db: Queryable, siteId: number, now: number): Promise<boolean> {
  const [row] = await many<{ visits: number }>(
    db,
    `select count(*)::int as visits from visit where site_id = $1 and started_at > at_ms($2) - interval '8 days'
        and extract(hour from started_at at time zone 'UTC') = extract(hour from at_ms($2) at time zone 'UTC')`,
    [siteId, now],
  );
  return (row?.visits ?? 0) >= 7;
}

const timesWords = (times: number): string => (times === 1 ? 'once' : `${times} times`);

/** "34 minutes", "9 hours", "3 days". */
function waited(ms: number): string {
  const minutes = Math.round(ms / 60_000);
  if (minutes < 120) return `${minutes} minutes`;
  return minutes < 48 * 60 ? `${Math.round(minutes / 60)} hours` : `${Math.round(minutes / 60 / 24)} days`;
}
