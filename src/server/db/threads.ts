import { randomUUID } from 'node:crypto';
import type { Answering } from '@/core/conversations/answering';
import { chooseMember, USUAL } from '@/core/conversations/answering';
import { isHere } from '@/core/conversations/hours';
import type { Heard, HeardLine, LinePicture, Speaker } from '@/core/conversations/line';
import type pg from 'pg';
import { withTransaction } from './pool';
import { mayBy } from './saying';
import { isStaffed, listColleagues, noteGiven } from './colleagues';
import { isNotResting, steps } from './failedTasks';
import type { Queryable } from './queryable';
import { asUuid, many, maybeOne } from './queryable';

export type By = 'script' | 'visitor' | 'team' | 'note' | 'event';

export interface NewLine {
  readonly id: string;
  readonly by: By;
  readonly member?: number | undefined;
  readonly text: string;
  /** A picture of the thread's, by its id. */
  readonly picture?: string | undefined;
}

/** What somebody writes changes who waits for whom. */
type Turn = 'asks' | 'answers' | 'neither';

/**
 * Writes a line at a thread's end, which is closed meanwhile to everybody else's; the same id again changes nothing. Gives its number, undefined where it
 * was there, or the thread is not. In a transaction.
 */
export async function addLine(tx: Queryable, siteId: number, thread: string, line: NewLine, turn: Turn): Promise<number | undefined> {
  const { id, by, member, text, picture } = line;
  // In a statement of its own: what others committed while this one waited is seen by the next.
  await tx.query(`select from thread where site_id = $1 and id = $2 for update`, [siteId, thread]);
  const row = await maybeOne<{ seq: number }>(
    tx,
    `with next as (
            update thread set last_seq = last_seq + 1, last_at = clock_timestamp(),
                   last_by = case when $5 in ('note', 'event') then last_by else $5 end, last_text = case when $5 in ('note', 'event') then last_text else left($6, 200) end,
                   state = case when $7 = 'asks' then 'open' else state end, closed_at = case when $7 = 'asks' then null else closed_at end,
                   waits_since = case $7 when 'asks' then coalesce(waits_since, clock_timestamp()) when 'answers' then null else waits_since end,
                   asked_at = case when $7 = 'asks' then coalesce(asked_at, clock_timestamp()) else asked_at end,
                   answered_at = case when $7 = 'answers' and asked_at is not null then coalesce(answered_at, clock_timestamp()) else answered_at end
             where thread.site_id = $1 and thread.id = $2
               and not exists (select from line where line.site_id = $1 and thread_id = $2 and line.id = $3)
            returning last_seq)
     insert into line (site_id, thread_id, seq, id, by, member_id, text, picture) select $1, $2, last_seq, $3, $5, $4, $6, $8 from next
     returning seq`,
    [siteId, thread, id, member ?? null, by, text, turn, picture ?? null],
  );
  return row?.seq;
}

/** What happened to a thread, for the team, in words. */
export const addEvent = (tx: Queryable, siteId: number, thread: string, text: string, member?: number): Promise<number | undefined> =>
  addLine(tx, siteId, thread, { id: randomUUID(), by: 'event', text, member }, 'neither');

/**
 * Gives a thread to whoever of the team should have it, by what its campaign says; undefined where nobody is here, or it is no longer with whoever `had`
 * it. `passed`: who did not answer. In a transaction. `now`: UTC ms.
 */
export async function giveThread(
  tx: Queryable,
  siteId: number,
  { thread, now, had, passed = [] }: { thread: string; now: number; had: number | null; passed?: readonly number[] },
): Promise<number | undefined> {
  const about = await maybeOne<{ answering: Answering | null; knew: number | null; had: number | null }>(
    tx,
    `select answering, thread.member_id as had,
            (select earlier.member_id from thread earlier join visitor who on who.site_id = $1 and who.id = earlier.visitor_id
              where earlier.site_id = $1 and earlier.id <> thread.id and earlier.member_id is not null
                and (earlier.visitor_id = thread.visitor_id or (lower(who.email) = lower(visitor.email) and ${mayBy('join', 'email')} and ${mayBy('join', 'email', 'who')}))
              order by earlier.last_at desc limit 1) as knew
       from thread join visitor on visitor.site_id = $1 and visitor.id = visitor_id
       left join campaign on campaign.site_id = $1 and campaign.id = campaign_id
      where thread.site_id = $1 and thread.id = $2 for no key update of thread`,
    [siteId, thread],
  );
  // Somebody else has given it away meanwhile.
  if (!about || about.had !== had) return undefined;
  const colleagues = await listColleagues(tx, siteId);
  const candidates = colleagues
    .filter(({ answers }) => answers)
    .map(({ member, presence, open, givenAt }) => ({ member, isHere: isHere(presence, now), open, givenAt }));
  const knew = about.knew ?? undefined;
  const chosen = chooseMember(candidates, about.answering ?? USUAL, { knew, passed });
  if (chosen === undefined || chosen === about.had) return undefined;
  await setMember(tx, siteId, { thread, member: chosen, now });
  const name = colleagues.find(({ member }) => member === chosen)?.name ?? '';
  const why = passed.length > 0 ? 'nobody answered in time' : chosen === knew ? 'knows them and was asked first' : 'it was their turn';
  await addEvent(tx, siteId, thread, `${name} has it: ${why}`, chosen);
  return chosen;
}

/** Somebody has it from then on. `now`: UTC ms. In a transaction. */
export async function setMember(
  tx: Queryable,
  siteId: number,
  { thread, member, now }: { thread: string; member: number; now: number },
): Promise<void> {
  await tx.query(`update thread set member_id = $3, member_since = at_ms($4) where site_id = $1 and id = $2`, [
    siteId,
    thread,
    member,
    now,
  ]);
  await noteGiven(tx, siteId, member);
}

const SPEAKER = `jsonb_build_object('name', member.name, 'title', coalesce(title, ''), 'introduction', coalesce(introduction, ''), 'meeting', coalesce(meeting, ''))
         || case when colleague.picture is null then '{}' else jsonb_build_object('picture', colleague.picture) end`;
/** What a line shows; of line and line_picture. */
const PICTURE = `case when line_picture.id is not null then json_build_object('id', line_picture.id, 'width', width, 'height', height) end`;
const WITH_PICTURE = `left join line_picture on line_picture.site_id = line.site_id and line_picture.id = line.picture`;
const MOST_LINES = 500;

/** What a visitor's page hears: only of a thread of this browser's visitor. Undefined where there is none. `now`: UTC ms. */
export async function hear(
  db: Queryable,
  siteId: number,
  { thread, browser, after, now }: { thread: string; browser: string; after: number; now: number },
): Promise<Heard | undefined> {
  const found = await maybeOne<{ state: Heard['state']; seen: number; with: Speaker | null }>(
    db,
    `select state, team_seen as seen, case when thread.member_id is not null then ${SPEAKER} end as with
       from thread join visitor on visitor.site_id = $1 and visitor.id = visitor_id
       left join member on member.id = thread.member_id
       left join colleague on colleague.site_id = $1 and colleague.member_id = member.id
      where thread.site_id = $1 and thread.id = $2 and browser_id = $3`,
    [siteId, thread, browser],
  );
  if (!found) return undefined;
  const lines = await many<HeardLine & Record<string, unknown>>(
    db,
    `select seq, line.id, ms(line.at)::float8 as at, by, text, case when line.member_id is not null then ${SPEAKER} end as from, ${PICTURE} as picture
       from line ${WITH_PICTURE} left join member on member.id = line.member_id
       left join colleague on colleague.site_id = $1 and colleague.member_id = line.member_id
      where line.site_id = $1 and line.thread_id = $2 and seq > $3 and by in ('script', 'visitor', 'team') order by seq limit ${MOST_LINES}`,
    [siteId, thread, after],
  );
  return { ...found, lines, isStaffed: await isStaffed(db, siteId, now) };
}

/** The number of the last line of each thread: whether there is something to hear. */
export const lastSeqs = (db: Queryable, siteId: number, threads: readonly string[]): Promise<{ id: string; mark: string }[]> =>
  many<{ id: string; mark: string }>(
    db,
    `select id::text, concat_ws(' ', last_seq, state, member_id, team_seen, visitor_seen) as mark from thread where site_id = $1 and id = any($2::uuid[])`,
    [siteId, threads],
  );

export interface ThreadInList {
  readonly id: string;
  readonly visitor: number;
  readonly email: string | null;
  readonly device: string | null;
  readonly town: string | null;
  readonly campaign: string | null;
  readonly state: 'open' | 'closed';
  readonly member: number | null;
  readonly memberName: string | null;
  readonly lastAt: Date;
  readonly lastBy: By;
  readonly lastText: string;
  readonly waitsSince: Date | null;
  readonly unseen: number;
  readonly tags: readonly string[];
}

export interface ThreadFilter {
  readonly state?: 'open' | 'closed' | undefined;
  readonly member?: number | undefined;
  /** Words that a line has, or part of an email. */
  readonly words?: string | undefined;
  readonly most?: number | undefined;
}

/** Who waits comes first, longest first; after them the others, the latest first. */
export const listThreads = (
  db: Queryable,
  siteId: number,
  { state, member, words, most = 200 }: ThreadFilter = {},
): Promise<ThreadInList[]> =>
  many<ThreadInList & Record<string, unknown>>(
    db,
    `select thread.id::text, visitor_id as visitor, visitor.email, device_category as device,
            (select city from visit where visit.site_id = $1 and visit.visitor_id = thread.visitor_id order by started_at desc limit 1) as town,
            campaign.name as campaign, state, thread.member_id as member, member.name as "memberName", last_at as "lastAt", last_by as "lastBy", last_text as "lastText",
            waits_since as "waitsSince", greatest(0, last_seq - team_seen) as unseen, thread.tags
       from thread join visitor on visitor.site_id = $1 and visitor.id = visitor_id
       left join campaign on campaign.site_id = $1 and campaign.id = campaign_id
       left join member on member.id = thread.member_id
      where thread.site_id = $1 and asked_at is not null and ($2::text is null or state = $2) and ($3::int is null or thread.member_id = $3)
        and ($4::text is null or strpos(lower(visitor.email), lower($4)) > 0
             or exists (select from line where line.site_id = $1 and thread_id = thread.id and to_tsvector('simple', text) @@ plainto_tsquery('simple', $4)))
      order by waits_since is null, waits_since, last_at desc, thread.id limit $5`,
    [siteId, state ?? null, member ?? null, words || null, most],
  );

export interface ThreadLine {
  readonly seq: number;
  readonly id: string;
  readonly at: Date;
  readonly by: By;
  readonly member: string | null;
  readonly text: string;
  readonly picture: LinePicture | null;
}

export interface ThreadInFull extends ThreadInList {
  readonly view: string;
  readonly showing: string;
  /** Their last visit. */
  readonly visit: string | null;
  readonly begunAt: Date;
  /** The page that they are on, and since when, UTC ms; null where they have gone. */
  readonly now: { readonly url: string; readonly at: number } | null;
  readonly visitorSeen: number;
  readonly lines: readonly ThreadLine[];
  /** The same person's others, the latest first; `isClaimed`: of another browser that says the same email, without a signature of both. */
  readonly earlier: readonly { readonly id: string; readonly at: Date; readonly text: string; readonly isClaimed: boolean }[];
}

/** Longer ago than this, somebody has left the page. */
const GONE_MS = 60_000;

export async function findThread(db: Queryable, siteId: number, id: string): Promise<ThreadInFull | undefined> {
  const thread = await maybeOne<Omit<ThreadInFull, 'lines' | 'earlier'> & Record<string, unknown>>(
    db,
    `select thread.id::text, visitor_id as visitor, visitor.email, device_category as device,
            (select city from visit where visit.site_id = $1 and visit.visitor_id = thread.visitor_id order by started_at desc limit 1) as town,
            campaign.name as campaign, state, thread.member_id as member, member.name as "memberName", last_at as "lastAt", last_by as "lastBy", last_text as "lastText",
            waits_since as "waitsSince", greatest(0, last_seq - team_seen) as unseen, thread.tags, view_id as view, showing_id as showing,
            (select id from visit where visit.site_id = $1 and visit.visitor_id = thread.visitor_id order by started_at desc limit 1) as visit, begun_at as "begunAt",
            visitor_seen as "visitorSeen",
            (select json_build_object('url', url, 'at', ms(at)) from page_view
              where page_view.site_id = $1 and page_view.visitor_id = thread.visitor_id and at > now() - interval '30 minutes'
                and at + make_interval(secs => coalesce(leave_ms, 0) / 1000.0) > now() - make_interval(secs => $3 / 1000.0) order by at desc limit 1) as now
       from thread join visitor on visitor.site_id = $1 and visitor.id = visitor_id
       left join campaign on campaign.site_id = $1 and campaign.id = campaign_id
       left join member on member.id = thread.member_id
      where thread.site_id = $1 and thread.id = ${asUuid('$2')}`,
    [siteId, id, GONE_MS],
  );
  if (!thread) return undefined;
  const [lines, earlier] = [
    await many<ThreadLine & Record<string, unknown>>(
      db,
      `select seq, line.id, line.at, by, member.name as member, text, ${PICTURE} as picture from line ${WITH_PICTURE} left join member on member.id = line.member_id
        where line.site_id = $1 and line.thread_id = ${asUuid('$2')} order by seq desc limit 2000`,
      [siteId, id],
    ),
    await many<ThreadInFull['earlier'][number] & Record<string, unknown>>(
      db,
      `select thread.id::text, last_at as at, last_text as text, visitor_id <> $3 and not (${mayBy('join', 'email')} and ${mayBy('join', 'email', 'own')}) as "isClaimed"
         from thread join visitor on visitor.site_id = $1 and visitor.id = visitor_id join visitor own on own.site_id = $1 and own.id = $3
        where thread.site_id = $1 and thread.id::text <> $2 and asked_at is not null and (visitor_id = $3 or lower(visitor.email) = lower($4)) order by last_at desc limit 20`,
      [siteId, id, thread.visitor, thread.email],
    ),
  ];
  return { ...thread, lines: lines.reverse(), earlier };
}

/** Somebody is writing: said to whoever watches, kept nowhere. `by`: `visitor`, or the name of whoever of the team it is. */
export async function announceWriting(
  db: Queryable,
  siteId: number,
  { thread, by, browser }: { thread: string; by: string; browser?: string },
): Promise<void> {
  await db.query(
    `select pg_notify('crindle', concat_ws(' ', 'writing', $1::int, thread.id, $3::text)) from thread join visitor on visitor.site_id = $1 and visitor.id = visitor_id
      where thread.site_id = $1 and thread.id = ${asUuid('$2')} and ($4::uuid is null or browser_id = $4)`,
    [siteId, thread, by, browser ?? null],
  );
}

/** The team has seen it until there. */
export async function seenByTeam(db: Queryable, siteId: number, thread: string): Promise<void> {
  await db.query(`update thread set team_seen = last_seq where site_id = $1 and id = ${asUuid('$2')} and team_seen < last_seq`, [
    siteId,
    thread,
  ]);
}

/** Closed, or open again. False where it was so, or is not there. In a transaction. */
export async function setThreadState(
  tx: Queryable,
  siteId: number,
  { thread, state, member, name }: { thread: string; state: 'open' | 'closed'; member: number; name: string },
): Promise<boolean> {
  const { rowCount } = await tx.query(
    `update thread set state = $3, closed_at = case when $3 = 'closed' then clock_timestamp() end, waits_since = case when $3 = 'closed' then null else waits_since end
      where site_id = $1 and id = $2 and state <> $3`,
    [siteId, thread, state],
  );
  if (rowCount !== 1) return false;
  await addEvent(tx, siteId, thread, state === 'closed' ? `${name} closed it` : `${name} opened it again`, member);
  return true;
}

export async function setThreadTags(db: Queryable, siteId: number, thread: string, tags: readonly string[]): Promise<boolean> {
  return (await db.query(`update thread set tags = $3 where site_id = $1 and id = ${asUuid('$2')}`, [siteId, thread, tags])).rowCount === 1;
}

/** How many wait for a person, and since when the first of them does. */
export const countWaiting = async (db: Queryable, siteId: number): Promise<{ waiting: number; since: Date | null }> =>
  (await maybeOne<{ waiting: number; since: Date | null }>(
    db,
    `select count(*)::int as waiting, min(waits_since) as since from thread where site_id = $1 and waits_since is not null`,
    [siteId],
  )) ?? { waiting: 0, since: null };

/** Threads whose person has not answered within the minutes that their campaign says go to the next, on every site of a server. How many. `now`: UTC ms. */
export async function passOn(pool: pg.Pool, now = Date.now()): Promise<number> {
  const late = await many<{ site: number; id: string; member: number | null; visitor: number }>(
    pool,
    `select thread.site_id as site, thread.id::text, thread.member_id as member, visitor_id as visitor from thread
       left join campaign on campaign.site_id = thread.site_id and campaign.id = campaign_id
      where waits_since is not null
        and (thread.member_id is null
             or greatest(waits_since, member_since) < at_ms($1) - make_interval(mins => case when answering is null then $2 else (answering ->> 'next')::int end))
        and ${isNotResting('pass on', 'thread.site_id', 'thread.id::text', '$1')}
      order by waits_since limit 200`,
    [now, USUAL.next],
  );
  let passed = 0;
  // Where nobody is here, nobody can have it: at night many may wait.
  const staffed = new Map<number, boolean>();
  for (const { site } of late) if (!staffed.has(site)) staffed.set(site, await isStaffed(pool, site, now));
  const { step, failures } = await steps(pool, 'pass on', { now });
  for (const { site, id, member, visitor } of late.filter((one) => staffed.get(one.site)))
    await step({ site, subject: id, name: `The conversation of visitor ${visitor}` }, async () => {
      const given = { thread: id, now, had: member, passed: member === null ? [] : [member] };
      if (await withTransaction(pool, (tx) => giveThread(tx, site, given))) passed++;
    });
  if (failures.length > 0) throw new AggregateError(failures, `${failures.length} conversations were not given: ${String(failures[0])}`);
  return passed;
}
