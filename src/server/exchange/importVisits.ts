import { factColumns, factsFrom, storedFacts } from '@/core/facts/facts';
import { idFrom } from './idFrom';
import type { Database } from '../db/directory';
import type { Queryable } from '../db/queryable';
import { maybeOne, one } from '../db/queryable';
import { withTransaction } from '../db/pool';
import type { VisitorLine } from './visitorLine';
import { insertOutcome } from '../db/outcomes';
import { insertShowing } from '../db/showings';

/** Writes one visitor's line. The same line again changes nothing: visits, views, events and changes keep their ids. */
export async function importVisitor(pool: Database, siteId: number, line: VisitorLine): Promise<void> {
  await withTransaction(pool, async (tx) => {
    const number = await visitorNumber(tx, siteId, line);
    for (const visit of line.visits) await importVisit(tx, siteId, { number, visit });
    await importChanges(tx, siteId, { number, line });
    await importResponses(tx, siteId, { number, line });
  });
}

async function visitorNumber(tx: Queryable, siteId: number, line: VisitorLine): Promise<number> {
  const browser = line.browser ?? idFrom(siteId, 'browser', line.visitor);
  const known = await maybeOne<{ id: number }>(tx, `select id from visitor where site_id = $1 and browser_id = $2`, [siteId, browser]);
  if (known) return known.id;
  const { number } = await one<{ number: number }>(
    tx,
    `update site set visitors = visitors + 1 where id = $1 returning visitors as number`,
    [siteId],
  );
  const columns = factColumns().map(({ name }) => name);
  const stored = storedFacts({ ...line, ...factsFrom(line.visits.at(-1) ?? {}, 'agent'), team: line.team ?? false });
  const first = Math.min(...line.visits.map(({ at }) => at));
  await tx.query(
    `insert into visitor (site_id, id, browser_id, first_seen, last_seen, ${columns.join(', ')})
     values ($1, $2, $3, at_ms($4), at_ms($5), ${columns.map((_, nth) => `$${nth + 6}`).join(', ')})`,
    [siteId, number, browser, first, Math.max(...line.visits.map(endOf)), ...columns.map((name) => stored[name])],
  );
  return number;
}

type LineVisit = VisitorLine['visits'][0];
const endOf = ({ at, views }: LineVisit): number => Math.max(at, ...views.map((view) => view.at + view.leave));

async function importVisit(tx: Queryable, siteId: number, { number, visit }: { number: number; visit: LineVisit }): Promise<void> {
  const { source, location } = visit;
  await tx.query(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel, referrer, utm, country, region, city, lat, lon, accuracy, weather)
     values ($1, $2, $3, at_ms($4), at_ms($5), $6, $7, $8, $9, $10, $11, $12, $13, $14, $15) on conflict (site_id, id) do nothing`,
    [
      siteId,
      visit.visit,
      number,
      visit.at,
      endOf(visit),
      source?.channel ?? 'direct',
      source?.referrer ?? null,
      source?.utm ?? {},
      location?.country ?? null,
      location?.region ?? null,
      location?.city ?? null,
      location?.lat ?? null,
      location?.lon ?? null,
      location?.accuracy ?? null,
      visit.weather ?? null,
    ],
  );
  await tx.query(
    `insert into page_view (site_id, id, visit_id, visitor_id, at, url, title, labels, hidden, cannot_scroll, watched, engaged_ms, scroll, leave_ms)
     select $1, view, $2, $3, at_ms(at), url, title, case when labels is null then null else array(select json_array_elements_text(labels)) end, hidden, "cannotScroll",
            array(select json_array_elements_text(watched)), round(engaged * 1000)::int, round(scroll)::int, round(leave)::int
       from json_to_recordset($4) as r (view uuid, at float8, url text, title text, labels json, hidden boolean, "cannotScroll" boolean, watched json, engaged float8, scroll float8, leave float8)
     on conflict (site_id, id) do nothing`,
    [
      siteId,
      visit.visit,
      number,
      JSON.stringify(
        visit.views.map(({ before, watched = [], ...view }) => ({
          ...view,
          hidden: before?.hidden ?? false,
          cannotScroll: before?.cannotScroll ?? false,
          watched,
        })),
      ),
    ],
  );
  await tx.query(
    `insert into signal_piece (site_id, view_id, piece, signals) select $1, view, 0, signals from json_to_recordset($2) as r (view uuid, signals jsonb)
     on conflict (site_id, view_id, piece) do nothing`,
    [siteId, JSON.stringify(visit.views.map(({ view, signals }) => ({ view, signals })))],
  );
  for (const [index, { at, name, props }] of visit.events.entries()) {
    const seenIn = visit.views.filter((view) => view.at <= at).at(-1) ?? visit.views[0];
    await tx.query(
      `insert into event (site_id, id, visit_id, view_id, visitor_id, at, name, props) values ($1, $2, $3, $4, $5, at_ms($6), $7, $8) on conflict (site_id, id) do nothing`,
      [siteId, idFrom(siteId, visit.visit, `event ${index}`), visit.visit, seenIn?.view, number, at, name, props],
    );
  }
}

/** Without a history of changes what stands at the end is taken to have stood from the first visit on. */
async function importChanges(tx: Queryable, siteId: number, { number, line }: { number: number; line: VisitorLine }): Promise<void> {
  const at = Math.min(...line.visits.map((visit) => visit.at));
  const current = [
    ...(line.known ? [{ at, kind: 'identity', key: 'import', value: true as unknown }] : []),
    ...Object.entries(line.traits ?? {}).map(([key, value]) => ({ at, kind: 'trait', key, value })),
    ...(line.tags ?? []).map((key) => ({ at, kind: 'tag', key, value: true })),
    ...(line.score ? [{ at, kind: 'score', key: '', value: line.score as unknown }] : []),
  ];
  for (const [index, change] of (line.changes ?? current).entries()) {
    await tx.query(
      `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values ($1, $2, at_ms($3), $4, $5, $6, $7) on conflict (site_id, visitor_id, id, kind, key) do nothing`,
      [
        siteId,
        number,
        change.at,
        change.kind,
        change.key,
        change.value === null || change.value === undefined ? null : JSON.stringify(change.value),
        idFrom(siteId, `change ${number}`, String(index)),
      ],
    );
  }
  await tx.query(
    `update visitor set touched_at = now(), customer_id = case when $4 then coalesce(customer_id, $3) else customer_id end where site_id = $1 and id = $2`,
    [siteId, number, `import:${line.visitor}`, line.known ?? false],
  );
}

async function importResponses(tx: Queryable, siteId: number, { number, line }: { number: number; line: VisitorLine }): Promise<void> {
  const shown = (line.responses ?? []).filter(({ outcome }) => outcome === 'shown');
  for (const [index, { campaign, at }] of shown.entries()) {
    const visit = line.visits.filter((one) => one.at <= at).at(-1) ?? line.visits[0];
    const view = visit?.views.filter((one) => one.at <= at).at(-1) ?? visit?.views[0];
    if (!visit || !view) continue;
    const showing = idFrom(siteId, `showing ${number}`, String(index));
    await insertShowing(tx, siteId, { id: showing, campaign, visitorId: number, visit: visit.visit, view: view.view, at, release: 1 });
    const next = shown.find((one) => one.campaign === campaign && one.at > at)?.at ?? Infinity;
    for (const answer of line.responses ?? []) {
      if (answer.outcome === 'shown' || answer.campaign !== campaign || answer.at < at || answer.at >= next) continue;
      await insertOutcome(tx, siteId, { showing, kind: answer.outcome, at: answer.at, isPast: true });
    }
  }
}
