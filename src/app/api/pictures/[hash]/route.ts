import { answer, bodyAs } from '@/server/http/api';
import { withTransaction } from '@/server/db/pool';
import { poolOf } from '@/server/db/sharedPool';
import { replacedPictureSchema } from '@/server/http/requests';
import { replacePicture } from '@/server/pictures/replace';

/** Puts another picture in its place, everywhere. */
export async function POST(request: Request, { params }: { params: Promise<{ hash: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { by } = await bodyAs(request, replacedPictureSchema);
    const { hash } = await params;
    return { campaigns: await withTransaction(poolOf(siteId), (tx) => replacePicture(tx, siteId, { from: hash, to: by })) };
  });
}
