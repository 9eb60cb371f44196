import { changing } from '@/server/db/changing';
import { changeRole, LastOwner, leaveSite } from '@/server/db/members';
import { withTransaction } from '@/server/db/pool';
import { pool, tellMembers } from '@/server/db/sharedPool';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { roleSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

const numberOf = (id: string): number => {
  const number = Number(id);
  if (!Number.isInteger(number) || number < 1 || number > 2 ** 31 - 1) throw gone();
  return number;
};
const gone = (): Refused => new Refused(404, 'notFound', 'They are not of this site any more');
const lastOwner = (cause: unknown): never => {
  throw cause instanceof LastOwner ? new Refused(409, 'owner.last', 'A site has an owner: make somebody else one first') : cause;
};

/** Another role; what they have open goes on with it, or ends. The people of a site are at the home server, its log at the site's. */
export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const [id, { role }] = [numberOf((await params).id), await bodyAs(request, roleSchema)];
    await withTransaction(pool(), async (home) => {
      const name = await changeRole(home, siteId, id, role).catch(lastOwner);
      if (name === undefined) throw gone();
      await changing(member, (_, note) => note({ kind: 'setup', subject: `member ${id}`, name: `${name} as ${role}`, did: 'changed' }));
    });
    await tellMembers(siteId);
  });
}

/** They are of this site no more; their account stays. */
export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const id = numberOf((await params).id);
    await withTransaction(pool(), async (home) => {
      const name = await leaveSite(home, siteId, id).catch(lastOwner);
      if (name === undefined) throw gone();
      await changing(member, (_, note) => note({ kind: 'setup', subject: `member ${id}`, name, did: 'deleted' }));
    });
    await tellMembers(siteId);
  });
}
