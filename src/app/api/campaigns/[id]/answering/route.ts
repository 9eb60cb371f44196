import { answeringOf, listColleagues, setAnswering } from '@/server/db/colleagues';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { answeringToSaveSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

/** Who gets a campaign's conversations, and who might. */
export async function GET(request: Request, { params }: Context) {
  return answer(request, async ({ siteId }) => {
    const db = poolOf(siteId);
    return {
      answering: await answeringOf(db, siteId, (await params).id),
      people: (await listColleagues(db, siteId)).filter(({ answers }) => answers).map(({ member, name }) => ({ member, name })),
    };
  });
}

/** From the next conversation on, without a release. */
export async function PUT(request: Request, { params }: Context) {
  return answer(request, async ({ siteId }) => {
    const { answering } = await bodyAs(request, answeringToSaveSchema);
    if (!(await setAnswering(poolOf(siteId), siteId, (await params).id, answering)))
      throw new Refused(404, 'notFound', 'This campaign is not here any more');
  });
}
