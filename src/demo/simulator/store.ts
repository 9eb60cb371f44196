import type { Queryable } from '@/server/db/queryable';
import { one } from '@/server/db/queryable';
import type { SimulatedShowing } from './respond';
import type { SimulatedVisit } from './simulate';

const CHUNK = 500;

/** Writes simulated visits through the same tables as the collector. Visitors are numbered in the order of their first visit. */
export async function storeVisits(
  db: Queryable,
  siteId: number,
  visits: readonly SimulatedVisit[],
  onProgress: (done: number) => void = () => undefined,
): Promise<Map<string, number>> {
  const numbers = await storeVisitors(db, siteId, visits);
  for (let from = 0; from < visits.length; from += CHUNK) {
    await storeChunk(db, siteId, visits.slice(from, from + CHUNK), numbers);
    onProgress(Math.min(visits.length, from + CHUNK));
  }
  return numbers;
}

async function storeVisitors(db: Queryable, siteId: number, visits: readonly SimulatedVisit[]): Promise<Map<string, number>> {
  const { visitors: before } = await one<{ visitors: number }>(db, `select visitors from site where id = $1 for update`, [siteId]);
  const byBrowser = new Map<string, { person: SimulatedVisit['person']; first: number; last: number }>();
  for (const { person, at, views } of visits) {
    const last = (views.at(-1)?.at ?? at) + (views.at(-1)?.leaveMs ?? 0);
    const entry = byBrowser.get(person.browserId);
    if (entry) entry.last = Math.max(entry.last, last);
    else byBrowser.set(person.browserId, { person, first: at, last });
  }
  const numbers = new Map([...byBrowser.keys()].map((browser, index) => [browser, before + index + 1]));
  const rows = [...byBrowser.values()].map(({ person, first, last }) => ({
    id: numbers.get(person.browserId),
    browser_id: person.browserId,
    first,
    last,
    email: person.email ?? null,
    language: person.town.language,
    zone: person.town.zone,
    device_category: person.device.category,
    device_os: person.device.os,
    device_browser: person.device.browser,
  }));
  await db.query(
    `insert into visitor (site_id, id, browser_id, first_seen, last_seen, email, language, zone, device_category, device_os, device_browser)
     select $1, id, browser_id, at_ms(first), at_ms(last), email, language, zone, device_category, device_os, device_browser
       from json_to_recordset($2) as r (id int, browser_id uuid, first float8, last float8, email text, language text, zone text,
            device_category text, device_os text, device_browser text)`,
    [siteId, JSON.stringify(rows)],
  );
  await db.query(
    `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id)
     select $1, id, at_ms(first), 'identity', 'email', to_jsonb(email), browser_id
       from json_to_recordset($2) as r (id int, browser_id uuid, first float8, email text) where email is not null`,
    [siteId, JSON.stringify(rows)],
  );
  await db.query(`update site set visitors = $2 where id = $1`, [siteId, before + rows.length]);
  return numbers;
}

async function storeChunk(
  db: Queryable,
  siteId: number,
  visits: readonly SimulatedVisit[],
  numbers: ReadonlyMap<string, number>,
): Promise<void> {
  const numbered = visits.map((visit) => ({ ...visit, visitor: numbers.get(visit.person.browserId) }));
  await db.query(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel, referrer, utm, country, city)
     select $1, id, visitor, at_ms(at), at_ms(last), channel, referrer, utm, country, city
       from json_to_recordset($2) as r (id uuid, visitor int, at float8, last float8, channel text, referrer text, utm jsonb, country text, city text)`,
    [
      siteId,
      JSON.stringify(
        numbered.map(({ id, visitor, at, channel, referrer, utm, views, person }) => ({
          country: person.town.country,
          city: person.town.city,
          id,
          visitor,
          at,
          last: (views.at(-1)?.at ?? at) + (views.at(-1)?.leaveMs ?? 0),
          channel,
          referrer,
          utm,
        })),
      ),
    ],
  );
  const views = numbered.flatMap(({ id: visit, visitor, views: seen }) => seen.map((view) => ({ ...view, visit, visitor })));
  await db.query(
    `insert into page_view (site_id, id, visit_id, visitor_id, at, url, title, labels, cannot_scroll, engaged_ms, scroll, leave_ms)
     select $1, id, visit, visitor, at_ms(at), url, title, array(select json_array_elements_text(labels)), false, "engagedMs", scroll, "leaveMs"
       from json_to_recordset($2) as r (id uuid, visit uuid, visitor int, at float8, url text, title text, labels json, "engagedMs" int, scroll int, "leaveMs" int)`,
    [siteId, JSON.stringify(views)],
  );
  await db.query(
    `insert into signal_piece (site_id, view_id, piece, signals)
     select $1, id, 0, signals from json_to_recordset($2) as r (id uuid, signals jsonb)`,
    [siteId, JSON.stringify(views.map(({ id, signals }) => ({ id, signals })))],
  );
  const events = numbered.flatMap(({ id: visit, visitor, events: done }) => done.map((event) => ({ ...event, visit, visitor })));
  await db.query(
    `insert into event (site_id, id, visit_id, view_id, visitor_id, at, name, props)
     select $1, id, visit, "viewId", visitor, at_ms(at), name, props
       from json_to_recordset($2) as r (id uuid, visit uuid, "viewId" uuid, visitor int, at float8, name text, props jsonb)`,
    [siteId, JSON.stringify(events)],
  );
}

/** Writes what the campaigns did in simulated visits: showings, outcomes, and a lead for each conversion. */
export async function storeShowings(
  db: Queryable,
  siteId: number,
  { showings, numbers, release }: { showings: readonly SimulatedShowing[]; numbers: ReadonlyMap<string, number>; release: number },
): Promise<void> {
  const rows = showings.map(({ id, campaign, visit, viewId, url, at, outcome }) => ({
    id,
    campaign,
    visitor: numbers.get(visit.person.browserId),
    visit: visit.id,
    view: viewId,
    url,
    at,
    kind: outcome?.kind ?? null,
    answered: outcome?.at ?? null,
    email: outcome?.email ?? null,
  }));
  const source = `json_to_recordset($2) as r (id uuid, campaign text, visitor int, visit uuid, view uuid, url text, at float8, kind text, answered float8, email text)`;
  const values = [siteId, JSON.stringify(rows)];
  await db.query(
    `insert into showing (site_id, id, campaign_id, visitor_id, visit_id, view_id, at, release)
     select $1, id, campaign, visitor, visit, view, at_ms(at), $3 from ${source}`,
    [...values, release],
  );
  await db.query(
    `insert into outcome (site_id, showing_id, kind, at) select $1, id, kind, at_ms(answered) from ${source} where kind is not null`,
    values,
  );
  await db.query(
    `insert into lead (site_id, id, campaign_id, showing_id, visitor_id, at, email, fields, url)
     select $1, id, campaign, id, visitor, at_ms(answered), email, json_build_object('email', email), url from ${source} where email is not null`,
    values,
  );
}
