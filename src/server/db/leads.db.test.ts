import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { countLeads, eachLead, listLeads } from './leads';
import { createSite } from './sites';

let database: FreshDatabase;
let siteId: number;
const LEADS = 1_203;

beforeAll(async () => {
  database = await freshDatabase();
  const site = (key: string) => createSite(database.pool, { key, name: key, addresses: [`${key}.example`] });
  siteId = (await site('sitekey123')).id;
  const other = (await site('otherkey123')).id;
  // Several leads of one instant, so that a page ends among equals.
  for (const [id, count] of [
    [siteId, LEADS],
    [other, 7],
  ])
    await database.pool.query(
      `insert into lead (site_id, id, campaign_id, at, email, url)
       select $1, gen_random_uuid(), 'c', timestamptz '2026-11-26T10:00Z' - (n / 10) * interval '1 minute', 'reader' || n || '@post.example', 'https://refuge.example/'
         from generate_series(1, $2::int) n`,
      [id, count],
    );
});
afterAll(() => database.drop());

test('leads are counted in full, and in what a search finds', async () => {
  expect(await countLeads(database.pool, siteId)).toBe(LEADS);
  expect(await countLeads(database.pool, siteId, 'READER120')).toBe(5); // 120 and 1200 to 1203
});

test('the pages of leads hold each once, in order, whatever a page holds', async () => {
  const ids: string[] = [];
  const instants: number[] = [];
  for await (const { id, at } of eachLead(database.pool, siteId, 97)) {
    ids.push(id);
    instants.push(at.getTime());
  }
  expect(new Set(ids).size).toBe(LEADS);
  expect(ids).toHaveLength(LEADS);
  expect(instants).toEqual([...instants].sort((a, b) => b - a));
});

test('a page after a lead that is not there, or of another site, is empty', async () => {
  expect(await listLeads(database.pool, siteId, { after: "'; drop table lead; --" })).toEqual([]);
  const [foreign] = await listLeads(database.pool, siteId + 1, { limit: 1 });
  expect(foreign).toBeDefined();
  expect(await listLeads(database.pool, siteId, { after: foreign?.id })).toEqual([]);
});
