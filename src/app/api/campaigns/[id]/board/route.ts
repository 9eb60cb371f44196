import { boardOf, setBoard } from '@/server/db/campaigns';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { boardSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

/** How far messages were moved by hand from where they are laid out. */
export async function GET(request: Request, { params }: Context) {
  return answer(request, async ({ siteId }) => {
    const moved = await boardOf(poolOf(siteId), siteId, (await params).id);
    if (!moved) throw new Refused(404, 'notFound', 'This campaign is not here any more');
    return { moved };
  });
}

/** The last one who moves something is kept; nothing of it is published. */
export async function PUT(request: Request, { params }: Context) {
  return answer(request, async ({ siteId }) => {
    const { moved } = await bodyAs(request, boardSchema);
    if (!(await setBoard(poolOf(siteId), siteId, (await params).id, moved)))
      throw new Refused(404, 'notFound', 'This campaign is not here any more');
  });
}
