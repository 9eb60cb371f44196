import validator from 'validator';
import { isOneAddress } from '@/core/people/email';
import type { Item } from '@/core/wire/items';
import { agreedIn } from '@/core/leads/consent';
import { keepParameters } from '@/core/pages/parameters';
import type { Device, Location } from '@/core/history/visitor';
import { queueLead } from '../db/connections';
import { agreedLater, insertLead, withdrawConsent } from '../db/leads';
import { convertByLead, convertShowing, insertOutcome, insertStep } from '../db/outcomes';
import type { Queryable } from '../db/queryable';
import { many, maybeOne } from '../db/queryable';
import { mayBy, setWhoTheyAre } from '../db/saying';
import { hasTalkPicture } from '../db/talkPictures';
import { addLine, giveThread } from '../db/threads';
import { findShowing, flowOfShowing, insertShowing, noteSight } from '../db/showings';
import type { Site } from '../db/sites';
import { noteRefusal } from '../db/sites';
import type { Signing } from './signature';
import { objectionToPerson } from './signature';

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
  readonly signing: Signing;
  /** Sets an instant of the browser's clock right, both UTC ms: never ahead of the server's clock, nor very long ago. */
  readonly instant: (at: number) => number;
}

/** Items that are written one by one; page opens, pieces and events are written together. */
export type SingleItem = Exclude<Item, { kind: 'open' | 'piece' | 'event' }>;

/** Writes one item. The same item again changes nothing. Returns the visitor's number; undefined where the item names none. */
export async function recordItem(db: Queryable, item: SingleItem, sender: Sender): Promise<number | undefined> {
  switch (item.kind) {
    case 'showing':
      return recordShowing(db, item, sender);
    case 'outcome':
      return recordOutcome(db, item, sender);
    case 'step':
      return recordStep(db, item, sender);
    case 'sight':
      return recordSight(db, item, sender);
    case 'person':
      return recordSignedPerson(db, item, sender);
    case 'mark':
      return recordMark(db, item, sender);
    case 'fault':
      return recordFault(db, item, sender);
    case 'form':
      return recordForm(db, item, sender);
    case 'line':
      return recordLine(db, item, sender);
    case 'read':
      return recordRead(db, item, sender);
    case 'copy':
      return recordCopy(db, item, sender);
    case 'denied':
      return recordDenied(db, sender);
  }
}

async function recordMark(
  db: Queryable,
  { id, at, tag, score }: Extract<Item, { kind: 'mark' }>,
  { site, browser, instant }: Sender,
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
      [site.id, found.id, instant(at), kind, key, JSON.stringify(value), id, score ?? 0],
    );
  return found.id;
}

/** Faults of the page script are counted by day, place and words, as many kinds a day as anyone reads; which visitor met them is not kept. */
async function recordFault(db: Queryable, { id, entry, message }: Extract<Item, { kind: 'fault' }>, { site }: Sender): Promise<undefined> {
  await db.query(
    `with counted as (
       insert into fault_counted (site_id, id)
       select $1, $2 where (select count(*) from (select from fault_counted where site_id = $1 and day = current_date limit $5) as today) < $5
       on conflict do nothing returning site_id)
     insert into fault (site_id, day, entry, message)
     select site_id, current_date, case when is_known or kinds < $6 then $3 else 'others' end, case when is_known or kinds < $6 then $4 else '' end
       from counted, lateral (
         select coalesce(bool_or(entry = $3 and message = $4), false) as is_known, count(*) as kinds from fault where site_id = $1 and day = current_date) as f
     on conflict (site_id, day, entry, message) do update set times = fault.times + 1, last_at = now()`,
    [site.id, id, entry, message, MOST_FAULTS, MOST_FAULT_KINDS],
  );
}

/** A day and site: beyond these nothing new is learnt. */
const MOST_FAULTS = 10_000;
const MOST_FAULT_KINDS = 200;

async function recordShowing(db: Queryable, showing: Extract<Item, { kind: 'showing' }>, sender: Sender): Promise<number> {
  const { visitorId, since } = await ownView(db, sender, showing.view);
  await insertShowing(db, sender.site.id, { ...showing, visitorId, at: since(showing.at) });
  // Its form came before it: what was agreed to in it is known only now.
  if (await convertByLead(db, sender.site.id, showing.id)) {
    const flow = await flowOfShowing(db, sender.site.id, showing.id);
    if (flow) await agreedLater(db, sender.site.id, { showing: showing.id, agreedIn: (fields) => agreedIn(flow, fields) });
  }
  return visitorId;
}

async function recordOutcome(
  db: Queryable,
  { showing, outcome, at, how }: Extract<Item, { kind: 'outcome' }>,
  { site, browser, instant }: Sender,
): Promise<number> {
  const found = await findShowing(db, site.id, { showing, browser });
  if (!found) throw new ItemRefused('showing.unknown', 'No showing of that id to this browser is on record');
  await insertOutcome(db, site.id, { showing, kind: outcome, how, at: Math.max(found.at, instant(at)) });
  return found.visitorId;
}

async function recordStep(
  db: Queryable,
  { showing, message, at }: Extract<Item, { kind: 'step' }>,
  { site, browser, instant }: Sender,
): Promise<number> {
  const found = await findShowing(db, site.id, { showing, browser });
  if (!found) throw new ItemRefused('showing.unknown', 'No showing of that id to this browser is on record');
  await insertStep(db, site.id, { showing, message, at: Math.max(found.at, instant(at)) });
  return found.visitorId;
}

async function recordSight(db: Queryable, { showing }: Extract<Item, { kind: 'sight' }>, { site, browser }: Sender): Promise<number> {
  const found = await findShowing(db, site.id, { showing, browser });
  if (!found) throw new ItemRefused('showing.unknown', 'No showing of that id to this browser is on record');
  await noteSight(db, site.id, showing);
  return found.visitorId;
}

/** Who a page says its visitor is: believed where the site does not require its own signature, or where that is right. */
async function recordSignedPerson(db: Queryable, person: Extract<Item, { kind: 'person' }>, sender: Sender): Promise<number> {
  const objection = objectionToPerson(person, sender.signing);
  if (!objection) return recordPerson(db, person, sender, person.signature !== undefined);
  await noteRefusal(db, sender.site.id, 'person', { words: objection });
  throw new ItemRefused('person.unsigned', objection);
}

async function recordPerson(
  db: Queryable,
  person: Extract<Item, { kind: 'person' }>,
  { site, browser, instant }: Sender,
  isSigned: boolean,
): Promise<number> {
  const found = await maybeOne<{ id: number }>(db, `select id from visitor where site_id = $1 and browser_id = $2`, [site.id, browser]);
  if (!found) throw new ItemRefused('visitor.unknown', 'No page view of this browser was opened');
  const identities = Object.entries({ email: person.email, id: person.customerId }).flatMap(([key, value]) =>
    value === undefined ? [] : [{ kind: 'identity', key, value }],
  );
  const traits = Object.entries(person.traits ?? {}).map(([key, value]) => ({ kind: 'trait', key, value }));
  for (const { kind, key, value } of [...identities, ...traits]) {
    await db.query(
      `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id, is_signed) values ($1, $2, at_ms($3), $4, $5, $6, $7, $8)
       on conflict (site_id, visitor_id, id, kind, key) do nothing`,
      [site.id, found.id, instant(person.at), kind, key, value === null ? null : JSON.stringify(value), person.id, isSigned],
    );
  }
  if (identities.length > 0) await setWhoTheyAre(db, site.id, [found.id]);
  return found.id;
}

/** A form sent is a lead whatever stands in it, and is the showing's conversion. What it says of an email makes the visitor known, where no signature is asked for. */
async function recordForm(db: Queryable, form: Extract<Item, { kind: 'form' }>, sender: Sender): Promise<number> {
  const { site } = sender;
  const { visitorId, since } = await ownView(db, sender, form.view);
  const at = since(form.at);
  const flow = await flowOfShowing(db, site.id, form.showing);
  const consent = flow ? agreedIn(flow, form.fields) : [];
  const isNew = await insertLead(db, site.id, { ...form, visitorId, at, consent, url: keepParameters(form.url, site.keptParameters) });
  if (!isNew) return visitorId;
  await queueLead(db, site.id, form);
  if (form.email && isOneAddress(form.email) && !sender.signing.isRequired)
    await recordPerson(db, { kind: 'person', id: form.id, at: form.at, email: form.email }, sender, false);
  const found = await findShowing(db, site.id, { showing: form.showing, browser: sender.browser });
  if (found) await convertShowing(db, site.id, { showing: form.showing, at });
  return visitorId;
}

/** More lines than this a minute nobody writes, and nobody reads. */
const MOST_LINES_A_MINUTE = 60;
const MOST_LINES = 5_000;

/** A line of the visitor's, or of the script that they answer: the first begins the thread; what they write to a person waits for one. */
async function recordLine(db: Queryable, line: Extract<Item, { kind: 'line' }>, sender: Sender): Promise<number> {
  const { site } = sender;
  const { visitorId, since } = await ownView(db, sender, line.view);
  const { thread, showing, campaign, view, by, text, id, answers = false, picture } = line;
  await db.query(
    `insert into thread (site_id, id, visitor_id, campaign_id, showing_id, view_id, begun_at) values ($1, $2, $3, $4, $5, $6, at_ms($7)) on conflict do nothing`,
    [site.id, thread, visitorId, campaign, showing, view, since(line.at)],
  );
  const found = await maybeOne<{ visitor: number; lines: number; lately: number; member: number | null }>(
    db,
    `select visitor_id as visitor, last_seq as lines, member_id as member,
            (select count(*)::int from line where line.site_id = $1 and thread_id = $2 and by = 'visitor' and at > now() - interval '1 minute' and line.id <> $3) as lately
       from thread where site_id = $1 and id = $2 for update`,
    [site.id, thread, id],
  );
  if (found?.visitor !== visitorId) throw new ItemRefused('thread.unknown', 'No conversation of that id is this browser’s');
  if (found.lately >= MOST_LINES_A_MINUTE) throw new ItemRefused('line.tooFast', 'More lines in a minute than anybody reads');
  if (found.lines >= MOST_LINES) throw new ItemRefused('thread.tooLong', 'This conversation is longer than anybody reads');
  if (picture !== undefined && !(await hasTalkPicture(db, site.id, { thread, id: picture })))
    throw new ItemRefused('picture.unknown', 'No picture of that id was sent in this conversation');
  const isAsking = by === 'visitor' && !answers;
  const seq = await addLine(db, site.id, thread, { id, by, text, picture }, isAsking ? 'asks' : 'neither');
  if (seq !== undefined && isAsking && found.member === null) await giveThread(db, site.id, { thread, now: Date.now(), had: null });
  return visitorId;
}

async function recordRead(db: Queryable, { thread, seq }: Extract<Item, { kind: 'read' }>, { site, browser }: Sender): Promise<number> {
  const found = await maybeOne<{ visitor: number }>(
    db,
    `update thread set visitor_seen = greatest(visitor_seen, least($4, last_seq)) from visitor
      where thread.site_id = $1 and thread.id = $2 and visitor.site_id = $1 and visitor.id = visitor_id and browser_id = $3 returning visitor_id as visitor`,
    [site.id, thread, browser, seq],
  );
  if (!found) throw new ItemRefused('thread.unknown', 'No conversation of that id is this browser’s');
  return found.visitor;
}

/** A copy of what was said: of a conversation that the team has closed, once each time. */
async function recordCopy(db: Queryable, { thread, email }: Extract<Item, { kind: 'copy' }>, { site, browser }: Sender): Promise<number> {
  if (!validator.isEmail(email)) throw new ItemRefused('copy.email', 'email: met something that is no email address');
  const found = await maybeOne<{ visitor: number }>(
    db,
    `update thread set copy_to = $4, copied_at = case when copied_at > closed_at then copied_at end from visitor
      where thread.site_id = $1 and thread.id = $2 and state = 'closed' and visitor.site_id = $1 and visitor.id = visitor_id and browser_id = $3
      returning visitor_id as visitor`,
    [site.id, thread, browser, email],
  );
  if (!found) throw new ItemRefused('thread.unknown', 'No closed conversation of that id is this browser’s');
  return found.visitor;
}

/** Nothing is recorded of them from here on; what they sent themselves is kept, and sent on no more. */
async function recordDenied(db: Queryable, { site, browser }: Sender): Promise<undefined> {
  const leads = await many<{ id: string; isSure: boolean }>(
    db,
    `select lead.id, coalesce(lower(lead.email) = lower(visitor.email) and ${mayBy('takeAway', 'email')}, false) as "isSure" from lead join visitor on visitor.site_id = $1 and visitor.id = visitor_id and browser_id = $2
      where lead.site_id = $1 and withdrawn_at is null`,
    [site.id, browser],
  );
  // Who says an email without a signature may be anybody: they take back what this browser sent, and nothing that somebody else did.
  for (const { id, isSure } of leads) await withdrawConsent(db, site.id, id, { isSure });
}

/** Whose view it is, and what puts an instant right: nothing of a view happens before it was opened. Refused where it is not this browser's. */
async function ownView(
  db: Queryable,
  { site, browser, instant }: Sender,
  view: string,
): Promise<{ visitorId: number; since: (at: number) => number }> {
  const found = await maybeOne<{ visitorId: number; at: number }>(
    db,
    `select visitor_id as "visitorId", ms(at)::float8 as at from page_view join visitor on visitor.site_id = page_view.site_id and visitor.id = visitor_id
      where page_view.site_id = $1 and page_view.id = $2 and browser_id = $3`,
    [site.id, view, browser],
  );
  if (!found) throw new ItemRefused('view.unknown', 'No page view of that id was opened by this browser');
  return { visitorId: found.visitorId, since: (at) => Math.max(found.at, instant(at)) };
}
