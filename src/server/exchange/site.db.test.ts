import sharp from 'sharp';
import type { SiteDocument } from '@/core/exchange/siteDocument';
import { siteDocumentSchema } from '@/core/exchange/siteDocument';
import { CAMPAIGNS } from '@/demo/world/campaigns';
import { GOALS, MAIN_GOAL } from '@/demo/world/goals';
import { PAGE_SETS, PLACES, SEGMENTS } from '@/demo/world/segments';
import { insertCampaign } from '../db/campaigns';
import { listPictures, keepPicture } from '../db/pictures';
import { withTransaction } from '../db/pool';
import { listPurposes, makePurpose, setPurpose } from '../db/purposes';
import { insertSegment } from '../db/segments';
import type { Site } from '../db/sites';
import { createSite, findSite } from '../db/sites';
import { goals, insertPageSet, insertPlace } from '../db/vocabulary';
import { setMainGoal } from '../db/goals';
import { encodePicture } from '../pictures/encode';
import { pictureUrl } from '../pictures/url';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { exportSite, importSite, NotBroughtIn } from './site';

let database: FreshDatabase;
let from: Site;
let to: Site;

const site = async (key: string, more: Partial<Site> = {}): Promise<Site> => {
  const made = await createSite(database.pool, { key, name: key, addresses: [`${key}.example`], ...more });
  return (await findSite(database.pool, made.id)) as Site;
};
const bring = async (where: Site, document: SiteDocument) =>
  (await withTransaction(database.pool, (tx) => importSite(tx, where, document))).came;

/** Without ids and the bytes of pictures, which are another site's own. */
function withoutIds(document: SiteDocument): unknown {
  const ids = new Map<string, string>();
  const nameEach = (list: readonly { id: string }[], what: string): void =>
    list.forEach(({ id }, index) => ids.set(id, `${what} ${index}`));
  nameEach(document.campaigns, 'campaign');
  const byName = <T extends { name: string }>(list: readonly T[]): T[] => [...list].sort((a, b) => (a.name < b.name ? -1 : 1));
  nameEach(byName(document.segments), 'segment');
  nameEach(byName(document.pageSets), 'set');
  nameEach(byName(document.places), 'place');
  nameEach(byName(document.purposes), 'purpose');
  nameEach(byName(document.goals ?? []), 'goal');
  let text = JSON.stringify({ ...document, name: '', pictures: document.pictures.length, segments: byName(document.segments) });
  for (const [id, plain] of ids) text = text.replaceAll(`"${id}"`, `"${plain}"`);
  return JSON.parse(text.replace(/\/i\/[a-z0-9]+\/[\w-]{22}\.webp/g, '/i/x.webp'));
}

beforeEach(async () => {
  database = await freshDatabase();
  from = await site('fromhere2345', { budget: { perVisit: 3 } });
  to = await site('tothere23456');
  const { pool } = database;
  for (const set of PAGE_SETS) await insertPageSet(pool, from.id, set);
  for (const place of PLACES) await insertPlace(pool, from.id, place);
  for (const { id, name, goal } of GOALS) await goals.insert(pool, from.id, { id, name, body: goal });
  await setMainGoal(pool, from.id, MAIN_GOAL);
  for (const segment of SEGMENTS) await insertSegment(pool, { siteId: from.id, ...segment });
  const bytes = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#205040' } })
    .png()
    .toBuffer();
  const picture = await encodePicture(bytes);
  await withTransaction(pool, (tx) => keepPicture(tx, from.id, { ...picture, name: 'hut.png' }));
  for (const [index, { id, document, status }] of CAMPAIGNS.entries()) {
    const [message] = document.flow.messages;
    const drawn =
      index === 0 && message && 'blocks' in message
        ? {
            ...document,
            flow: {
              ...document.flow,
              messages: [
                {
                  ...message,
                  blocks: [
                    ...message.blocks,
                    { kind: 'picture' as const, src: pictureUrl(from.key, picture.hash), width: 40, height: 30, alt: 'A hut' },
                  ],
                },
                ...document.flow.messages.slice(1),
              ],
            },
          }
        : document;
    await withTransaction(pool, (tx) => insertCampaign(tx, { siteId: from.id, id, document: drawn, status }));
  }
});
afterEach(() => database.drop());

test('a site goes out and comes into another whole, under ids of its own; its campaigns are drafts, and nothing of the first is named', async () => {
  const [first, second] = CAMPAIGNS;
  await withTransaction(database.pool, async (tx) => {
    await makePurpose(tx, from.id, { id: 'p', name: 'Hut letter', campaign: first?.id ?? '' });
    await setPurpose(tx, from.id, { campaign: second?.id ?? '', purpose: 'p' });
  });
  const out = await exportSite(database.pool, from);
  expect(siteDocumentSchema.safeParse(JSON.parse(JSON.stringify(out))).error?.issues).toBeUndefined();
  const came = await bring(to, out);
  expect(came).toEqual({
    campaigns: CAMPAIGNS.length,
    segments: SEGMENTS.length,
    pageSets: PAGE_SETS.length,
    places: PLACES.length,
    goals: GOALS.length,
    pictures: 1,
  });
  const again = await exportSite(database.pool, (await findSite(database.pool, to.id)) as Site);
  expect(withoutIds(again)).toEqual(withoutIds(out));
  for (const { id } of [...out.campaigns, ...out.segments, ...out.pageSets, ...out.places, ...out.purposes, ...(out.goals ?? [])])
    expect([id, JSON.stringify(again).includes(`"${id}"`)]).toEqual([id, false]);
  expect(JSON.stringify(again.campaigns)).not.toContain(`/i/${from.key}/`);
  expect(await listPictures(database.pool, to.id)).toHaveLength(1);
  const { rows } = await database.pool.query(`select distinct status from campaign where site_id = $1`, [to.id]);
  expect(rows).toEqual([{ status: 'draft' }]);
});

test('brought in twice, and into the site it came from, everything is there beside what was, with a number behind its name', async () => {
  const out = await exportSite(database.pool, from);
  await bring(from, out);
  await bring(from, out);
  const all = await exportSite(database.pool, from);
  expect([all.campaigns.length, all.segments.length]).toEqual([CAMPAIGNS.length * 3, SEGMENTS.length * 3]);
  const [name = ''] = CAMPAIGNS.map(({ document }) => document.name);
  expect(all.campaigns.map(({ document }) => document.name).filter((one) => one.startsWith(name))).toEqual([
    name,
    `${name} 2`,
    `${name} 3`,
  ]);
  // What was there is as it was, and the budget stays the site's own.
  expect(all.campaigns.slice(0, CAMPAIGNS.length)).toEqual(out.campaigns);
  expect((await findSite(database.pool, from.id))?.budget).toEqual({ perVisit: 3 });
});

test('what names something that does not come along, goes in a circle or has no picture is refused, and nothing of it is kept', async () => {
  const out = await exportSite(database.pool, from);
  const [segment] = out.segments;
  const circle = { ...out, segments: [{ ...segment, id: 'a', people: { kind: 'segment', id: 'a' } }] } as SiteDocument;
  const refused: readonly (readonly [bad: SiteDocument, says: RegExp])[] = [
    [{ ...out, segments: [] }, /met seg_\w+, expected the id of one of its segments/],
    [{ ...out, places: [] }, /expected the id of one of its places/],
    [{ ...circle, campaigns: [] }, /refers back to itself/],
    [{ ...out, pictures: [{ hash: 'x'.repeat(22), name: 'bad', webp: Buffer.from('no picture').toString('base64') }] }, /not a picture/],
  ];
  for (const [bad, says] of refused) {
    await expect(bring(to, bad)).rejects.toThrow(says);
    expect((await exportSite(database.pool, to)).campaigns).toEqual([]);
  }
  await expect(bring(to, { ...out, segments: [] })).rejects.toThrow(NotBroughtIn);
  expect(await listPurposes(database.pool, to.id)).toEqual([]);
});

test('one campaign goes to another site with what it names, and with nothing else', async () => {
  const whole = await exportSite(database.pool, from);
  const [campaign] = whole.campaigns;
  if (!campaign) throw new Error('There is none');
  const out = await exportSite(database.pool, from, { only: campaign.id });
  expect(out.campaigns).toEqual([{ id: campaign.id, document: campaign.document }]);
  expect([out.brand, out.budget, out.purposes]).toEqual([{}, {}, []]);
  const named = JSON.stringify([campaign.document, out.segments]);
  for (const kind of ['segments', 'pageSets', 'places'] as const) {
    expect(out[kind].every(({ id }) => named.includes(id))).toBe(true);
    expect(whole[kind].filter(({ id }) => named.includes(id)).length).toBe(out[kind].length);
  }
  await withTransaction(database.pool, (tx) => importSite(tx, to, out));
  const there = await exportSite(database.pool, (await findSite(database.pool, to.id)) as Site);
  expect(there.campaigns.map(({ document }) => document.name)).toEqual([campaign.document.name]);
  expect([there.segments.length, there.pageSets.length, there.pictures.length]).toEqual([
    out.segments.length,
    out.pageSets.length,
    out.pictures.length,
  ]);
  await expect(exportSite(database.pool, from, { only: 'camp_none' })).rejects.toThrow('deleted elsewhere');
});
