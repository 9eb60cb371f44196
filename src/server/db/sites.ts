import type { Brand } from '@/core/brand/brand';
import { decrypt, encrypt } from '../connections/secrets';
import type { Budget } from '@/core/pacing/pacing';
import { steps } from './failedTasks';
import type { Queryable } from './queryable';
import { many, maybeOne, one } from './queryable';

export interface Site {
  readonly id: number;
  readonly key: string;
  readonly name: string;
  /** Hosts, with a port where one is written. */
  readonly addresses: readonly string[];
  readonly budget: Budget;
  /** `asked`: a visitor is recorded only once they have agreed. */
  readonly consent: 'assumed' | 'asked';
  /** Parameters of addresses that are kept; `x*` keeps those that begin with x. */
  readonly keptParameters: readonly string[];
  /** What all its messages have in common. */
  readonly brand: Brand;
}

const COLUMNS = `id, key, name, addresses, budget, consent, kept_parameters as "keptParameters", brand`;

export async function createSite(
  db: Queryable,
  { key, name, addresses, budget = {}, keptParameters = ['utm_*'] }: Pick<Site, 'key' | 'name' | 'addresses'> & Partial<Site>,
): Promise<Site> {
  return one<Site & Record<string, unknown>>(
    db,
    `insert into site (key, name, addresses, budget, kept_parameters) values ($1, $2, $3, $4, $5) returning ${COLUMNS}`,
    [key, name, addresses, budget, keptParameters],
  );
}

export async function findSiteByKey(db: Queryable, key: string): Promise<Site | undefined> {
  return maybeOne<Site & Record<string, unknown>>(db, `select ${COLUMNS} from site where key = $1`, [key]);
}

export async function findSite(db: Queryable, siteId: number): Promise<Site | undefined> {
  return maybeOne<Site & Record<string, unknown>>(db, `select ${COLUMNS} from site where id = $1`, [siteId]);
}

/** How a site's own server signs who its visitors are. The secret never leaves the server but once, when it is made. */
export async function findSigning(db: Queryable, siteId: number): Promise<{ secret: string | null; isRequired: boolean }> {
  const { secret, isRequired } = await one<{ secret: string | null; isRequired: boolean }>(
    db,
    `select person_secret as secret, signed_persons as "isRequired" from site where id = $1`,
    [siteId],
  );
  return {
    secret: secret?.startsWith(ENCRYPTED) ? decrypt(Buffer.from(secret.slice(ENCRYPTED.length), 'base64'), signingOf(siteId)) : secret,
    isRequired,
  };
}

/** Before a secret that is encrypted as those of connections are; without it, it is one of before that was so. */
const ENCRYPTED = 'encrypted:';
const signingOf = (siteId: number): string => `site ${siteId} signing`;
const encrypted = (siteId: number, secret: string): string => ENCRYPTED + encrypt(secret, signingOf(siteId)).toString('base64');

/** Secrets that stand in the open are encrypted. How many. @throws NoSecretKey */
export async function encryptSigning(db: Queryable): Promise<number> {
  const open = await many<{ id: number; secret: string }>(
    db,
    `select id, person_secret as secret from site where person_secret not like '${ENCRYPTED}%'`,
  );
  const { step, failures } = await steps(db, 'secret', { now: Date.now() });
  for (const { id, secret } of open)
    await step({ site: id, subject: 'signing', name: 'The secret of signatures' }, () =>
      db.query(`update site set person_secret = $2 where id = $1 and person_secret = $3`, [id, encrypted(id, secret), secret]),
    );
  if (failures.length > 0) throw new AggregateError(failures, `${failures.length} secrets were not encrypted: ${String(failures[0])}`);
  return open.length;
}

export async function setSigning(
  db: Queryable,
  siteId: number,
  { secret, isRequired }: { secret?: string | undefined; isRequired?: boolean | undefined },
): Promise<void> {
  await one(
    db,
    `update site set person_secret = coalesce($2, person_secret), signed_persons = coalesce($3, signed_persons) where id = $1 returning id`,
    [siteId, secret === undefined ? undefined : encrypted(siteId, secret), isRequired],
  );
}

/** SHA-256 of the secret with which the site's own server reports events; undefined where it has none. */
export async function findEventsSecret(db: Queryable, siteId: number): Promise<Buffer | undefined> {
  return (await maybeOne<{ hash: Buffer | null }>(db, `select events_secret as hash from site where id = $1`, [siteId]))?.hash ?? undefined;
}

export async function setEventsSecret(db: Queryable, siteId: number, hash: Buffer): Promise<void> {
  await one(db, `update site set events_secret = $2 where id = $1 returning id`, [siteId, hash]);
}

export async function setAddresses(db: Queryable, siteId: number, addresses: readonly string[]): Promise<void> {
  await one(db, `update site set addresses = $2 where id = $1 returning id`, [siteId, addresses]);
}

export async function setBudget(db: Queryable, siteId: number, budget: Budget): Promise<void> {
  await one(db, `update site set budget = $2 where id = $1 returning id`, [siteId, budget]);
}

export async function setPrivacy(
  db: Queryable,
  siteId: number,
  { consent, keptParameters }: Pick<Site, 'consent' | 'keptParameters'>,
): Promise<void> {
  await one(db, `update site set consent = $2, kept_parameters = $3 where id = $1 returning id`, [siteId, consent, keptParameters]);
}

/** Takes the place of what was there, unless somebody has changed that since it was read: then nothing happens, and the answer is false. */
export async function setBrand(db: Queryable, siteId: number, { was, brand }: { was: Brand; brand: Brand }): Promise<boolean> {
  return (await maybeOne(db, `update site set brand = $3 where id = $1 and brand = $2 returning id`, [siteId, was, brand])) !== undefined;
}

export interface Refusal {
  readonly reason: 'robot' | 'address' | 'consent' | 'person' | 'version' | 'policy' | 'key';
  readonly subject: string;
  readonly times: number;
  readonly lastAt: Date;
}

/** Subjects that are kept apart, of a day and a reason: anybody can invent more. */
const MOST_REFUSED = 200;

/** A subject in words of ours is always kept; one that came from outside as long as there are not too many. */
export async function noteRefusal(
  db: Queryable,
  siteId: number,
  reason: Refusal['reason'],
  subject: string | { readonly words: string },
): Promise<void> {
  const said = typeof subject === 'string' ? subject.replace(/[\p{Cc}\p{Cs}]/gu, '\ufffd').slice(0, 200) : subject.words;
  await db.query(
    `insert into refused (site_id, day, reason, subject)
     select $1, current_date, $2, case when $5 or bool_or(subject = $3) or count(*) < $4 then $3 else 'others' end
       from refused where site_id = $1 and day = current_date and reason = $2
     on conflict (site_id, day, reason, subject) do update set times = refused.times + 1, last_at = now()`,
    [siteId, reason, said, MOST_REFUSED, typeof subject !== 'string'],
  );
}

const MOST_SHARING = 5;

/** A page on one of a site's addresses came with a key that is no site's: its people are told. `home`: where all sites are listed. */
export async function noteUnknownKey(
  home: Queryable,
  databaseOf: (siteId: number) => Queryable,
  { host, key }: { host: string; key: string },
): Promise<void> {
  const sites = await many<{ id: number }>(home, `select id from site where addresses @> array[$1] order by id limit ${MOST_SHARING}`, [
    host,
  ]);
  for (const { id } of sites) await noteRefusal(databaseOf(id), id, 'key', key);
}

export async function listRefusals(db: Queryable, siteId: number): Promise<Refusal[]> {
  return many<Refusal & Record<string, unknown>>(
    db,
    `select reason, subject, sum(times)::int as times, max(last_at) as "lastAt" from refused
      where site_id = $1 and day > current_date - 7
      group by reason, subject order by max(last_at) desc limit 50`,
    [siteId],
  );
}

/** Pages on which the script was seen, newest first. */
export async function listSeenPages(db: Queryable, siteId: number): Promise<{ url: string; lastAt: Date; views: number }[]> {
  return many(
    db,
    `select url, max(at) as "lastAt", count(*)::int as views
       from (select split_part(split_part(url, '#', 1), '?', 1) as url, at from page_view
              where site_id = $1 order by at desc limit 2000) as recent
      group by url order by max(at) desc limit 12`,
    [siteId],
  );
}

export async function lastSeen(db: Queryable, siteId: number): Promise<{ url: string; at: Date } | undefined> {
  return maybeOne(db, `select url, at from page_view where site_id = $1 order by at desc limit 1`, [siteId]);
}

/** The newest event that the stub's check reports. */
export const lastTrial = (db: Queryable, siteId: number): Promise<{ at: Date } | undefined> =>
  maybeOne(
    db,
    `select at from event where site_id = $1 and name = 'crindle_here' and at > now() - interval '1 day' order by at desc limit 1`,
    [siteId],
  );

export interface Fault {
  readonly entry: string;
  readonly message: string;
  readonly times: number;
  readonly lastAt: Date;
}

/** What the page script reported of itself in the last days, newest first. */
export async function listFaults(db: Queryable, siteId: number): Promise<Fault[]> {
  return many<Fault & Record<string, unknown>>(
    db,
    `select entry, message, sum(times)::int as times, max(last_at) as "lastAt" from fault
      where site_id = $1 and day > current_date - 7 group by entry, message order by max(last_at) desc limit 50`,
    [siteId],
  );
}
