import { kindTakes } from '@/core/connections/kinds';
import { changing } from '@/server/db/changing';
import { findConnection, listConnections } from '@/server/db/connections';
import { newId } from '@/server/db/ids';
import { compareNow, endKept, keepSegment, listKept } from '@/server/db/keptSegments';
import { findSegment } from '@/server/db/segments';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { keptSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

/** Where a segment's people are kept, too, how far that has got, and where they might be. */
export async function GET(request: Request, { params }: Context) {
  return answer(request, async ({ siteId }) => {
    const db = poolOf(siteId);
    const [kept, all] = await Promise.all([listKept(db, siteId, { segment: (await params).id }), listConnections(db, siteId)]);
    return { kept, all: all.filter(({ kind }) => kindTakes(kind, 'segments')).map(({ id, name, kind }) => ({ id, name, kind })) };
  });
}

/** From now on in step with a connection; or everybody is taken out there, and it is over. */
export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { connection: to, is } = await bodyAs(request, keptSchema);
    const { id: segment } = await params;
    return changing(member, async (db, note) => {
      const [found, connection] = [await findSegment(db, siteId, segment), await findConnection(db, siteId, to)];
      if (!found || !connection) throw new Refused(404, 'notFound', 'This segment or connection is not here any more');
      if (is && !kindTakes(connection.kind, 'segments'))
        throw new Refused(400, 'connection.takes', `connection: met ${connection.name}, expected one that keeps people`);
      if (is) await keepSegment(db, siteId, { id: newId('kept'), segment, connection: to });
      else await endKept(db, siteId, { segment, connection: to });
      await note({
        kind: 'segment',
        subject: segment,
        name: found.name,
        did: is ? `kept in step with ${connection.name}` : `no longer kept in step with ${connection.name}`,
      });
    });
  });
}

/** Compared at once. */
export async function POST(request: Request, { params }: Context) {
  return answer(request, async ({ siteId }) => ({
    compared: await compareNow(poolOf(siteId), siteId, { segment: (await params).id }),
  }));
}
