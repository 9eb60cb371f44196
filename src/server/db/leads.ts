import { z } from 'zod';
import type { Agreed } from '@/core/leads/consent';
import type { LeadTerm } from '@/core/leads/filter';
import { globRegex } from '@/core/leads/filter';
import type { Queryable } from './queryable';
import { queueErased } from './connections';
import { compareNow } from './keptSegments';
import { asUuid, many, maybeOne, one } from './queryable';

export interface Lead {
  readonly id: string;
  readonly at: Date;
  readonly email: string | null;
  readonly fields: Readonly<Record<string, string | number | boolean | null>>;
  readonly url: string;
  readonly campaignId: string;
  readonly campaign: string | null;
  readonly visitorId: number | null;
  readonly consent: readonly Agreed[];
  readonly tags: readonly string[];
  readonly note: string;
  /** When they took their consent back. */
  readonly withdrawnAt: Date | null;
}

export interface NewLead {
  readonly id: string;
  readonly campaign: string;
  readonly showing: string;
  readonly visitorId: number;
  /** UTC ms. */
  readonly at: number;
  readonly email?: string | undefined;
  readonly fields: Lead['fields'];
  readonly url: string;
  readonly consent?: readonly Agreed[] | undefined;
}

/** Whether it is new: the same id again changes nothing. */
export async function insertLead(db: Queryable, siteId: number, lead: NewLead): Promise<boolean> {
  const { id, campaign, showing, visitorId, at, email = null, fields, url, consent = [] } = lead;
  const inserted = await maybeOne(
    db,
    `insert into lead (site_id, id, campaign_id, showing_id, visitor_id, at, email, fields, url, consent)
     values ($1, $2, $3, $4, $5, at_ms($6), $7, $8, $9, $10) on conflict (site_id, id) do nothing returning id`,
    [siteId, id, campaign, showing, visitorId, at, email, fields, url, JSON.stringify(consent)],
  );
  return inserted !== undefined;
}

/** Writes down what was agreed to in leads of a showing that is known only now. */
export async function agreedLater(
  db: Queryable,
  siteId: number,
  { showing, agreedIn }: { showing: string; agreedIn: (fields: Lead['fields']) => readonly Agreed[] },
): Promise<void> {
  const leads = await many<{ id: string; fields: Lead['fields'] }>(
    db,
    `select id, fields from lead where site_id = $1 and showing_id = $2 and consent = '[]'`,
    [siteId, showing],
  );
  for (const { id, fields } of leads) {
    const consent = agreedIn(fields);
    if (consent.length > 0)
      await db.query(`update lead set consent = $3 where site_id = $1 and id = $2`, [siteId, id, JSON.stringify(consent)]);
  }
}

const PATH = `regexp_replace(split_part(split_part(lead.url, '#', 1), '?', 1), '^https?://[^/]+', '')`;

/** A term as SQL over `lead`; `p` puts a value in and gives its place. */
function termSql({ kind, value }: LeadTerm, p: (value: unknown) => string): string {
  switch (kind) {
    case 'campaign':
      return `lead.campaign_id = ${p(value)}`;
    case 'page':
      return `${PATH} ~ ${p(globRegex(value))}`;
    case 'answer': {
      const [name = '', ...rest] = value.split('=');
      // The words of all answers have an index; which answer it was is looked at after.
      return `${containsSql(p(rest.join('=').trim()))} and exists (select from jsonb_each_text(lead.fields) as given where lower(given.key) = lower(${p(name.trim())}) and strpos(lower(given.value), lower(${p(rest.join('=').trim())})) > 0)`;
    }
    case 'tag':
      return `${p(value)} = any(lead.tags)`;
    case 'consent':
      return `${value === 'yes' ? '' : 'not '}(lead.consent <> '[]' and lead.withdrawn_at is null)`;
    case 'text':
      return containsSql(p(value));
  }
}

/** Where the words of a lead contain a value: `like` is what the index of trigrams answers. */
const containsSql = (value: string): string =>
  `lead.words like '%' || regexp_replace(lower(${value}), '([\\\\%_])', '\\\\\\1', 'g') || '%'`;

function found(siteId: number, terms: readonly LeadTerm[]): { where: string; values: unknown[]; p: (value: unknown) => string } {
  const values: unknown[] = [siteId];
  const p = (value: unknown): string => `$${values.push(value)}`;
  return { where: ['lead.site_id = $1', ...terms.map((term) => termSql(term, p))].join(' and '), values, p };
}

const COLUMNS = `lead.id, lead.at, lead.email, lead.fields, lead.url, lead.campaign_id as "campaignId", campaign.name as campaign, lead.visitor_id as "visitorId",
            lead.consent, lead.tags, lead.note, lead.withdrawn_at as "withdrawnAt"`;
const OF = `lead left join campaign on campaign.site_id = lead.site_id and campaign.id = lead.campaign_id`;

/** A page of leads that meet all terms, newest first; `after` is the id of the last lead of the page before. An id that is not there gives none. */
export async function listLeads(
  db: Queryable,
  siteId: number,
  { terms = [], limit = 500, after }: { terms?: readonly LeadTerm[]; limit?: number; after?: string | undefined } = {},
): Promise<Lead[]> {
  if (after !== undefined && !z.uuid().safeParse(after).success) return [];
  const { where, values, p } = found(siteId, terms);
  const before =
    after === undefined
      ? ''
      : `and (lead.at, lead.id) < (select at, id from lead before where before.site_id = $1 and before.id = ${p(after)}::uuid)`;
  return many<Lead & Record<string, unknown>>(
    db,
    `select ${COLUMNS} from ${OF} where ${where} ${before} order by lead.at desc, lead.id desc limit ${p(limit)}`,
    values,
  );
}

export async function countLeads(db: Queryable, siteId: number, terms: readonly LeadTerm[] = []): Promise<number> {
  const { where, values } = found(siteId, terms);
  return (await one<{ count: number }>(db, `select count(*)::int as count from lead where ${where}`, values)).count;
}

/** All leads that meet the terms, newest first, a page at a time: however many there are, only one page is in memory. */
export async function* eachLead(
  db: Queryable,
  siteId: number,
  { terms = [], pageOf = 5_000 }: { terms?: readonly LeadTerm[]; pageOf?: number } = {},
): AsyncGenerator<Lead> {
  for (let after: string | undefined; ;) {
    const leads = await listLeads(db, siteId, { terms, limit: pageOf, after });
    yield* leads;
    after = leads.at(-1)?.id;
    if (leads.length < pageOf) return;
  }
}

export interface LeadInFull extends Lead {
  /** The message's showing: its page view and when it was, UTC ms; null where it is not on record (any more). */
  readonly shown: {
    readonly id: string;
    readonly visit: string;
    readonly view: string;
    readonly at: number;
    readonly openedAt: number;
    readonly release: number;
    /** The message seen last before it was sent; null where that was the first. */
    readonly message: string | null;
  } | null;
  /** Others of the same email or visitor, newest first. */
  readonly others: readonly Pick<Lead, 'id' | 'at' | 'email' | 'campaign' | 'campaignId'>[];
}

const MOST_OTHERS = 100;

export async function findLead(db: Queryable, siteId: number, id: string): Promise<LeadInFull | undefined> {
  const lead = await maybeOne<Omit<LeadInFull, 'others'> & Record<string, unknown>>(
    db,
    `select ${COLUMNS},
            (select json_build_object('id', showing.id, 'visit', showing.visit_id, 'view', showing.view_id, 'at', ms(showing.at), 'openedAt', ms(page_view.at), 'release', release,
                      'message', (select message from flow_step where flow_step.site_id = $1 and showing_id = showing.id and flow_step.at <= lead.at order by flow_step.at desc limit 1))
               from showing join page_view on page_view.site_id = $1 and page_view.id = showing.view_id
              where showing.site_id = $1 and showing.id = lead.showing_id limit 1) as shown
       from ${OF} where lead.site_id = $1 and lead.id = ${asUuid('$2')}`,
    [siteId, id],
  );
  if (!lead) return undefined;
  const others = await many<LeadInFull['others'][number] & Record<string, unknown>>(
    db,
    `select lead.id, lead.at, lead.email, campaign.name as campaign, lead.campaign_id as "campaignId" from ${OF}
      where lead.site_id = $1 and lead.id <> $2 and (lower(lead.email) = lower($3) or lead.visitor_id = $4)
      order by lead.at desc limit ${MOST_OTHERS}`,
    [siteId, lead.id, lead.email, lead.visitorId],
  );
  return { ...lead, others };
}

/** Tags and the note of a lead; what is left out stays. False where there is no such lead. */
export async function setLeadNotes(
  db: Queryable,
  siteId: number,
  { id, tags, note }: { id: string; tags?: readonly string[] | undefined; note?: string | undefined },
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update lead set tags = coalesce($3, tags), note = coalesce($4, note) where site_id = $1 and id = ${asUuid('$2')}`,
    [siteId, id, tags ?? null, note ?? null],
  );
  return rowCount === 1;
}

/** Gives each of these leads a tag more. How many got it. */
export async function tagLeads(db: Queryable, siteId: number, { ids, tag }: { ids: readonly string[]; tag: string }): Promise<number> {
  const { rowCount } = await db.query(
    `update lead set tags = tags || $3::text where site_id = $1 and id = any($2::uuid[]) and not ($3 = any(tags)) and cardinality(tags) < 50`,
    [siteId, ids, tag],
  );
  return rowCount ?? 0;
}

/**
 * For good. Whoever has no lead left is taken out wherever their leads were sent, and out of the audiences that are kept in step. How many there were. In a
 * transaction.
 */
export async function eraseLeads(tx: Queryable, siteId: number, ids: readonly string[]): Promise<number> {
  const last = await many<{ email: string }>(
    tx,
    `select lower(email) as email from lead where site_id = $1 and lower(email) in (select lower(email) from lead where site_id = $1 and id = any($2::uuid[]))
      group by 1 having bool_and(id = any($2::uuid[]))`,
    [siteId, ids],
  );
  await queueErased(
    tx,
    siteId,
    last.map(({ email }) => email),
  );
  const { rowCount } = await tx.query(`delete from lead where site_id = $1 and id = any($2::uuid[])`, [siteId, ids]);
  await compareNow(tx, siteId);
  return rowCount ?? 0;
}

/**
 * Whoever sent a lead took their consent back: with all their leads until now, or, where it is not sure (`isSure`) that they are whom its email
 * names, with that lead alone. Nobody who has agreed by that email elsewhere is taken out where leads are sent. False where there is nothing to
 * take back. In a transaction.
 */
export async function withdrawConsent(tx: Queryable, siteId: number, id: string, { isSure = true } = {}): Promise<boolean> {
  const lead = await maybeOne<{ email: string | null }>(
    tx,
    `select lower(email) as email from lead where site_id = $1 and id = ${asUuid('$2')} and withdrawn_at is null`,
    [siteId, id],
  );
  if (!lead) return false;
  await tx.query(
    `update lead set withdrawn_at = now() where site_id = $1 and withdrawn_at is null and (id = ${asUuid('$2')} or lower(email) = $3)`,
    [siteId, id, isSure ? lead.email : null],
  );
  const { rowCount: others } = await tx.query(
    `select from lead where site_id = $1 and lower(email) = $2 and withdrawn_at is null limit 1`,
    [siteId, lead.email],
  );
  if (lead.email && !others) await queueErased(tx, siteId, [lead.email]);
  await compareNow(tx, siteId);
  return true;
}

/** What leads are asked by now is what the last of them answered. */
const MOST_RECENT = 2000;

/** Tags and names of answers that leads have, the most frequent first: to filter by. */
export async function leadVocabulary(db: Queryable, siteId: number): Promise<{ tags: string[]; answers: string[] }> {
  const values = async (sql: string): Promise<string[]> =>
    (await many<{ value: string }>(db, `select value from (${sql}) as every group by 1 order by count(*) desc, 1 limit 100`, [siteId])).map(
      ({ value }) => value,
    );
  const recent = `(select * from lead where site_id = $1 order by at desc limit ${MOST_RECENT}) as lead`;
  return {
    tags: await values(`select unnest(tags) as value from lead where site_id = $1 and tags <> '{}'`),
    answers: await values(`select jsonb_object_keys(fields) as value from ${recent}`),
  };
}
