import { randomUUID } from 'node:crypto';
import { queueErased } from '../db/connections';
import { forgetStanding } from '../sealed/keptStanding';
import { compareNow } from '../db/keptSegments';
import type { Database } from '../db/directory';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many, one } from '../db/queryable';
import { setWhoTheyAre } from '../db/saying';
import type { FoundBy, Person } from './find';
import { EMAIL_SAID, SAID } from './find';

const OF_VISITOR = `visitor_id = any($2::int[])`;
const OF_SHOWING = `showing_id in (select showing.id from showing where showing.site_id = $1 and showing.${OF_VISITOR})`;
const OF_LEAD = `(lower(email) = any($3::text[]) or (${OF_VISITOR} and not coalesce(lower(email), '') = any($4::text[])))`;
/** What was said together with one of the emails is theirs in whichever browser. */
const OF_CHANGE = `(${OF_VISITOR} or (visitor_id, id) in (select said.visitor_id, said.id from visitor_change said where said.site_id = $1 and ${EMAIL_SAID} and ${SAID} = any($3::text[])))`;
const OF_THREAD = `thread_id in (select thread.id from thread where thread.site_id = $1 and thread.${OF_VISITOR})`;

/** Rows of somebody, table by table; in this order they can be deleted. `$1`: the site, `$2`: visitors, `$3`: emails, `$4`: others'. */
const ROWS: readonly (readonly [table: string, where: string])[] = [
  [
    'delivery',
    `(lead_id in (select lead.id from lead where lead.site_id = $1 and ${OF_LEAD}) or lower(body ->> 'email') = any($3) or body ->> 'showing' in (select id::text from showing where showing.site_id = $1 and ${OF_VISITOR}))`,
  ],
  ['sent_form', OF_VISITOR],
  ['lead', OF_LEAD],
  ['line_picture', OF_VISITOR],
  ['line', OF_THREAD],
  ['thread', OF_VISITOR],
  ['flow_step', OF_SHOWING],
  ['outcome', OF_SHOWING],
  ['showing', OF_VISITOR],
  ['event', OF_VISITOR],
  ['signal_piece', `view_id in (select page_view.id from page_view where page_view.site_id = $1 and page_view.${OF_VISITOR})`],
  ['page_view', OF_VISITOR],
  ['visitor_change', OF_CHANGE],
  ['visit', OF_VISITOR],
  ['visitor', `id = any($2::int[])`],
];

/** Every statement has all four. */
const ALL_GIVEN = `num_nulls($2::int[], $3::text[], $4::text[]) = 0`;

/** What a reader cannot read, or what is ours alone. */
/** Pictures as they are, in base 64, beside their sizes. */
const ADDED: Readonly<Record<string, string>> = { line_picture: ` || jsonb_build_object('webp', encode(line_picture.bytes, 'base64'))` };
const LEFT_OUT: Readonly<Record<string, readonly string[]>> = { line_picture: ['bytes'], lead: ['words'] };

/** Everything that is on record of somebody, as JSON, a table at a time; however much it is, some thousand rows are in memory. */
export async function* exportPerson(db: Queryable, siteId: number, { visitors, emails, others }: Person): AsyncGenerator<string> {
  const [MOST_ROWS, MOST_PICTURES] = [2_000, 20];
  yield `{"visitors":${JSON.stringify(visitors)},"emails":${JSON.stringify(emails)}`;
  for (const [table, where] of [...ROWS].reverse()) {
    yield `,${JSON.stringify(table)}:[`;
    const AT_ONCE = table === 'line_picture' ? MOST_PICTURES : MOST_ROWS;
    let isFirst = true;
    for (let from = 0; ; from += AT_ONCE) {
      const rows = await many<{ row: object }>(
        db,
        `select to_jsonb(${table}) - '{site_id${(LEFT_OUT[table] ?? []).map((name) => `,${name}`).join('')}}'::text[]${ADDED[table] ?? ''} as row from ${table}
          where ${table}.site_id = $1 and ${where} and ${ALL_GIVEN} order by 1 limit ${AT_ONCE} offset ${from}`,
        [siteId, visitors, emails, others],
      );
      for (const { row } of rows) {
        yield `${isFirst ? '' : ','}\n${JSON.stringify(row)}`;
        isFirst = false;
      }
      if (rows.length < AT_ONCE) break;
    }
    yield ']';
  }
  yield '}\n';
}

/** How much of somebody there is, by table. */
export async function countPerson(db: Queryable, siteId: number, { visitors, emails, others }: Person): Promise<Record<string, number>> {
  const counts: Record<string, number> = {};
  for (const [table, where] of ROWS) {
    const { count } = await one<{ count: number }>(
      db,
      `select count(*)::int as count from ${table} where ${table}.site_id = $1 and ${where} and ${ALL_GIVEN}`,
      [siteId, visitors, emails, others],
    );
    if (count > 0) counts[table] = count;
  }
  return counts;
}

export interface Receipt {
  readonly id: string;
  readonly at: Date;
  readonly by: string;
  readonly foundBy: FoundBy;
  /** How many rows went, by table. */
  readonly rows: Readonly<Record<string, number>>;
  /** Connections that are asked to do the same, by name. */
  readonly told: readonly string[];
  /** Those of them that have not done so yet, with what they answered last; they are asked again and again. */
  readonly owed: readonly Owed[];
}

export interface Owed {
  readonly connection: string;
  readonly tries: number;
  readonly reason: string;
}

const RECEIPT = `id, at, by, found_by as "foundBy", rows, told`;

/** Erases somebody: every row of theirs, what was made of them, and at the connections that got something of them. Gives the receipt. */
export async function erasePerson(
  db: Database | Queryable,
  siteId: number,
  { person, by, foundBy }: { person: Person; by: string; foundBy: FoundBy },
): Promise<Omit<Receipt, 'owed'>> {
  const { visitors, emails, others } = person;
  const values = [siteId, visitors, emails, others];
  return withTransaction(db, async (tx) => {
    const id = randomUUID();
    const told = await tellConnections(tx, siteId, { person, erasure: id });
    const days = await many<{ day: string }>(
      tx,
      `select distinct (at at time zone 'UTC')::date::text as day from (
         select at from page_view where site_id = $1 and ${OF_VISITOR} union all select started_at from visit where site_id = $1 and ${OF_VISITOR}
         union all select at from visitor_change where site_id = $1 and ${OF_CHANGE} union all select at from showing where site_id = $1 and ${OF_VISITOR}
         union all select at from event where site_id = $1 and ${OF_VISITOR} union all select at from lead where site_id = $1 and ${OF_LEAD}) as all_of_them where ${ALL_GIVEN}`,
      values,
    );
    const pages = await many<{ url: string }>(
      tx,
      `select distinct url from page_view where site_id = $1 and ${OF_VISITOR}`,
      values.slice(0, 2),
    );
    const rows: Record<string, number> = {};
    const claiming = await many<{ id: number }>(
      tx,
      `select distinct visitor_id as id from visitor_change where site_id = $1 and ${EMAIL_SAID} and ${SAID} = any($2) and not visitor_id = any($3)`,
      [siteId, emails, visitors],
    );
    for (const [table, where] of ROWS) {
      // What tells the connections stays until it has told them.
      const but = table === 'delivery' ? ` and not (what = 'erased' and state <> 'sent')` : '';
      const { rowCount } = await tx.query(`delete from ${table} where ${table}.site_id = $1 and ${where} and ${ALL_GIVEN}${but}`, values);
      if (rowCount) rows[table] = rowCount;
    }
    // Browsers that stay say to be them no more.
    await setWhoTheyAre(
      tx,
      siteId,
      claiming.map(({ id }) => id),
    );
    const named = await eraseMentions(tx, siteId, emails);
    if (named.length > 0) rows['mention'] = named.length;
    // What was made of it: days are sealed anew without them, and pages that nobody else looked at are forgotten.
    await madeAnew(
      tx,
      siteId,
      [...days, ...named].map(({ day }) => day),
    );
    await tx.query(`update thread set copy_to = null where site_id = $1 and lower(copy_to) = any($2)`, [siteId, emails]);
    await tx.query(
      `delete from page_entry where site_id = $1 and url = any($2) and not exists (select from page_view where page_view.site_id = $1 and page_view.url = page_entry.url)`,
      [siteId, pages.map(({ url }) => url)],
    );
    for (const email of emails) {
      await tx.query(`update failed_task set words = '(erased)' where site_id = $1 and strpos(lower(words), $2) > 0`, [siteId, email]);
      await tx.query(`update exchange set note = '(erased)' where site_id = $1 and strpos(lower(note), $2) > 0`, [siteId, email]);
    }
    await tx.query(`delete from trash where site_id = $1 and lower(trash.row::text) like any ($2)`, [
      siteId,
      emails.map((email) => `%${likeLiteral(email)}%`),
    ]);
    return one<Omit<Receipt, 'owed'> & Record<string, unknown>>(
      tx,
      `insert into erasure (site_id, id, by, found_by, rows, told) values ($1, $2, $3, $4, $5, $6) returning ${RECEIPT}`,
      [siteId, id, by, foundBy, JSON.stringify(rows), JSON.stringify(told)],
    );
  });
}

/** What was made of days is made anew, as what they were made of has changed. In a transaction. */
export async function madeAnew(tx: Queryable, siteId: number, of: readonly string[]): Promise<void> {
  const dates = [...new Set(of)];
  await tx.query(`delete from sealed_day where site_id = $1 and day = any($2::date[])`, [siteId, dates]);
  await forgetStanding(tx, siteId);
  await tx.query(
    `update sealed_visits set history = null, timelines = null, results = null, digests = null, sealed_at = null, attempt = attempt + 1
      where site_id = $1 and day = any($2::date[])`,
    [siteId, dates],
  );
  await tx.query(
    `select note_late($1, array_agg(day - date '2000-01-01' order by day)) from unnest($2::date[]) as day having count(*) > 0`,
    [siteId, dates],
  );
}

/** Others may have reported an email (of a friend whom they invite, say): what they did stays theirs, and the email goes. Gives the day of each. */
async function eraseMentions(tx: Queryable, siteId: number, emails: readonly string[]): Promise<{ day: string }[]> {
  if (emails.length === 0) return [];
  const [like, pattern] = [emails.map((email) => `%${likeLiteral(email)}%`), emails.map(regexLiteral).join('|')];
  const events = await many<{ day: string; view: string }>(
    tx,
    `update event set props = regexp_replace(props::text, $3, '(erased)', 'gi')::jsonb where site_id = $1 and props::text ilike any ($2)
     returning (at at time zone 'UTC')::date::text as day, view_id as view`,
    [siteId, like, pattern],
  );
  // The timeline of the page view has what was reported, too.
  await tx.query(
    `update signal_piece set signals = regexp_replace(signals::text, $3, '(erased)', 'gi')::jsonb where site_id = $1 and view_id = any($4) and signals::text ilike any ($2)`,
    [siteId, like, pattern, events.map(({ view }) => view)],
  );
  return events.map(({ day }) => ({ day }));
}

/** An email as a regular expression, in the text of JSON. */
const regexLiteral = (text: string): string => text.replace(/[^\w@-]/g, '\\$&');
const likeLiteral = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

/** Whoever got one of their leads, or has them in an audience, is asked to let go of them. Gives their names. In a transaction. */
async function tellConnections(
  tx: Queryable,
  siteId: number,
  { person: { emails }, erasure }: { person: Person; erasure: string },
): Promise<string[]> {
  await queueErased(tx, siteId, emails, erasure);
  await tx.query(
    `update kept_member set wanted = false, change = change + 1, tries = 0, failed = false, reason = '', made_at = now(), next_at = now(), erasure = $3
      where site_id = $1 and email = any($2) and wanted`,
    [siteId, emails, erasure],
  );
  await tx.query(`delete from kept_member where site_id = $1 and email = any($2) and not wanted and there = 'no'`, [siteId, emails]);
  await compareNow(tx, siteId);
  return (
    await many<{ name: string }>(
      tx,
      `select distinct connection.name from connection where site_id = $1 and (
              id in (select connection_id from delivery where site_id = $1 and what = 'erased' and state <> 'sent' and lower(body ->> 'email') = any($2))
              or id in (select connection_id from kept_segment join kept_member on kept_member.site_id = $1 and kept_id = kept_segment.id
                         where kept_segment.site_id = $1 and email = any($2))) order by 1`,
      [siteId, emails],
    )
  ).map(({ name }) => name);
}

export const listReceipts = (db: Queryable, siteId: number): Promise<Receipt[]> =>
  many<Receipt & Record<string, unknown>>(
    db,
    `with owed as (
       select body ->> 'erasure' as erasure, connection_id, tries, reason from delivery where site_id = $1 and what = 'erased' and state <> 'sent'
       union all select kept_member.erasure::text, connection_id, tries, reason from kept_member join kept_segment on kept_segment.site_id = $1 and kept_segment.id = kept_id
                  where kept_member.site_id = $1 and kept_member.erasure is not null and not wanted)
     select ${RECEIPT},
            (select coalesce(json_agg(json_build_object('connection', name, 'tries', tries, 'reason', reason) order by name), '[]')
               from owed join connection on connection.site_id = $1 and connection.id = connection_id where owed.erasure = erasure.id::text) as owed
       from erasure where site_id = $1 order by at desc limit 200`,
    [siteId],
  );
