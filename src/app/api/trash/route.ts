import { changing } from '@/server/db/changing';
import { answer, bodyAs, Refused } from '@/server/http/api';
import type { EditedKind } from '@/server/db/trash';
import { bringBack } from '@/server/db/trash';
import type { Queryable } from '@/server/db/queryable';
import { NotExactlyOneRow, one } from '@/server/db/queryable';
import { binSchema } from '@/server/http/requests';

const LOGGED = { segment: 'segment', campaign: 'campaign', place: 'place', page_set: 'page set', goal: 'goal' } as const;

/** Brings back what was deleted, as it was. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { kind, id } = await bodyAs(request, binSchema);
    return changing(member, async (db, note) => {
      await bringBack(db, kind, siteId, id).catch((cause: unknown) => {
        if (cause instanceof NotExactlyOneRow)
          throw new Refused(404, 'notFound', 'It is no longer kept: what is deleted is kept for thirty days, and brought back once');
        throw cause;
      });
      await note({
        kind: LOGGED[kind],
        subject: id,
        name: await nameOf(db, siteId, { kind, id }),
        did: 'brought back',
      });
    });
  });
}

const nameOf = async (db: Queryable, siteId: number, { kind, id }: { kind: EditedKind; id: string }): Promise<string> =>
  (await one<{ name: string }>(db, `select name from ${kind} where site_id = $1 and id = $2`, [siteId, id])).name;
