import sharp from 'sharp';
import { findCampaign, insertCampaign } from '../db/campaigns';
import { findPicture, findPictureSizes, keepPicture, listPictures } from '../db/pictures';
import { withTransaction } from '../db/pool';
import { NotExactlyOneRow } from '../db/queryable';
import { createSite, findSite, setBrand } from '../db/sites';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { encodePicture } from './encode';
import { replacePicture } from './replace';
import { pictureUrl } from './url';

let database: FreshDatabase;
let siteId: number;
const KEY = 'sitekey123';

async function keep(name: string, width: number, height: number): Promise<string> {
  const made = await encodePicture(
    await sharp({ create: { width, height, channels: 3, background: `#${name.length}${name.length}4a43` } })
      .png()
      .toBuffer(),
  );
  await withTransaction(database.pool, (tx) => keepPicture(tx, siteId, { ...made, name }));
  return made.hash;
}

beforeEach(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: KEY, name: 'Site', addresses: ['site.example'] })).id;
});
afterEach(() => database.drop());

test('a picture is replaced in every campaign that has it and in the brand, and nowhere else', async () => {
  const [old, next] = [await keep('old', 800, 400), await keep('newer', 1000, 250)];
  const picture = (hash: string) => ({ kind: 'picture' as const, src: pictureUrl(KEY, hash), alt: 'A hut', width: 400, height: 200 });
  const insert = (id: string, hash: string) =>
    withTransaction(database.pool, (tx) =>
      insertCampaign(tx, {
        siteId,
        id,
        document: {
          name: id,
          goal: { kind: 'form' },
          rule: {},
          flow: {
            start: 'a',
            messages: [{ id: 'a', format: 'popup', blocks: [picture(hash)], closes: { button: true, dim: true, escape: true } }],
          },
        },
      }),
    );
  await insert('has', old);
  await insert('other', next);
  const { src, width, height, alt } = picture(old);
  await setBrand(database.pool, siteId, { was: {}, brand: { logo: { src, width, height, alt } } });
  expect(await withTransaction(database.pool, (tx) => replacePicture(tx, siteId, { from: old, to: next }))).toBe(1);
  expect((await findCampaign(database.pool, siteId, 'has'))?.flow.messages[0]).toMatchObject({
    blocks: [{ src: pictureUrl(KEY, next), width: 400, height: 100, alt: 'A hut' }],
  });
  expect((await findCampaign(database.pool, siteId, 'has'))?.revision).toBe(2);
  expect((await findCampaign(database.pool, siteId, 'other'))?.revision).toBe(1);
  expect((await findSite(database.pool, siteId))?.brand.logo).toMatchObject({ src: pictureUrl(KEY, next), height: 100 });
  // Releases that are out go on showing the old one.
  expect(await findPicture(database.pool, siteId, old)).toBeDefined();
  await expect(
    withTransaction(database.pool, (tx) => replacePicture(tx, siteId, { from: next, to: 'A'.repeat(22) })),
  ).rejects.toBeInstanceOf(NotExactlyOneRow);
});

test('smaller versions are kept and served, and not listed; one that is brought in itself is', async () => {
  const hash = await keep('wide', 1600, 400);
  expect((await listPictures(database.pool, siteId)).map(({ name, width }) => [name, width])).toEqual([['wide', 1600]]);
  const sizes = (await findPictureSizes(database.pool, siteId, [hash])).get(hash) ?? [];
  expect(sizes.map(({ width }) => width)).toEqual([320, 640, 1120]);
  const small = await findPicture(database.pool, siteId, sizes[0]?.hash ?? '');
  expect((await sharp(small).metadata()).width).toBe(320);
  expect(await findPictureSizes(database.pool, siteId, [])).toEqual(new Map());
});
