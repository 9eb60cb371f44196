import { changing } from '@/server/db/changing';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { moveToTrash } from '@/server/db/trash';
import { pageSets } from '@/server/db/vocabulary';
import { changedPageSetSchema } from '@/server/http/requests';
import { usersInWords, usersOf } from '@/server/segments/users';

type Context = { params: Promise<{ id: string }> };

export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const { name, patterns, revision } = await bodyAs(request, changedPageSetSchema);
    return changing(member, async (db, note) => {
      const before = await pageSets.find(db, siteId, id);
      if (!before) throw new Refused(404, 'notFound', 'This page set was deleted elsewhere. What you typed is still here.');
      const saved = await pageSets.update(db, siteId, { id, name, body: patterns, revision });
      await note({
        kind: 'page set',
        subject: id,
        name,
        did: 'changed',
        before: { name: before.name, patterns: before.patterns },
        after: { name, patterns },
      });
      return { revision: saved };
    });
  });
}

/** Refused while a rule still names the page set; says which. */
export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    return changing(member, async (db, note) => {
      const users = await usersOf(db, siteId, 'sets', id);
      if (users.length) throw new Refused(409, 'pageSet.used', `It is used by ${usersInWords(users)}. Take it out there first.`);
      const before = await pageSets.find(db, siteId, id);
      await moveToTrash(db, 'page_set', siteId, id);
      if (before)
        await note({
          kind: 'page set',
          subject: id,
          name: before.name,
          did: 'deleted',
          before: { name: before.name, patterns: before.patterns },
        });
    });
  });
}
