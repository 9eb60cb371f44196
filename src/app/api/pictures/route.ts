import { answer, bytesOf, Refused } from '@/server/http/api';
import { countPictures, keepPicture, listPictures } from '@/server/db/pictures';
import { withTransaction } from '@/server/db/pool';
import { findSite } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { refusedPicture } from '@/server/http/pictures';
import { encodePicture, MOST_BYTES } from '@/server/pictures/encode';
import { pictureUrl } from '@/server/pictures/url';

const MOST_PICTURES = 2000;

/** Pictures of the site, newest first, with the addresses that they are served under. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => {
    const key = (await findSite(poolOf(siteId), siteId))?.key ?? '';
    return (await listPictures(poolOf(siteId), siteId)).map((picture) => ({ ...picture, url: pictureUrl(key, picture.hash) }));
  });
}

/** Takes a picture as bytes; `name` in the address is how the file was called. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const name = (new URL(request.url).searchParams.get('name') ?? '').replace(/[\p{Cc}\p{Cs}]/gu, '').slice(0, 200) || 'picture';
    const given = await bytesOf(request, MOST_BYTES);
    const db = poolOf(siteId);
    if ((await countPictures(db, siteId)) >= MOST_PICTURES)
      throw new Refused(409, 'pictures.tooMany', `A site has at most ${MOST_PICTURES} pictures`);
    const made = await encodePicture(given).catch(refusedPicture);
    await withTransaction(db, (tx) => keepPicture(tx, siteId, { ...made, name }));
    const key = (await findSite(db, siteId))?.key ?? '';
    return { hash: made.hash, name, width: made.width, height: made.height, size: made.bytes.length, url: pictureUrl(key, made.hash) };
  });
}
