import { z } from 'zod';
import { countPictures, keepPicture, listPictures } from '../db/pictures';
import { withTransaction } from '../db/pool';
import { poolOf } from '../db/sharedPool';
import { findSite } from '../db/sites';
import { bytesOf } from '../http/api';
import { refusedPicture } from '../http/pictures';
import { Refused } from '../http/refused';
import { replacedPictureSchema } from '../http/requests';
import { MOST_BYTES } from '../pictures/refused';
import { takePicture } from '../pictures/take';
import { replacePicture } from '../pictures/replace';
import { pictureUrl } from '../pictures/url';
import { endpoint } from './endpoint';

const MOST_PICTURES = 2000;

export const picturesEndpoints = [
  endpoint({
    method: 'POST',
    path: '/api/pictures/{hash}',
    right: 'edit',
    says: 'Puts another picture in its place, in every campaign and in the brand',
    body: replacedPictureSchema,
    answers: 'How many campaigns were changed; visitors see it with the next release',
    run: async ({ member: { siteId }, body: { by }, params: { hash } }) => {
      return { campaigns: await withTransaction(poolOf(siteId), (tx) => replacePicture(tx, siteId, { from: hash, to: by })) };
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/pictures',
    right: 'look',
    says: 'Pictures of the site, newest first',
    answers: 'A list of pictures with their size and the address they are served under',
    run: async ({ member: { siteId } }) => {
      const key = (await findSite(poolOf(siteId), siteId))?.key ?? '';
      return (await listPictures(poolOf(siteId), siteId)).map((picture) => ({ ...picture, url: pictureUrl(key, picture.hash) }));
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/pictures',
    right: 'edit',
    says: 'A picture, as the bytes of a JPEG, PNG, WebP, GIF, AVIF or TIFF file of at most 5 MB; it is encoded anew',
    query: z.object({ name: z.string().optional() }),
    answers: 'The picture as it is kept, with its address',
    run: async ({ member: { siteId }, query, request }) => {
      const name = (query.name ?? '').replace(/[\p{Cc}\p{Cs}]/gu, '').slice(0, 200) || 'picture';
      const given = await bytesOf(request, MOST_BYTES);
      const db = poolOf(siteId);
      if ((await countPictures(db, siteId)) >= MOST_PICTURES)
        throw new Refused(409, 'pictures.tooMany', `A site has at most ${MOST_PICTURES} pictures`);
      const made = await takePicture(given).catch(refusedPicture);
      await withTransaction(db, (tx) => keepPicture(tx, siteId, { ...made, name }));
      const key = (await findSite(db, siteId))?.key ?? '';
      return { hash: made.hash, name, width: made.width, height: made.height, size: made.bytes.length, url: pictureUrl(key, made.hash) };
    },
  }),
] as const;
