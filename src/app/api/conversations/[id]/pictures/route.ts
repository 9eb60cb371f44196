import { poolOf } from '@/server/db/sharedPool';
import { keepTalkPicture } from '@/server/db/talkPictures';
import { findThread } from '@/server/db/threads';
import { answer, bytesOf, Refused } from '@/server/http/api';
import { encodePicture, MOST_BYTES } from '@/server/pictures/encode';
import { refusedPicture } from '@/server/http/pictures';

/** Takes a picture as bytes, for an answer that is to show it. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { id: thread } = await params;
    const db = poolOf(siteId);
    const given = await bytesOf(request, MOST_BYTES);
    const visitor = (await findThread(db, siteId, thread))?.visitor;
    if (visitor === undefined) throw new Refused(404, 'notFound', 'This conversation is not here any more');
    const { width, height, bytes } = await encodePicture(given, { widths: [] }).catch(refusedPicture);
    return { id: await keepTalkPicture(db, siteId, { thread, visitor, width, height, bytes }), width, height };
  });
}
