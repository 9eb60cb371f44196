import type { Stored } from '@/core/facts/fact';
import { factColumns, storedFacts } from '@/core/facts/facts';
import { sourceOf } from '@/core/history/source';
import { keepParameters } from '@/core/pages/parameters';
import type { EventItem, OpenItem, PieceItem } from '@/core/wire/items';
import { named } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import type { Sender } from './record';
import { ItemRefused } from './record';
import type { Dealing } from './visitorNumbers';
import type { Entry } from './writer';

export type Recorded = { readonly visitorId: number | undefined } | { readonly refused: ItemRefused };

type Open = Entry & { readonly item: OpenItem };
type Piece = Entry & { readonly item: PieceItem };
type Event = Entry & { readonly item: EventItem };

/** Page opens, pieces of signals and events, nearly all that comes, by a handful of statements for any number of them. The same again changes nothing. */
export async function recordBatch(db: Queryable, entries: readonly Entry[], dealing: Dealing): Promise<ReadonlyMap<Entry, Recorded>> {
  const opens = entries.filter((entry): entry is Open => entry.item.kind === 'open');
  const pieces = entries.filter((entry): entry is Piece => entry.item.kind === 'piece');
  const events = entries.filter((entry): entry is Event => entry.item.kind === 'event');
  const recorded = new Map<Entry, Recorded>();
  if (opens.length) await recordOpens(db, opens, recorded, dealing);
  if (pieces.length) await recordPieces(db, pieces, recorded);
  if (events.length) await recordEvents(db, events, recorded);
  return recorded;
}

async function recordOpens(db: Queryable, opens: readonly Open[], recorded: Map<Entry, Recorded>, dealing: Dealing): Promise<void> {
  const visitors = await visitorsOf(db, opens, dealing);
  const rows = opens.map(({ item, sender }) => {
    const { site, instant, location } = sender;
    const at = instant(item.at);
    return {
      site: site.id,
      visitor: visitors.get(browserKey(sender)),
      visit: item.visit,
      view: item.view,
      at,
      began: Math.min(instant(item.visitAt), at),
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
    `insert into visit as v (site_id, id, visitor_id, started_at, last_at, source_at, channel, referrer, utm, country, region, city, lat, lon, accuracy)
     select distinct on (site, visit) site, visit, visitor, at_ms(min(began) over (partition by site, visit)), at_ms(max(at) over (partition by site, visit)),
            at_ms(at), channel, referrer, utm, country, region, city, lat, lon, accuracy
       from jsonb_to_recordset($1::jsonb) as m(site int, visit uuid, view uuid, visitor int, at float8, began float8, channel text, referrer text, utm jsonb,
                                               country text, region text, city text, lat float8, lon float8, accuracy float8)
      order by site, visit, at, view
     on conflict (site_id, id) do update set last_at = greatest(v.last_at, excluded.last_at), closed_at = null,
            started_at = least(v.started_at, excluded.started_at), source_at = least(v.source_at, excluded.source_at),
            channel = case when excluded.source_at < v.source_at then excluded.channel else v.channel end,
            referrer = case when excluded.source_at < v.source_at then excluded.referrer else v.referrer end,
            utm = case when excluded.source_at < v.source_at then excluded.utm else v.utm end
      where v.visitor_id = excluded.visitor_id
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

/** How many new visitors the items may bring, at the most, by site. */
export function mostNewVisitors(entries: readonly Entry[]): Map<number, number> {
  const browsers = new Map<number, Set<string>>();
  for (const { item, sender } of entries)
    if (item.kind === 'open') browsers.set(sender.site.id, (browsers.get(sender.site.id) ?? new Set()).add(sender.browser));
  return new Map([...browsers].map(([site, each]) => [site, each.size]));
}

const browserKey = ({ site, browser }: Sender): string => `${site.id} ${browser}`;
const byBrowser = ({ sender: a }: Entry, { sender: b }: Entry): number => (browserKey(a) < browserKey(b) ? -1 : 1);

/** What the newest page view says; an older one that comes late says only what is not known yet. */
const later = (column: string): string =>
  `case when at_ms(m.at) >= last_seen then coalesce(m.${column}, visitor.${column}) else coalesce(visitor.${column}, m.${column}) end`;

/** Of what pages find out, each with the opening of the view that said it: what the newest says. */
const newer = (column: string): string => `m.${column}_at >= coalesce(visitor.${column}_at, '-infinity')`;
const newest = (column: string, part: string): string => `case when ${newer(column)} then m.${part} else visitor.${part} end`;

/** What is told of a visitor as a page opens, and what a page finds out of them later. */
const TOLD = factColumns('open', 'agent');
const FOUND = factColumns('piece');
const TOLD_NAMES = TOLD.map(({ name }) => name).join(', ');

/** Numbers of the browsers' visitors; a new one gets one of those that were dealt. */
async function visitorsOf(db: Queryable, opens: readonly Open[], dealing: Dealing): Promise<ReadonlyMap<string, number>> {
  const newest = new Map<string, Open>();
  const firstAt = new Map<string, number>();
  for (const open of opens) {
    const { item, sender } = open;
    firstAt.set(browserKey(sender), Math.min(firstAt.get(browserKey(sender)) ?? Infinity, sender.instant(item.at)));
    const known = newest.get(browserKey(open.sender));
    if (!known || known.item.at <= open.item.at) newest.set(browserKey(open.sender), open);
  }
  // In the order of their keys, so that two writers wait for each other instead of holding each other up.
  const rows = [...newest.values()].sort(byBrowser).map(({ item, sender }) => ({
    site: sender.site.id,
    browser: sender.browser,
    at: sender.instant(item.at),
    first: firstAt.get(browserKey(sender)),
    ...storedFacts({ ...item, device: sender.device }, TOLD),
  }));
  const shape = `jsonb_to_recordset($1::jsonb) as m(site int, browser uuid, at float8, first float8, ${TOLD.map(({ name, type }) => `${name} ${type}`).join(', ')}, id int)`;
  const known = await many<{ site: number; browser: string; id: number }>(
    db,
    `update visitor set first_seen = least(first_seen, at_ms(m.first)), last_seen = greatest(last_seen, at_ms(m.at)), touched_at = now(),
            ${TOLD.map(({ name }) => `${name} = ${later(name)}`).join(', ')}
       from ${shape} where site_id = m.site and browser_id = m.browser returning site_id as site, browser_id as browser, visitor.id`,
    [JSON.stringify(rows)],
  );
  const numbers = new Map(known.map(({ site, browser, id }) => [`${site} ${browser}`, id]));
  const fresh = rows.filter(({ site, browser }) => !numbers.has(`${site} ${browser}`));
  if (fresh.length === 0) return numbers;
  const numbered: ((typeof rows)[number] & { id: number | undefined })[] = [];
  for (const site of new Set(fresh.map((row) => row.site))) {
    const own = fresh.filter((row) => row.site === site);
    const dealt = dealing.take(site, own.length);
    numbered.push(...own.map((row, index) => ({ ...row, id: dealt[index] })));
  }
  await db.query(
    `insert into visitor (site_id, id, browser_id, first_seen, last_seen, ${TOLD_NAMES})
     select site, id, browser, at_ms(first), at_ms(at), ${TOLD_NAMES} from ${shape}`,
    [JSON.stringify(numbered)],
  );
  for (const { site, browser, id } of numbered) if (id !== undefined) numbers.set(`${site} ${browser}`, id);
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
      select * from jsonb_to_recordset($1::jsonb) as m(site int, view uuid, browser uuid, engaged int, scroll int, leave int, fixed boolean, title text,
                                                       labels text[], watched text[], ${FOUND.map(({ name, type }) => `${name} ${type}`).join(', ')}, fixed_piece int, title_piece int,
                                                       labels_piece int, watched_piece int)),
    viewed as (
      update page_view set engaged_ms = greatest(engaged_ms, m.engaged), scroll = greatest(page_view.scroll, m.scroll),
             leave_ms = greatest(leave_ms, m.leave),
             cannot_scroll = case when m.fixed_piece > scroll_piece then m.fixed else cannot_scroll end, scroll_piece = greatest(scroll_piece, m.fixed_piece),
             title = case when m.title_piece > page_view.title_piece then m.title else page_view.title end, title_piece = greatest(page_view.title_piece, m.title_piece),
             labels = case when m.labels_piece > page_view.labels_piece then m.labels else page_view.labels end, labels_piece = greatest(page_view.labels_piece, m.labels_piece),
             watched = case when m.watched_piece > page_view.watched_piece then m.watched else page_view.watched end, watched_piece = greatest(page_view.watched_piece, m.watched_piece)
        from measure as m join visitor as who on who.site_id = m.site and who.browser_id = m.browser
       where page_view.site_id = m.site and page_view.id = m.view and page_view.visitor_id = who.id
      returning page_view.site_id as site, m.browser, page_view.id as view, visitor_id as visitor, visit_id as visit,
                at + make_interval(secs => leave_ms / 1000.0) as last, at as opened, ${FOUND.map(({ name }) => `m.${name}`).join(', ')}),
    stored as (
      insert into signal_piece (site_id, view_id, piece, signals)
      select site, view, piece, signals
        from jsonb_to_recordset($2::jsonb) as p(site int, view uuid, browser uuid, piece int, signals jsonb) join viewed using (site, view, browser)
      on conflict (site_id, view_id, piece) do nothing),
    visited as (
      update visit set last_at = greatest(last_at, m.last), closed_at = null
        from (select site, visit, max(last) as last from viewed group by 1, 2) as m where visit.site_id = m.site and visit.id = m.visit),
    found as (
      update visitor set ${FOUND.map(({ name }) => `${name} = ${newest(name, name)}, ${name}_at = ${newest(name, `${name}_at`)}`).join(', ')}
        from (select site, visitor, ${FOUND.map(({ name }) => `(array_agg(${name} order by opened desc) filter (where ${name} is not null))[1] as ${name}, max(opened) filter (where ${name} is not null) as ${name}_at`).join(', ')}
                from viewed group by 1, 2) as m
       where visitor.site_id = m.site and visitor.id = m.visitor and (${FOUND.map(({ name }) => newer(name)).join(' or ')}))
    select site, browser, view, visitor from viewed`,
};

type Measure = Record<'engaged' | 'scroll' | 'leave' | 'fixed_piece' | 'title_piece' | 'labels_piece' | 'watched_piece', number> & {
  readonly site: number;
  readonly view: string;
  readonly browser: string;
  fixed?: boolean | undefined;
  title?: string | undefined;
  labels?: readonly string[] | undefined;
  watched?: readonly string[] | undefined;
  /** What it has found out of its visitor, by column. */
  found: Readonly<Record<string, Stored>>;
};

async function recordPieces(db: Queryable, pieces: readonly Piece[], recorded: Map<Entry, Recorded>): Promise<void> {
  const measures = new Map<string, Measure>();
  const rows = [...pieces].sort(byView).map(({ item, sender }) => {
    const { view, piece, signals } = item;
    const key = `${browserKey(sender)} ${view}`;
    const known = measures.get(key);
    if (known) addMeasure(known, measureOf(sender, item));
    else measures.set(key, measureOf(sender, item));
    return { site: sender.site.id, view, browser: sender.browser, piece, signals };
  });
  const { rows: found } = await db.query<{ site: number; browser: string; view: string; visitor: number }>({
    ...named(PIECES),
    values: [JSON.stringify([...measures.values()].map(({ found: out, ...measure }) => ({ ...measure, ...out }))), JSON.stringify(rows)],
  });
  const visitors = new Map(found.map(({ site, browser, view, visitor }) => [`${site} ${browser} ${view}`, visitor]));
  for (const entry of pieces) {
    const visitorId = visitors.get(`${browserKey(entry.sender)} ${entry.item.view}`);
    recorded.set(entry, visitorId === undefined ? { refused: unknownView() } : { visitorId });
  }
}

/** Of views that are known and this browser's; nothing of a view happens before it was opened. */
const EVENTS = {
  name: 'events',
  text: `
    with own as (
      select nth, m.site, m.id, m.visit, m.view, visitor_id as visitor, greatest(page_view.at, at_ms(m.at)) as at, name, props
        from jsonb_to_recordset($1::jsonb) as m(nth int, site int, browser uuid, id uuid, visit uuid, view uuid, at float8, name text, props jsonb)
        join visitor as who on who.site_id = m.site and who.browser_id = m.browser
        join page_view on page_view.site_id = m.site and page_view.id = m.view and page_view.visitor_id = who.id),
    stored as (
      insert into event (site_id, id, visit_id, view_id, visitor_id, at, name, props)
      select site, id, visit, view, visitor, at, name, props from own order by site, id on conflict (site_id, id) do nothing)
    select nth, visitor from own`,
};

async function recordEvents(db: Queryable, events: readonly Event[], recorded: Map<Entry, Recorded>): Promise<void> {
  const rows = events.map(({ item, sender }, nth) => {
    const { id, visit, view, name, props } = item;
    return { nth, site: sender.site.id, browser: sender.browser, id, visit, view, at: sender.instant(item.at), name, props };
  });
  const { rows: found } = await db.query<{ nth: number; visitor: number }>({ ...named(EVENTS), values: [JSON.stringify(rows)] });
  const visitors = new Map(found.map(({ nth, visitor }) => [nth, visitor]));
  events.forEach((entry, nth) => {
    const visitorId = visitors.get(nth);
    recorded.set(entry, visitorId === undefined ? { refused: unknownView() } : { visitorId });
  });
}

const unknownView = (): ItemRefused => new ItemRefused('view.unknown', 'No page view of that id was opened by this browser');

function measureOf({ site, browser }: Sender, { view, piece, engaged, scroll, leave, ...said }: PieceItem): Measure {
  const by = (what: unknown): number => (what === undefined ? -1 : piece);
  return {
    site: site.id,
    view,
    browser,
    engaged: Math.round(engaged),
    scroll: Math.round(scroll),
    leave: Math.round(leave),
    fixed: said.cannotScroll,
    title: said.title,
    labels: said.labels,
    watched: said.watched,
    found: storedFacts(said, FOUND),
    fixed_piece: by(said.cannotScroll),
    title_piece: by(said.title),
    labels_piece: by(said.labels),
    watched_piece: by(said.watched),
  };
}

const byView = ({ item: a }: Piece, { item: b }: Piece): number => (a.view < b.view ? -1 : 1);

/** Measures only grow, and of what is said anew the later piece counts. */
function addMeasure(measure: Measure, other: Measure): void {
  for (const what of ['engaged', 'scroll', 'leave'] as const) measure[what] = Math.max(measure[what], other[what]);
  for (const what of ['fixed', 'title', 'labels', 'watched'] as const) {
    const by = `${what}_piece` as const;
    if (other[by] > measure[by]) Object.assign(measure, { [what]: other[what], [by]: other[by] });
  }
  measure.found = Object.fromEntries(FOUND.map(({ name }) => [name, other.found[name] ?? measure.found[name] ?? null]));
}
