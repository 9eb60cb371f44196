import { sourceOf } from '@/core/history/source';
import { keepParameters } from '@/core/pages/parameters';
import type { OpenItem, PieceItem } from '@/core/wire/items';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import type { Sender } from './record';
import { ItemRefused } from './record';
import type { Entry } from './writer';

export type Recorded = { readonly visitorId: number | undefined } | { readonly refused: ItemRefused };

type Open = Entry & { readonly item: OpenItem };
type Piece = Entry & { readonly item: PieceItem };

/** Page opens and pieces of signals, nearly all that comes, by a handful of statements for any number of them. The same again changes nothing. */
export async function recordBatch(db: Queryable, entries: readonly Entry[]): Promise<ReadonlyMap<Entry, Recorded>> {
  const opens = entries.filter((entry): entry is Open => entry.item.kind === 'open');
  const pieces = entries.filter((entry): entry is Piece => entry.item.kind === 'piece');
  const recorded = new Map<Entry, Recorded>();
  if (opens.length) await recordOpens(db, opens, recorded);
  if (pieces.length) await recordPieces(db, pieces, recorded);
  return recorded;
}

async function recordOpens(db: Queryable, opens: readonly Open[], recorded: Map<Entry, Recorded>): Promise<void> {
  const visitors = await visitorsOf(db, opens);
  const rows = opens.map(({ item, sender }) => {
    const { site, skew, location } = sender;
    const at = item.at + skew;
    return {
      site: site.id,
      visitor: visitors.get(browserKey(sender)),
      visit: item.visit,
      view: item.view,
      at,
      began: Math.min(item.visitAt + skew, at),
      ...sourceOf({ url: item.url, referrer: item.referrer, ownHosts: site.addresses }),
      ...location,
      url: keepParameters(item.url, site.keptParameters),
      title: item.title,
      labels: item.labels,
      hidden: item.hidden ?? false,
    };
  });
  const visits = await many<{ site: number; visit: string; visitor: number }>(
    db,
    `insert into visit as v (site_id, id, visitor_id, started_at, last_at, channel, referrer, utm, country, region, city, lat, lon, accuracy)
     select distinct on (site, visit) site, visit, visitor, at_ms(began), at_ms(max(at) over (partition by site, visit)), channel, referrer, utm, country, region, city, lat, lon, accuracy
       from jsonb_to_recordset($1::jsonb) as m(site int, visit uuid, visitor int, at float8, began float8, channel text, referrer text, utm jsonb,
                                               country text, region text, city text, lat float8, lon float8, accuracy float8)
      order by site, visit, began
     on conflict (site_id, id) do update set last_at = greatest(v.last_at, excluded.last_at), closed_at = null where v.visitor_id = excluded.visitor_id
     returning site_id as site, id as visit, visitor_id as visitor`,
    [JSON.stringify(rows)],
  );
  const ownVisits = new Set(visits.map(({ site, visit, visitor }) => `${site} ${visit} ${visitor}`));
  const isOwn = (row: (typeof rows)[number]): boolean => ownVisits.has(`${row.site} ${row.visit} ${row.visitor}`);
  await db.query(
    `insert into page_view (site_id, id, visit_id, visitor_id, at, url, title, labels, hidden)
     select site, view, visit, visitor, at_ms(at), url, title, labels, hidden
       from jsonb_to_recordset($1::jsonb) as m(site int, view uuid, visit uuid, visitor int, at float8, url text, title text, labels text[], hidden boolean)
     on conflict (site_id, id) do nothing`,
    [JSON.stringify(rows.filter(isOwn))],
  );
  opens.forEach((entry, index) => {
    const row = rows[index];
    const isRecorded = row?.visitor !== undefined && isOwn(row);
    recorded.set(
      entry,
      isRecorded ? { visitorId: row.visitor } : { refused: new ItemRefused('visit.foreign', 'The visit belongs to another visitor') },
    );
  });
}

const browserKey = ({ site, browser }: Sender): string => `${site.id} ${browser}`;

/** Numbers of the browsers' visitors; a new one gets the site's next: dense, because posting lists are as long as the largest one. */
async function visitorsOf(db: Queryable, opens: readonly Open[]): Promise<ReadonlyMap<string, number>> {
  const newest = new Map<string, Open>();
  for (const open of opens) {
    const known = newest.get(browserKey(open.sender));
    if (!known || known.item.at <= open.item.at) newest.set(browserKey(open.sender), open);
  }
  const rows = [...newest.values()].map(({ item, sender }) => ({
    site: sender.site.id,
    browser: sender.browser,
    at: item.at + sender.skew,
    language: item.language,
    zone: item.zone,
    category: sender.device.category,
    os: sender.device.os,
    device: sender.device.browser,
  }));
  const shape = `jsonb_to_recordset($1::jsonb) as m(site int, browser uuid, at float8, language text, zone text, category text, os text, device text, id int)`;
  const known = await many<{ site: number; browser: string; id: number }>(
    db,
    `update visitor set last_seen = greatest(last_seen, at_ms(m.at)), touched_at = now(), language = coalesce(m.language, visitor.language), zone = coalesce(m.zone, visitor.zone),
            device_category = coalesce(m.category, device_category), device_os = coalesce(m.os, device_os), device_browser = coalesce(m.device, device_browser)
       from ${shape} where site_id = m.site and browser_id = m.browser returning site_id as site, browser_id as browser, visitor.id`,
    [JSON.stringify(rows)],
  );
  const numbers = new Map(known.map(({ site, browser, id }) => [`${site} ${browser}`, id]));
  const fresh = rows.filter(({ site, browser }) => !numbers.has(`${site} ${browser}`));
  for (const site of new Set(fresh.map((row) => row.site))) {
    const own = fresh.filter((row) => row.site === site);
    const [assigned] = await many<{ last: number }>(
      db,
      `update site set visitors = visitors + $2 where id = $1 returning visitors as last`,
      [site, own.length],
    );
    const first = (assigned?.last ?? 0) - own.length + 1;
    const numbered = own.map((row, index) => ({ ...row, id: first + index }));
    await db.query(
      `insert into visitor (site_id, id, browser_id, first_seen, last_seen, language, zone, device_category, device_os, device_browser)
       select site, id, browser, at_ms(at), at_ms(at), language, zone, category, os, device from ${shape}`,
      [JSON.stringify(numbered)],
    );
    for (const { browser, id } of numbered) numbers.set(`${site} ${browser}`, id);
  }
  return numbers;
}

/**
 * All in one statement: the views' measures, the pieces of views that are known, the visits' last sign of life. Measures only
 * grow; of several pieces of one view the last says what the page is called now.
 */
const PIECES = {
  name: 'pieces',
  text: `
    with measure as (
      select * from jsonb_to_recordset($1::jsonb) as m(site int, view uuid, engaged int, scroll int, leave int, fixed boolean, title text,
                                                       labels text[], watched text[], blocker boolean)),
    viewed as (
      update page_view set engaged_ms = greatest(engaged_ms, m.engaged), scroll = greatest(page_view.scroll, m.scroll),
             leave_ms = greatest(leave_ms, m.leave), cannot_scroll = coalesce(m.fixed, cannot_scroll),
             title = coalesce(m.title, page_view.title), labels = coalesce(m.labels, page_view.labels),
             watched = coalesce(m.watched, page_view.watched)
        from measure as m where site_id = m.site and page_view.id = m.view
      returning site_id as site, page_view.id as view, visitor_id as visitor, visit_id as visit,
                at + make_interval(secs => leave_ms / 1000.0) as last, m.blocker),
    stored as (
      insert into signal_piece (site_id, view_id, piece, signals)
      select site, view, piece, signals
        from jsonb_to_recordset($2::jsonb) as p(site int, view uuid, piece int, signals jsonb) join viewed using (site, view)
      on conflict (site_id, view_id, piece) do nothing),
    visited as (
      update visit set last_at = greatest(last_at, m.last), closed_at = null
        from (select site, visit, max(last) as last from viewed group by 1, 2) as m where visit.site_id = m.site and visit.id = m.visit),
    blocked as (
      update visitor set ad_blocker = m.blocker
        from (select site, visitor, bool_or(blocker) as blocker from viewed where blocker is not null group by 1, 2) as m
       where visitor.site_id = m.site and visitor.id = m.visitor)
    select site, view, visitor from viewed`,
};

type Measure = Record<'engaged' | 'scroll' | 'leave', number> & {
  readonly site: number;
  readonly view: string;
  piece: number;
  fixed?: boolean | undefined;
  title?: string | undefined;
  labels?: readonly string[] | undefined;
  watched?: readonly string[] | undefined;
  blocker?: boolean | undefined;
};

async function recordPieces(db: Queryable, pieces: readonly Piece[], recorded: Map<Entry, Recorded>): Promise<void> {
  const measures = new Map<string, Measure>();
  const rows = pieces.map(({ item, sender }) => {
    const { view, piece, signals } = item;
    const key = `${sender.site.id} ${view}`;
    const known = measures.get(key);
    if (known) addMeasure(known, item);
    else measures.set(key, measureOf(sender.site.id, item));
    return { site: sender.site.id, view, piece, signals };
  });
  const { rows: found } = await db.query<{ site: number; view: string; visitor: number }>({
    ...PIECES,
    values: [JSON.stringify([...measures.values()]), JSON.stringify(rows)],
  });
  const visitors = new Map(found.map(({ site, view, visitor }) => [`${site} ${view}`, visitor]));
  for (const entry of pieces) {
    const visitorId = visitors.get(`${entry.sender.site.id} ${entry.item.view}`);
    recorded.set(
      entry,
      visitorId === undefined ? { refused: new ItemRefused('view.unknown', 'No page view of that id was opened') } : { visitorId },
    );
  }
}

const measureOf = (site: number, { view, piece, engaged, scroll, leave, ...said }: PieceItem): Measure => ({
  site,
  view,
  piece,
  engaged: Math.round(engaged),
  scroll: Math.round(scroll),
  leave: Math.round(leave),
  fixed: said.cannotScroll,
  title: said.title,
  labels: said.labels,
  watched: said.watched,
  blocker: said.adBlocker,
});

function addMeasure(measure: Measure, item: PieceItem): void {
  const other = measureOf(measure.site, item);
  for (const what of ['engaged', 'scroll', 'leave'] as const) measure[what] = Math.max(measure[what], other[what]);
  const [newer, older] = other.piece >= measure.piece ? [other, measure] : [measure, other];
  measure.fixed = newer.fixed ?? older.fixed;
  measure.title = newer.title ?? older.title;
  measure.labels = newer.labels ?? older.labels;
  measure.watched = newer.watched ?? older.watched;
  measure.blocker = newer.blocker ?? older.blocker;
  measure.piece = newer.piece;
}
