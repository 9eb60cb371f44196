import type { ConnectionBody } from '@/core/connections/kinds';
import { changing } from '@/server/db/changing';
import { boundTo } from '@/server/connections/deliver';
import { encrypt } from '@/server/connections/secrets';
import { deleteConnection, findConnection, updateConnection } from '@/server/db/connections';
import { listKept } from '@/server/db/keptSegments';
import { answer, bodyAs, ownerAllows, Refused } from '@/server/http/api';
import { changedConnectionSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const { name, revision, kind, settings, secret } = await bodyAs(request, changedConnectionSchema);
    return changing(member, async (db, note) => {
      const before = await findConnection(db, siteId, id);
      if (!before) throw new Refused(404, 'notFound', 'This connection was deleted elsewhere. What you typed is still here.');
      ownerAllows(member, settings, before.settings);
      const saved = await updateConnection(db, siteId, {
        id,
        name,
        body: { kind, settings } as ConnectionBody,
        secret: secret ? encrypt(secret, boundTo(siteId, id)) : undefined,
        revision,
      });
      await note({
        kind: 'connection',
        subject: id,
        name,
        did: secret ? 'given another secret' : 'changed',
        before: { name: before.name, settings: before.settings },
        after: { name, settings },
      });
      return { revision: saved };
    });
  });
}

/** With what waits for it; leads themselves stay. */
export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    return changing(member, async (db, note) => {
      const before = await findConnection(db, siteId, id);
      const keeps = (await listKept(db, siteId, { connection: id })).map(({ segment, segmentName }) => segmentName ?? segment);
      // Whoever is there would be left there, and nobody could take them out any more.
      if (keeps.length > 0)
        throw new Refused(
          409,
          'connection.keeps',
          `It keeps ${keeps.map((name) => `“${name}”`).join(', ')} in step: end that first, so that everybody is taken out there.`,
        );
      if (!before || !(await deleteConnection(db, siteId, id))) throw new Refused(404, 'notFound', 'This connection is not here any more');
      await note({ kind: 'connection', subject: id, name: before.name, did: 'deleted' });
    });
  });
}
