import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { leaveGoal, saveGoal } from '@/server/db/goals';
import { withTransaction } from '@/server/db/pool';
import { moveToTrash } from '@/server/db/trash';
import { goals } from '@/server/db/vocabulary';
import { poolOf } from '@/server/db/sharedPool';
import { changedGoalSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

/** Every campaign that counts it has it as it is then; visitors get it with the next release. */
export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const { name, goal, revision } = await bodyAs(request, changedGoalSchema);
    const before = await goals.find(poolOf(siteId), siteId, id);
    if (!before) throw new Refused(404, 'notFound', 'This goal was deleted elsewhere. What you typed is still here.');
    const saved = await withTransaction(poolOf(siteId), (tx) => saveGoal(tx, siteId, { id, name, goal, revision }));
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'goal',
      subject: id,
      name,
      did: 'changed',
      before: { name: before.name, goal: before.goal },
      after: { name, goal },
    });
    return { revision: saved };
  });
}

/** Whoever counts it keeps it as their own. */
export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const before = await goals.find(poolOf(siteId), siteId, id);
    await withTransaction(poolOf(siteId), async (tx) => {
      await leaveGoal(tx, siteId, id);
      await moveToTrash(tx, 'goal', siteId, id);
    });
    if (before)
      await noteChange(poolOf(siteId), siteId, member, {
        kind: 'goal',
        subject: id,
        name: before.name,
        did: 'deleted',
        before: { name: before.name, goal: before.goal },
      });
  });
}
