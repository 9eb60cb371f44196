import type { Answering } from '@/core/conversations/answering';
import type { Hours, Presence } from '@/core/conversations/hours';
import { isHere } from '@/core/conversations/hours';
import type { Queryable } from './queryable';
import { many, maybeOne } from './queryable';

export interface Colleague {
  readonly member: number;
  readonly name: string;
  readonly email: string;
  readonly answers: boolean;
  readonly title: string;
  readonly introduction: string;
  /** Where a meeting can be arranged; empty: nowhere. */
  readonly meeting: string;
  /** One of the site's pictures, by its hash. */
  readonly picture: string | null;
  readonly presence: Presence;
  readonly calendar: {
    readonly url: string;
    readonly allowPrivate: boolean;
    readonly hasFile: boolean;
    readonly at: Date | null;
    readonly note: string;
  };
  readonly givenAt: number | null;
  readonly open: number;
}

interface Row extends Omit<Colleague, 'presence' | 'calendar'> {
  readonly [column: string]: unknown;
  readonly hours: Hours | null;
  readonly hereUntil: number | null;
  readonly awayUntil: number | null;
  readonly busy: readonly (readonly [number, number])[];
  readonly calendarUrl: string;
  readonly calendarPrivate: boolean;
  readonly hasFile: boolean;
  readonly calendarAt: Date | null;
  readonly calendarNote: string;
}

/** Everybody of a site with what visitors see of them; whoever has said nothing answers, and is here by hand alone. */
export async function listColleagues(db: Queryable, siteId: number): Promise<Colleague[]> {
  const rows = await many<Row>(
    db,
    `select member.id as member, member.name, member.email, coalesce(answers, true) as answers, coalesce(title, '') as title,
            coalesce(introduction, '') as introduction, coalesce(meeting, '') as meeting, picture, hours,
            ms(here_until)::float8 as "hereUntil", ms(away_until)::float8 as "awayUntil", ms(given_at)::float8 as "givenAt",
            coalesce(busy, '[]') as busy, coalesce(calendar_url, '') as "calendarUrl", coalesce(calendar_private, false) as "calendarPrivate",
            calendar_text is not null as "hasFile", calendar_at as "calendarAt", coalesce(calendar_note, '') as "calendarNote",
            (select count(*)::int from thread where thread.site_id = $1 and thread.member_id = member.id and state = 'open') as open
       from membership join member on member.id = membership.member_id
       left join colleague on colleague.site_id = $1 and colleague.member_id = member.id
      where membership.site_id = $1 order by lower(member.name), member.id`,
    [siteId],
  );
  return rows.map(({ hours, hereUntil, awayUntil, busy, calendarUrl, calendarPrivate, hasFile, calendarAt, calendarNote, ...row }) => ({
    ...row,
    presence: { hours, hereUntil, awayUntil, busy },
    calendar: { url: calendarUrl, allowPrivate: calendarPrivate, hasFile, at: calendarAt, note: calendarNote },
  }));
}

/** The same with whether they are here now. */
export async function hereNow(db: Queryable, siteId: number): Promise<(Colleague & { readonly isHere: boolean })[]> {
  const now = Date.now();
  return (await listColleagues(db, siteId)).map((one) => ({ ...one, isHere: isHere(one.presence, now) }));
}

/** Whether somebody who answers is here at `now`, UTC ms. */
export async function isStaffed(db: Queryable, siteId: number, now: number): Promise<boolean> {
  const { rows } = await db.query<Presence>(
    `select hours, busy, ms(here_until)::float8 as "hereUntil", ms(away_until)::float8 as "awayUntil" from colleague where site_id = $1 and answers`,
    [siteId],
  );
  return rows.some((presence) => isHere(presence, now));
}

const upsert = (columns: string, values: string, update: string): string =>
  `insert into colleague (site_id, member_id, ${columns}) select $1, member_id, ${values} from membership where site_id = $1 and member_id = $2
   on conflict (site_id, member_id) do update set ${update}`;

/** Here, or away, until then, UTC ms; null ends both, and the hours hold. */
export async function setPresence(
  db: Queryable,
  siteId: number,
  { member, hereUntil, awayUntil }: { member: number; hereUntil: number | null; awayUntil: number | null },
): Promise<void> {
  await db.query(
    upsert('here_until, away_until', 'at_ms($3), at_ms($4)', 'here_until = excluded.here_until, away_until = excluded.away_until'),
    [siteId, member, hereUntil, awayUntil],
  );
}

export async function saveColleague(
  db: Queryable,
  siteId: number,
  {
    member,
    answers,
    title,
    introduction,
    meeting,
    hours,
  }: Pick<Colleague, 'member' | 'answers' | 'title' | 'introduction' | 'meeting'> & { hours: Hours | null },
): Promise<boolean> {
  const { rowCount } = await db.query(
    upsert(
      'answers, title, introduction, meeting, hours',
      '$3, $4, $5, $6, $7',
      'answers = excluded.answers, title = excluded.title, introduction = excluded.introduction, meeting = excluded.meeting, hours = excluded.hours',
    ),
    [siteId, member, answers, title, introduction, meeting, hours],
  );
  return rowCount === 1;
}

/** What visitors see them by: one of the site's pictures, by its hash; null for the first letter of the name. False where they are not of the site. */
export const setColleaguePicture = async (
  db: Queryable,
  siteId: number,
  { member, picture }: { member: number; picture: string | null },
): Promise<boolean> => (await db.query(upsert('picture', '$3', 'picture = excluded.picture'), [siteId, member, picture])).rowCount === 1;

/** It was their turn. */
export async function noteGiven(db: Queryable, siteId: number, member: number): Promise<void> {
  await db.query(upsert('given_at', 'clock_timestamp()', 'given_at = excluded.given_at'), [siteId, member]);
}

/** Who gets a campaign's conversations; null: whoever is here, in turn. */
export const answeringOf = async (db: Queryable, siteId: number, campaign: string): Promise<Answering | null> =>
  (await maybeOne<{ answering: Answering | null }>(db, `select answering from campaign where site_id = $1 and id = $2`, [siteId, campaign]))
    ?.answering ?? null;

export async function setAnswering(db: Queryable, siteId: number, campaign: string, answering: Answering | null): Promise<boolean> {
  const { rowCount } = await db.query(`update campaign set answering = $3 where site_id = $1 and id = $2`, [siteId, campaign, answering]);
  return rowCount === 1;
}

/** Whose calendar is to be read again: of an address every hour, of a file each day. Nobody else takes them for a while. `now`: UTC ms. */
export const takeDueCalendars = (
  db: Queryable,
  now: number,
): Promise<{ site: number; member: number; url: string; allowPrivate: boolean; text: string | null; zone: string }[]> =>
  many(
    db,
    `update colleague set calendar_at = at_ms($1)
      where (site_id, member_id) in (
        select site_id, member_id from colleague
         where (calendar_url <> '' and (calendar_at is null or calendar_at < at_ms($1) - interval '1 hour'))
            or (calendar_text is not null and (calendar_at is null or calendar_at < at_ms($1) - interval '1 day'))
         order by calendar_at nulls first limit 10 for update skip locked)
      returning site_id as site, member_id as member, calendar_url as url, calendar_private as "allowPrivate", calendar_text as text,
                coalesce(hours ->> 'zone', 'UTC') as zone`,
    [now],
  );

/** What a calendar said; where it could not be read what was known stays, and why is kept. */
export async function setBusy(
  db: Queryable,
  siteId: number,
  { member, busy, note }: { member: number; busy?: readonly (readonly [number, number])[]; note: string },
): Promise<void> {
  await db.query(`update colleague set busy = coalesce($3, busy), calendar_note = $4 where site_id = $1 and member_id = $2`, [
    siteId,
    member,
    busy === undefined ? null : JSON.stringify(busy),
    note.slice(0, 500),
  ]);
}

/** An address, or the text of a file, or neither; read as soon as somebody looks. */
export async function setCalendar(
  db: Queryable,
  siteId: number,
  { member, url, allowPrivate, text }: { member: number; url: string; allowPrivate: boolean; text: string | null },
): Promise<boolean> {
  const { rowCount } = await db.query(
    upsert(
      'calendar_url, calendar_private, calendar_text',
      '$3, $4, $5',
      `calendar_url = excluded.calendar_url, calendar_private = excluded.calendar_private, calendar_text = excluded.calendar_text, calendar_at = null,
       calendar_note = '', busy = case when excluded.calendar_url = '' and excluded.calendar_text is null then '[]' else colleague.busy end`,
    ),
    [siteId, member, url, allowPrivate, text],
  );
  return rowCount === 1;
}
