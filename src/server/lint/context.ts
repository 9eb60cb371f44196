import { LRUCache } from 'lru-cache';
import type { LintContext } from '@/core/rules/lint';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { findSite } from '../db/sites';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { accuracyOf, listSpots } from '../map/visitors';
import { segmentBodies } from '../segments/bodies';

const DAYS = 7;
const VIEWS = 5000;
const KEPT_MS = 60_000;
const SITES = 50;

/** Everything on record that lint can reason with, at an instant (UTC ms). */
export async function loadLintContext(db: Queryable, siteId: number, now: number): Promise<LintContext> {
  const [site, segments, sets, places, observed] = await Promise.all([
    findSite(db, siteId),
    segmentBodies(db, siteId),
    loadPageSets(db, siteId),
    loadPlaces(db, siteId),
    observedLately(db, siteId, now),
  ]);
  const { accuracy, selectors } = observed;
  return {
    now,
    segments,
    sets,
    places,
    budget: site?.budget ?? {},
    ...(accuracy === undefined ? {} : { locationAccuracy: accuracy }),
    matchesOf: (selector) => selectors.get(selector),
  };
}

interface Observed {
  readonly accuracy: number | undefined;
  /** On how many page views each selector that was looked for matched, or was clicked on. Others were never looked for. */
  readonly selectors: ReadonlyMap<string, number>;
}

const kept = new WeakMap<Queryable, LRUCache<number, Observed, number>>();

/** Looked up once a minute at most, and in the background once it was: an editor asks at every pause. `now` is UTC ms. */
async function observedLately(db: Queryable, siteId: number, now: number): Promise<Observed> {
  let sites = kept.get(db);
  if (!sites) {
    sites = new LRUCache({
      max: SITES,
      ttl: KEPT_MS,
      allowStale: true,
      fetchMethod: (site, _old, { context }) => observe(db, site, context),
    });
    kept.set(db, sites);
  }
  return (await sites.fetch(siteId, { context: now })) ?? observe(db, siteId, now);
}

/** On how many of the latest page views each selector was seen or clicked on; 0 where it was looked for in vain. `now` is UTC ms. */
export const selectorsOnRecord = async (db: Queryable, siteId: number, now: number): Promise<ReadonlyMap<string, number>> =>
  (await observedLately(db, siteId, now)).selectors;

async function observe(db: Queryable, siteId: number, now: number): Promise<Observed> {
  const [spots, looked, met, prints] = await Promise.all([
    listSpots(db, siteId),
    many<{ selector: string }>(
      db,
      `select distinct unnest(watched) as selector
         from (select watched from page_view where site_id = $1 and at > at_ms($2) - make_interval(days => $3) and watched is not null
                order by at desc limit ${VIEWS}) as views`,
      [siteId, now, DAYS],
    ),
    many<{ selector: string; views: number }>(
      db,
      `with lately as (select id from page_view where site_id = $1 and at > at_ms($2) - make_interval(days => $3) order by at desc limit ${VIEWS}),
            told as (select view_id, jsonb_array_elements(signals) as one from signal_piece join lately on lately.id = view_id where site_id = $1)
       select selector, count(distinct view_id)::int as views
         from (select view_id, one ->> 'selector' as selector from told where one ->> 's' = 'seen'
               union all select view_id, jsonb_array_elements_text(one -> 'on') from told where one ->> 's' = 'click') as met
        group by selector`,
      [siteId, now, DAYS],
    ),
    // Clicks are told with a short print of the element, whether a rule asks or not: "button#book-now.primary".
    many<{ print: string; views: number }>(
      db,
      `with lately as (select id from page_view where site_id = $1 and at > at_ms($2) - make_interval(days => $3) order by at desc limit ${VIEWS}),
            told as (select view_id, jsonb_array_elements(signals) as one from signal_piece join lately on lately.id = view_id where site_id = $1)
       select one ->> 'what' as print, count(distinct view_id)::int as views from told where one ->> 's' = 'click' and one ->> 'what' is not null
        group by 1 order by 2 desc limit 500`,
      [siteId, now, DAYS],
    ),
  ]);
  const selectors = new Map<string, number>(looked.map(({ selector }) => [selector, 0]));
  for (const { selector, views } of met) selectors.set(selector, views);
  for (const { print, views } of prints)
    for (const part of print.match(/[.#][\w-]+/g) ?? []) selectors.set(part, (selectors.get(part) ?? 0) + views);
  return { accuracy: accuracyOf(spots) ?? undefined, selectors };
}
