import type { Item } from '@/core/wire/items';
import type { Device, Location } from '@/core/history/visitor';
import { insertLead } from '../db/leads';
import { convertShowing, insertOutcome } from '../db/outcomes';
import type { Queryable } from '../db/queryable';
import { maybeOne } from '../db/queryable';
import { insertShowing, visitorOfShowing } from '../db/showings';
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

/** Items that are written one by one; page opens and pieces are written together. */
export type SingleItem = Exclude<Item, { kind: 'open' | 'piece' }>;

/** Writes one item. The same item again changes nothing. Returns the visitor's number; undefined where the item names none. */
export async function recordItem(db: Queryable, item: SingleItem, sender: Sender): Promise<number | undefined> {
  switch (item.kind) {
    case 'showing':
      return recordShowing(db, item, sender);
    case 'outcome':
      return recordOutcome(db, item, sender);
    case 'event':
      return recordEvent(db, item, sender);
    case 'person':
      return recordPerson(db, item, sender);
    case 'mark':
      return recordMark(db, item, sender);
    case 'fault':
      return recordFault(db, item, sender);
    case 'form':
      return recordForm(db, item, sender);
  }
}

async function recordMark(
  db: Queryable,
  { id, at, tag, score }: Extract<Item, { kind: 'mark' }>,
  { site, browser, skew }: Sender,
): Promise<number> {
  const found = await maybeOne<{ id: number }>(db, `select id from visitor where site_id = $1 and browser_id = $2`, [site.id, browser]);
  if (!found) throw new ItemRefused('visitor.unknown', 'No page view of this browser was opened');
  const changes = [
    ...(tag === undefined ? [] : [{ kind: 'tag', key: tag, value: true }]),
    ...(score === undefined ? [] : [{ kind: 'score', key: 'score', value: score }]),
  ];
  for (const { kind, key, value } of changes)
    await db.query(
      `with changed as (
         insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values ($1, $2, at_ms($3), $4, $5, $6, $7)
         on conflict (site_id, visitor_id, id, kind, key) do nothing returning kind)
       update visitor set score = score + $8 from changed where site_id = $1 and visitor.id = $2 and changed.kind = 'score'`,
      [site.id, found.id, at + skew, kind, key, JSON.stringify(value), id, score ?? 0],
    );
  return found.id;
}

/** Faults of the page script are counted by day, place and words; which visitor met them is not kept. */
async function recordFault(db: Queryable, { entry, message }: Extract<Item, { kind: 'fault' }>, { site }: Sender): Promise<undefined> {
  await db.query(
    `insert into fault (site_id, day, entry, message) values ($1, current_date, $2, $3)
     on conflict (site_id, day, entry, message) do update set times = fault.times + 1, last_at = now()`,
    [site.id, entry, message],
  );
}

async function recordShowing(db: Queryable, showing: Extract<Item, { kind: 'showing' }>, { site, skew }: Sender): Promise<number> {
  const visitorId = await visitorOfView(db, site.id, showing.view);
  await insertShowing(db, site.id, { ...showing, visitorId, at: showing.at + skew });
  return visitorId;
}

async function recordOutcome(
  db: Queryable,
  { showing, outcome, at }: Extract<Item, { kind: 'outcome' }>,
  { site, skew }: Sender,
): Promise<number> {
  const visitorId = await visitorOfShowing(db, site.id, showing);
  if (visitorId === undefined) throw new ItemRefused('showing.unknown', 'No showing of that id is on record');
  await insertOutcome(db, site.id, { showing, kind: outcome, at: at + skew });
  return visitorId;
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
  const isNew = await insertLead(db, site.id, { ...form, visitorId, at: form.at + skew });
  if (!isNew) return visitorId;
  if (form.email) await recordPerson(db, { kind: 'person', id: form.id, at: form.at, email: form.email }, sender);
  await convertShowing(db, site.id, { showing: form.showing, at: form.at + skew });
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
