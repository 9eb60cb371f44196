import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs, Refused } from '@/server/http/api';
import type { EditedKind } from '@/server/db/trash';
import { bringBack } from '@/server/db/trash';
import { NotExactlyOneRow, one } from '@/server/db/queryable';
import { poolOf } from '@/server/db/sharedPool';
import { binSchema } from '@/server/http/requests';

const LOGGED = { segment: 'segment', campaign: 'campaign', place: 'place', page_set: 'page set', goal: 'goal' } as const;

/** Brings back what was deleted, as it was. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { kind, id } = await bodyAs(request, binSchema);
    await bringBack(poolOf(siteId), kind, siteId, id).catch((cause: unknown) => {
      if (cause instanceof NotExactlyOneRow)
        throw new Refused(404, 'notFound', 'It is no longer kept: what is deleted is kept for thirty days, and brought back once');
      throw cause;
    });
    await noteChange(poolOf(siteId), siteId, member, {
      kind: LOGGED[kind],
      subject: id,
      name: await nameOf(siteId, kind, id),
      did: 'brought back',
    });
  });
}

const nameOf = async (siteId: number, kind: EditedKind, id: string): Promise<string> =>
  (await one<{ name: string }>(poolOf(siteId), `select name from ${kind} where site_id = $1 and id = $2`, [siteId, id])).name;
