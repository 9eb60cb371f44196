import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { moveToTrash } from '@/server/db/trash';
import { pageSets } from '@/server/db/vocabulary';
import { poolOf } from '@/server/db/sharedPool';
import { changedPageSetSchema } from '@/server/http/requests';
import { usersInWords, usersOf } from '@/server/segments/users';

type Context = { params: Promise<{ id: string }> };

export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const { name, patterns, revision } = await bodyAs(request, changedPageSetSchema);
    const before = await pageSets.find(poolOf(siteId), siteId, id);
    if (!before) throw new Refused(404, 'notFound', 'This page set was deleted elsewhere. What you typed is still here.');
    const saved = await pageSets.update(poolOf(siteId), siteId, { id, name, body: patterns, revision });
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'page set',
      subject: id,
      name,
      did: 'changed',
      before: { name: before.name, patterns: before.patterns },
      after: { name, patterns },
    });
    return { revision: saved };
  });
}

/** Refused while a rule still names the page set; says which. */
export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const users = await usersOf(poolOf(siteId), siteId, 'sets', id);
    if (users.length) throw new Refused(409, 'pageSet.used', `It is used by ${usersInWords(users)}. Take it out there first.`);
    const before = await pageSets.find(poolOf(siteId), siteId, id);
    await moveToTrash(poolOf(siteId), 'page_set', siteId, id);
    if (before)
      await noteChange(poolOf(siteId), siteId, member, {
        kind: 'page set',
        subject: id,
        name: before.name,
        did: 'deleted',
        before: { name: before.name, patterns: before.patterns },
      });
  });
}
