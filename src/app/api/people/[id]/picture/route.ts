import { setColleaguePicture } from '@/server/db/colleagues';
import { keepPicture } from '@/server/db/pictures';
import { withTransaction } from '@/server/db/pool';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bytesOf, Refused } from '@/server/http/api';
import { ofThemselves } from '@/server/http/people';
import { refusedPicture } from '@/server/http/pictures';
import { encodePicture, MOST_BYTES } from '@/server/pictures/encode';

type Context = { params: Promise<{ id: string }> };

/** What visitors see somebody by: takes a picture as bytes. */
export async function POST(request: Request, { params }: Context) {
  return answer(request, async (me) => {
    const member = ofThemselves(me, (await params).id);
    const made = await encodePicture(await bytesOf(request, MOST_BYTES)).catch(refusedPicture);
    const isTheirs = await withTransaction(poolOf(me.siteId), async (tx) => {
      await keepPicture(tx, me.siteId, { ...made, name: 'A person of the team' });
      return setColleaguePicture(tx, me.siteId, { member, picture: made.hash });
    });
    if (!isTheirs) throw new Refused(404, 'notFound', 'They are not of this site any more');
    return { hash: made.hash };
  });
}

export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (me) => {
    const member = ofThemselves(me, (await params).id);
    if (!(await setColleaguePicture(poolOf(me.siteId), me.siteId, { member, picture: null })))
      throw new Refused(404, 'notFound', 'They are not of this site any more');
  });
}
