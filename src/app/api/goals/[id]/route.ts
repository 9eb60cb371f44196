import { changing } from '@/server/db/changing';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { leaveGoal, saveGoal } from '@/server/db/goals';
import { moveToTrash } from '@/server/db/trash';
import { goals } from '@/server/db/vocabulary';
import { changedGoalSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

/** Every campaign that counts it has it as it is then; visitors get it with the next release. */
export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const { name, goal, revision } = await bodyAs(request, changedGoalSchema);
    return changing(member, async (db, note) => {
      const before = await goals.find(db, siteId, id);
      if (!before) throw new Refused(404, 'notFound', 'This goal was deleted elsewhere. What you typed is still here.');
      const saved = await saveGoal(db, siteId, { id, name, goal, revision });
      await note({
        kind: 'goal',
        subject: id,
        name,
        did: 'changed',
        before: { name: before.name, goal: before.goal },
        after: { name, goal },
      });
      return { revision: saved };
    });
  });
}

/** Whoever counts it keeps it as their own. */
export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    return changing(member, async (db, note) => {
      const before = await goals.find(db, siteId, id);
      await leaveGoal(db, siteId, id);
      await moveToTrash(db, 'goal', siteId, id);
      if (before)
        await note({
          kind: 'goal',
          subject: id,
          name: before.name,
          did: 'deleted',
          before: { name: before.name, goal: before.goal },
        });
    });
  });
}
