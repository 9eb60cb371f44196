import { changing } from '@/server/db/changing';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { moveToTrash } from '@/server/db/trash';
import { places } from '@/server/db/vocabulary';
import { changedPlaceSchema } from '@/server/http/requests';
import { usersInWords, usersOf } from '@/server/segments/users';

type Context = { params: Promise<{ id: string }> };

export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const { name, shape, revision } = await bodyAs(request, changedPlaceSchema);
    return changing(member, async (db, note) => {
      const before = await places.find(db, siteId, id);
      if (!before) throw new Refused(404, 'notFound', 'This place was deleted elsewhere. What you drew is still here.');
      const saved = await places.update(db, siteId, { id, name, body: shape, revision });
      await note({
        kind: 'place',
        subject: id,
        name,
        did: 'changed',
        before: { name: before.name, shape: before.shape },
        after: { name, shape },
      });
      return { revision: saved };
    });
  });
}

/** Refused while a rule still names the place; says which. */
export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    return changing(member, async (db, note) => {
      const users = await usersOf(db, siteId, 'places', id);
      if (users.length) throw new Refused(409, 'place.used', `It is used by ${usersInWords(users)}. Take it out there first.`);
      const before = await places.find(db, siteId, id);
      await moveToTrash(db, 'place', siteId, id);
      if (before)
        await note({
          kind: 'place',
          subject: id,
          name: before.name,
          did: 'deleted',
          before: { name: before.name, shape: before.shape },
        });
    });
  });
}
