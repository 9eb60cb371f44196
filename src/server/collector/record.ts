import type { Item, OpenItem, PieceItem } from '@/core/wire/items';
import { sourceOf } from '@/core/history/source';
import type { Device, Location } from '@/core/history/visitor';
import type { Queryable } from '../db/queryable';
import { maybeOne, one } from '../db/queryable';
import type { Site } from '../db/sites';

/** Bad input that the page cannot mend by sending it again. */
export class ItemRefused extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

export interface Sender {
  readonly site: Site;
  readonly browser: string;
  readonly device: Device;
  readonly location?: Location | undefined;
  /** Added to the browser's instants, in ms: what its clock is behind the server's. */
  readonly skew: number;
}

/** Writes one item. The same item again changes nothing. Returns the visitor's number where the item names one. */
export async function recordItem(db: Queryable, item: Item, sender: Sender): Promise<number> {
  switch (item.kind) {
    case 'open':
      return recordOpen(db, item, sender);
    case 'piece':
      return recordPiece(db, item, sender);
    case 'showing':
      return recordShowing(db, item, sender);
    case 'outcome':
      return recordOutcome(db, item, sender);
    case 'event':
      return recordEvent(db, item, sender);
    case 'person':
      return recordPerson(db, item, sender);
    case 'form':
      return recordForm(db, item, sender);
  }
}

const LOCATION_PARTS = ['country', 'region', 'city', 'lat', 'lon', 'accuracy'] as const;

async function recordOpen(db: Queryable, open: OpenItem, sender: Sender): Promise<number> {
  const { site, skew, location } = sender;
  const at = open.at + skew;
  const visitorId = await visitorFor(db, open, sender);
  const { channel, referrer, utm } = sourceOf({ url: open.url, referrer: open.referrer, ownHosts: site.addresses });
  const visit = await maybeOne(
    db,
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel, referrer, utm, country, region, city, lat, lon, accuracy)
     values ($1, $2, $3, at_ms($4), greatest(at_ms($4), at_ms($5)), $6, $7, $8, $9, $10, $11, $12, $13, $14)
     on conflict (site_id, id) do update set last_at = greatest(visit.last_at, excluded.last_at)
      where visit.visitor_id = excluded.visitor_id
     returning id`,
    [
      site.id,
      open.visit,
      visitorId,
      Math.min(open.visitAt + skew, at),
      at,
      channel,
      referrer ?? null,
      utm,
      ...LOCATION_PARTS.map((part) => location?.[part] ?? null),
    ],
  );
  if (!visit) throw new ItemRefused('visit.foreign', 'The visit belongs to another visitor');
  await db.query(
    `insert into page_view (site_id, id, visit_id, visitor_id, at, url, title, labels, hidden)
     values ($1, $2, $3, $4, at_ms($5), $6, $7, $8, $9)
     on conflict (site_id, id) do nothing`,
    [site.id, open.view, open.visit, visitorId, at, open.url, open.title ?? null, open.labels ?? null, open.hidden ?? false],
  );
  return visitorId;
}

/** Finds the browser's visitor, or deals out the next number: dense, because posting lists are as long as the largest one. */
async function visitorFor(db: Queryable, { at, language, zone }: OpenItem, { site, browser, device, skew }: Sender): Promise<number> {
  const known = await maybeOne<{ id: number }>(
    db,
    `update visitor set last_seen = greatest(last_seen, at_ms($3)), language = coalesce($4, language), zone = coalesce($5, zone),
            device_category = coalesce($6, device_category), device_os = coalesce($7, device_os), device_browser = coalesce($8, device_browser)
      where site_id = $1 and browser_id = $2 returning id`,
    [site.id, browser, at + skew, language ?? null, zone ?? null, device.category ?? null, device.os ?? null, device.browser ?? null],
  );
  if (known) return known.id;
  const { number } = await one<{ number: number }>(
    db,
    `update site set visitors = visitors + 1 where id = $1 returning visitors as number`,
    [site.id],
  );
  await db.query(
    `insert into visitor (site_id, id, browser_id, first_seen, last_seen, language, zone, device_category, device_os, device_browser)
     values ($1, $2, $3, at_ms($4), at_ms($4), $5, $6, $7, $8, $9)`,
    [
      site.id,
      number,
      browser,
      at + skew,
      language ?? null,
      zone ?? null,
      device.category ?? null,
      device.os ?? null,
      device.browser ?? null,
    ],
  );
  return number;
}

async function recordPiece(db: Queryable, piece: PieceItem, { site }: Sender): Promise<number> {
  const view = await maybeOne<{ visitor_id: number; visit_id: string }>(
    db,
    `update page_view set engaged_ms = greatest(engaged_ms, $3), scroll = greatest(scroll, $4), leave_ms = greatest(leave_ms, $5),
            cannot_scroll = coalesce($6, cannot_scroll), title = coalesce($7, title), labels = coalesce($8, labels), watched = $9
      where site_id = $1 and id = $2 returning visitor_id, visit_id`,
    [
      site.id,
      piece.view,
      Math.round(piece.engaged),
      Math.round(piece.scroll),
      Math.round(piece.leave),
      piece.cannotScroll ?? null,
      piece.title ?? null,
      piece.labels ?? null,
      piece.watched ?? [],
    ],
  );
  if (!view) throw new ItemRefused('view.unknown', 'No page view of that id was opened');
  await db.query(
    `insert into signal_piece (site_id, view_id, piece, signals) values ($1, $2, $3, $4)
     on conflict (site_id, view_id, piece) do nothing`,
    [site.id, piece.view, piece.piece, JSON.stringify(piece.signals)],
  );
  await db.query(
    `update visit set last_at = greatest(last_at, (select at + make_interval(secs => $4 / 1000.0) from page_view where site_id = $1 and id = $3))
      where site_id = $1 and id = $2`,
    [site.id, view.visit_id, piece.view, piece.leave],
  );
  return view.visitor_id;
}

async function recordShowing(db: Queryable, showing: Extract<Item, { kind: 'showing' }>, sender: Sender): Promise<number> {
  const visitorId = await visitorOfView(db, sender.site.id, showing.view);
  await db.query(
    `insert into showing (site_id, id, campaign_id, visitor_id, visit_id, view_id, at, release, shown)
     values ($1, $2, $3, $4, $5, $6, at_ms($7), $8, $9) on conflict (site_id, id) do nothing`,
    [
      sender.site.id,
      showing.id,
      showing.campaign,
      visitorId,
      showing.visit,
      showing.view,
      showing.at + sender.skew,
      showing.release,
      showing.shown,
    ],
  );
  return visitorId;
}

async function recordOutcome(
  db: Queryable,
  { showing, outcome, at }: Extract<Item, { kind: 'outcome' }>,
  { site, skew }: Sender,
): Promise<number> {
  const found = await maybeOne<{ visitor_id: number }>(db, `select visitor_id from showing where site_id = $1 and id = $2`, [
    site.id,
    showing,
  ]);
  if (!found) throw new ItemRefused('showing.unknown', 'No showing of that id is on record');
  await db.query(
    `insert into outcome (site_id, showing_id, kind, at) values ($1, $2, $3, at_ms($4)) on conflict (site_id, showing_id, kind) do nothing`,
    [site.id, showing, outcome, at + skew],
  );
  return found.visitor_id;
}

async function recordEvent(db: Queryable, event: Extract<Item, { kind: 'event' }>, { site, skew }: Sender): Promise<number> {
  const visitorId = await visitorOfView(db, site.id, event.view);
  await db.query(
    `insert into event (site_id, id, visit_id, view_id, visitor_id, at, name, props)
     values ($1, $2, $3, $4, $5, at_ms($6), $7, $8) on conflict (site_id, id) do nothing`,
    [site.id, event.id, event.visit, event.view, visitorId, event.at + skew, event.name, event.props],
  );
  return visitorId;
}

async function recordPerson(db: Queryable, person: Extract<Item, { kind: 'person' }>, { site, browser, skew }: Sender): Promise<number> {
  const found = await maybeOne<{ id: number }>(
    db,
    `update visitor set email = coalesce($3, email), customer_id = coalesce($4, customer_id) where site_id = $1 and browser_id = $2 returning id`,
    [site.id, browser, person.email ?? null, person.customerId ?? null],
  );
  if (!found) throw new ItemRefused('visitor.unknown', 'No page view of this browser was opened');
  const changes = [
    ...Object.entries({ email: person.email, id: person.customerId }).flatMap(([key, value]) =>
      value === undefined ? [] : [{ kind: 'identity', key, value }],
    ),
    ...Object.entries(person.traits ?? {}).map(([key, value]) => ({ kind: 'trait', key, value })),
  ];
  for (const { kind, key, value } of changes) {
    await db.query(
      `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values ($1, $2, at_ms($3), $4, $5, $6, $7)
       on conflict (site_id, visitor_id, id, kind, key) do nothing`,
      [site.id, found.id, person.at + skew, kind, key, value === null ? null : JSON.stringify(value), person.id],
    );
  }
  return found.id;
}

/** A form sent is a lead, makes the visitor known where it holds an email, and is the showing's conversion. */
async function recordForm(db: Queryable, form: Extract<Item, { kind: 'form' }>, sender: Sender): Promise<number> {
  const { site, skew } = sender;
  const visitorId = await visitorOfView(db, site.id, form.view);
  const inserted = await maybeOne(
    db,
    `insert into lead (site_id, id, campaign_id, showing_id, visitor_id, at, email, fields, url)
     values ($1, $2, $3, $4, $5, at_ms($6), $7, $8, $9) on conflict (site_id, id) do nothing returning id`,
    [site.id, form.id, form.campaign, form.showing, visitorId, form.at + skew, form.email ?? null, form.fields, form.url],
  );
  if (!inserted) return visitorId;
  if (form.email) await recordPerson(db, { kind: 'person', id: form.id, at: form.at, email: form.email }, sender);
  await db.query(
    `insert into outcome (site_id, showing_id, kind, at)
     select $1, id, 'converted', at_ms($3) from showing where site_id = $1 and id = $2
     on conflict (site_id, showing_id, kind) do nothing`,
    [site.id, form.showing, form.at + skew],
  );
  return visitorId;
}

async function visitorOfView(db: Queryable, siteId: number, view: string): Promise<number> {
  const found = await maybeOne<{ visitor_id: number }>(db, `select visitor_id from page_view where site_id = $1 and id = $2`, [
    siteId,
    view,
  ]);
  if (!found) throw new ItemRefused('view.unknown', 'No page view of that id was opened');
  return found.visitor_id;
}
