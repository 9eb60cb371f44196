import type { DayPostings, ViewRow } from '@/core/counting/postings';
import { postingsOf } from '@/core/counting/postings';
import type { Page } from '@/core/pages/address';
import type { Database } from '../db/directory';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { numbers, offsetsOf } from './bytes';
import { sliceDays } from './slices';
import { DAY_MS } from '@/core/time/day';
const DAYS_AT_ONCE = 15;

interface SealedRow {
  [column: string]: unknown;
  day: string;
  pages: string;
  visitors: string;
  instants: string;
  engaged: string;
  scrolls: string;
}

/** Kept for as long as the process lives: a sealed day that changes has another `sealed_at`. */
const cached = new Map<string, DayPostings>();

/**
 * Every day of a site with page views up to the end of the day of `today` (UTC ms): the days before it as sealed (sealing
 * those that are not yet), that day itself from the raw rows. Later days are not looked at, sealed or not.
 */
export async function loadDays(db: Database, siteId: number, today: number): Promise<DayPostings[]> {
  await sealPastDays(db, siteId, today);
  return [...(await sealedDays(db, siteId, today)), ...(await loadToday(db, siteId, today))];
}

/** The same with the views of some pages only, and without measures. Days that are in memory anyway are given whole. */
export async function loadSomeOfDays(
  db: Database,
  siteId: number,
  today: number,
  wanted: (pages: readonly (Page | undefined)[]) => boolean[],
): Promise<DayPostings[]> {
  await sealPastDays(db, siteId, today);
  const sealed = await sealedBefore(db, siteId, today);
  const kept = sealed.flatMap((row) => cached.get(keyOf(siteId, row)) ?? []);
  if (sealed.length === kept.length) return [...kept, ...(await loadToday(db, siteId, today))];
  const span = { until: dayOf(today) };
  return [...(await sliceDays(db, siteId, wanted(await loadPages(db, siteId)), span)), ...(await loadToday(db, siteId, today))];
}

const keyOf = (siteId: number, { day, sealedAt }: { day: string; sealedAt: string }): string => `${siteId} ${day} ${sealedAt}`;

function sealedBefore(db: Queryable, siteId: number, today: number): Promise<{ day: string; sealedAt: string }[]> {
  return many<{ day: string; sealedAt: string }>(
    db,
    `select day::text as day, ms(sealed_at)::text as "sealedAt" from sealed_day where site_id = $1 and day < $2 order by day`,
    [siteId, dayOf(today)],
  );
}

async function sealedDays(db: Queryable, siteId: number, today: number): Promise<DayPostings[]> {
  const sealed = await sealedBefore(db, siteId, today);
  const missing = sealed.filter((row) => !cached.has(keyOf(siteId, row)));
  for (let from = 0; from < missing.length; from += DAYS_AT_ONCE) {
    const wanted = missing.slice(from, from + DAYS_AT_ONCE);
    // The driver would send the bytes as twice as many hexadecimal digits; base64 is a third shorter and quicker to read.
    const stored = await many<SealedRow>(
      db,
      `select day::text as day, encode(pages, 'base64') as pages, encode(visitors, 'base64') as visitors, encode(instants, 'base64') as instants,
              encode(engaged, 'base64') as engaged, encode(scrolls, 'base64') as scrolls
         from sealed_day where site_id = $1 and day = any($2::date[])`,
      [siteId, wanted.map(({ day }) => day)],
    );
    for (const row of stored)
      cached.set(keyOf(siteId, wanted.find(({ day }) => day === row.day) ?? { day: row.day, sealedAt: '' }), postingsFromRow(row));
  }
  return sealed.flatMap((row) => cached.get(keyOf(siteId, row)) ?? []);
}

async function loadToday(db: Queryable, siteId: number, today: number): Promise<DayPostings[]> {
  const rows = await rawRows(db, siteId, midnight(today), midnight(today) + DAY_MS - 1);
  return rows.length ? [postingsOf(midnight(today), rows)] : [];
}

const midnight = (at: number): number => Math.floor(at / DAY_MS) * DAY_MS;
const dayOf = (at: number): string => new Date(at).toISOString().slice(0, 10);

/** Seals the days before today that have page views and are not sealed. May run twice: the second finds nothing to do. */
export async function sealPastDays(db: Database, siteId: number, today: number): Promise<number> {
  const open = await many<{ day: string }>(
    db,
    `select distinct (at at time zone 'UTC')::date::text as day from page_view
      where site_id = $1 and at < at_ms($2) and not exists (select from sealed_day where sealed_day.site_id = $1 and sealed_day.day = (page_view.at at time zone 'UTC')::date)
      order by 1`,
    [siteId, midnight(today)],
  );
  for (const { day } of open) await withTransaction(db, (tx) => sealDay(tx, siteId, Date.parse(`${day}T00:00:00Z`)));
  return open.length;
}

async function sealDay(db: Queryable, siteId: number, dayStart: number): Promise<void> {
  // Taken before the rows are read: whoever is writing views of this day ends first, and who comes later opens it again.
  await db.query(`select pg_advisory_xact_lock($1, $2::date - date '2000-01-01')`, [siteId, dayOf(dayStart)]);
  const day = postingsOf(dayStart, await rawRows(db, siteId, dayStart, dayStart + DAY_MS - 1));
  const pairs = Uint32Array.from(
    [...day.pages].flatMap((page, nth) => [page, (day.offsets[nth + 1] as number) - (day.offsets[nth] as number)]),
  );
  const bytes = (values: Uint32Array | Uint8Array): Buffer => Buffer.from(values.buffer, values.byteOffset, values.byteLength);
  await db.query(
    `insert into sealed_day (site_id, day, views, pages, visitors, instants, engaged, scrolls) values ($1, $2, $3, $4, $5, $6, $7, $8)
     on conflict (site_id, day) do nothing`,
    [
      siteId,
      dayOf(dayStart),
      day.visitors.length,
      bytes(pairs),
      bytes(day.visitors),
      bytes(day.instants),
      bytes(day.engaged),
      bytes(day.scrolls),
    ],
  );
}

/** Views from one instant to another with their page's number; pages met for the first time get one. */
async function rawRows(db: Queryable, siteId: number, from: number, to: number): Promise<ViewRow[]> {
  await db.query(
    `insert into page_entry (site_id, id, url, title, labels)
     select $1, coalesce((select max(id) from page_entry where site_id = $1), 0) + row_number() over (order by url, title, labels), url, title, labels
       from (select distinct url, title, labels from page_view where site_id = $1 and at >= at_ms($2) and at <= at_ms($3)) as met
      where not exists (select from page_entry as known where known.site_id = $1 and known.url = met.url
                          and known.title is not distinct from met.title and known.labels is not distinct from met.labels)
     on conflict (site_id, digest) do nothing`,
    [siteId, from, to],
  );
  return many<ViewRow & Record<string, unknown>>(
    db,
    `select page_entry.id as page, visitor_id as visitor, ms(at)::float8 as at, engaged_ms as "engagedMs", scroll
       from page_view
       join page_entry on page_entry.site_id = $1 and page_entry.url = page_view.url
        and page_entry.title is not distinct from page_view.title and page_entry.labels is not distinct from page_view.labels
      where page_view.site_id = $1 and at >= at_ms($2) and at <= at_ms($3)`,
    [siteId, from, to],
  );
}

function postingsFromRow({ day, pages, visitors, instants, engaged, scrolls }: SealedRow): DayPostings {
  const pairs = numbers(pages);
  return {
    dayStart: Date.parse(`${day}T00:00:00Z`),
    pages: pairs.filter((_, index) => index % 2 === 0),
    offsets: offsetsOf(pairs),
    visitors: numbers(visitors),
    instants: numbers(instants),
    engaged: numbers(engaged),
    scrolls: new Uint8Array(Buffer.from(scrolls, 'base64')),
  };
}

export async function loadPages(db: Queryable, siteId: number): Promise<(Page | undefined)[]> {
  const rows = await many<{ id: number; url: string; title: string | null; labels: string[] | null }>(
    db,
    `select id, url, title, labels from page_entry where site_id = $1`,
    [siteId],
  );
  const pages: (Page | undefined)[] = [];
  for (const { id, url, title, labels } of rows)
    pages[id] = { url, ...(title === null ? {} : { title }), ...(labels === null ? {} : { labels }) };
  return Array.from({ length: pages.length }, (_, id) => pages[id]);
}
