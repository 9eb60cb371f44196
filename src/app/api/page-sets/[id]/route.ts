import { answer, bodyAs, Refused } from '@/server/http/api';
import { moveToTrash } from '@/server/db/trash';
import { pageSets } from '@/server/db/vocabulary';
import { poolOf } from '@/server/db/sharedPool';
import { changedPageSetSchema } from '@/server/http/requests';
import { usersInWords, usersOf } from '@/server/segments/users';

type Context = { params: Promise<{ id: string }> };

export async function PUT(request: Request, { params }: Context) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { id } = await params;
    const { name, patterns, revision } = await bodyAs(request, changedPageSetSchema);
    if (!(await pageSets.find(poolOf(siteId), siteId, id)))
      throw new Refused(404, 'notFound', 'This page set was deleted elsewhere. What you typed is still here.');
    return { revision: await pageSets.update(poolOf(siteId), siteId, { id, name, body: patterns, revision }) };
  });
}

/** Refused while a rule still names the page set; says which. */
export async function DELETE(request: Request, { params }: Context) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { id } = await params;
    const users = await usersOf(poolOf(siteId), siteId, 'sets', id);
    if (users.length) throw new Refused(409, 'pageSet.used', `It is used by ${usersInWords(users)}. Take it out there first.`);
    await moveToTrash(poolOf(siteId), 'page_set', siteId, id);
  });
}
