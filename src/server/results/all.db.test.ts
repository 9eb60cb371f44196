import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { createSite } from '../db/sites';
import { newUuid } from '../testing/items';
import { annoyance, campaignsMet } from './all';

let database: FreshDatabase;
let siteId: number;
const AT = Date.parse('2026-11-10T10:00:00Z');
const run = (sql: string, ...values: unknown[]) => database.pool.query(sql, values);

beforeEach(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] })).id;
});
afterEach(() => database.drop());

let numbered = 0;
/** A visitor whose one visit lasted `leave` ms, and who was shown something at these instants, with what came of each. */
async function visitor(
  leave: number,
  showings: readonly (readonly [at: number, outcome?: string])[],
  { team = false } = {},
): Promise<void> {
  const id = ++numbered;
  const [visit, view] = [newUuid(), newUuid()];
  await run(
    `insert into visitor (site_id, id, browser_id, team, first_seen, last_seen) values ($1, $2, $3, $4, at_ms($5), at_ms($5))`,
    siteId,
    id,
    newUuid(),
    team,
    AT,
  );
  await run(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel) values ($1, $2, $3, at_ms($4), at_ms($4), 'direct')`,
    siteId,
    visit,
    id,
    AT,
  );
  await run(
    `insert into page_view (site_id, id, visit_id, visitor_id, at, url, leave_ms) values ($1, $2, $3, $4, at_ms($5), 'https://site.example/', $6)`,
    siteId,
    view,
    visit,
    id,
    AT,
    leave,
  );
  for (const [after, outcome] of showings) {
    const showing = newUuid();
    await run(
      `insert into showing (site_id, id, campaign_id, visitor_id, visit_id, view_id, at, release) values ($1, $2, 'camp', $3, $4, $5, at_ms($6), 1)`,
      siteId,
      showing,
      id,
      visit,
      view,
      AT + after,
    );
    if (outcome)
      await run(`insert into outcome (site_id, showing_id, kind, at) values ($1, $2, $3, at_ms($4))`, siteId, showing, outcome, AT + after);
  }
}

test('what messages do to visits: how many see one, end soon after it, and who closed three in a row', async () => {
  await visitor(60_000, []);
  await visitor(60_000, [[1000, 'clicked']]);
  // Ends five seconds after what was shown, and a millisecond later.
  await visitor(15_000, [[10_000, 'dismissed']]);
  await visitor(15_001, [[10_000]]);
  // Three in a row, and three with an answer between.
  await visitor(90_000, [
    [1000, 'dismissed'],
    [2000, 'dismissed'],
    [3000, 'dismissed'],
  ]);
  await visitor(90_000, [
    [1000, 'dismissed'],
    [2000, 'dismissed'],
    [3000, 'clicked'],
    [4000, 'dismissed'],
  ]);
  await visitor(2000, [[1000, 'dismissed']], { team: true });
  expect(await annoyance(database.pool, siteId, AT)).toEqual({ visits: 7, withMessage: 5, endedSoon: 1, shownTo: 5, dismissedThrice: 1 });
  expect(await annoyance(database.pool, siteId, AT + 1e9)).toEqual({
    visits: 0,
    withMessage: 0,
    endedSoon: 0,
    shownTo: 0,
    dismissedThrice: 0,
  });
});

test('campaigns that somebody met, those of a purpose together', async () => {
  await visitor(60_000, [[1000], [2000]]);
  await visitor(60_000, [[1000]]);
  await run(
    `insert into campaign (site_id, id, name, status, position, goal, rule, flow) select $1, id, id, 'live', 1, '{"kind":"form"}', '{}', '{"start":"a","messages":[]}' from unnest(array['camp', 'unmet']) as id`,
    siteId,
  );
  expect(await campaignsMet(database.pool, siteId, AT)).toEqual([{ id: 'camp', name: 'camp', status: 'live', purpose: null, met: 2 }]);
  expect(await campaignsMet(database.pool, siteId, AT + 5000)).toEqual([]);
});
