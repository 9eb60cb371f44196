import { poolOf } from '@/server/db/sharedPool';
import { findTalkPicture } from '@/server/db/talkPictures';
import { answerInBytes, Refused } from '@/server/http/api';

/** A picture that was sent in a conversation. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string; picture: string }> }) {
  return answerInBytes(request, async ({ siteId }) => {
    const { id: thread, picture: id } = await params;
    const found = await findTalkPicture(poolOf(siteId), siteId, { thread, id });
    if (!found) throw new Refused(404, 'notFound', 'That picture is not in this conversation');
    return { tag: id, parts: [found.bytes], type: 'image/webp' };
  });
}
