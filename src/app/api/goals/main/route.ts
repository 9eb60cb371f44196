import { changing } from '@/server/db/changing';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { setMainGoal } from '@/server/db/goals';
import { goals } from '@/server/db/vocabulary';
import { mainGoalSchema } from '@/server/http/requests';

/** The goal that the site is there for: Today counts it. */
export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { goal } = await bodyAs(request, mainGoalSchema);
    return changing(member, async (db, note) => {
      if (!(await setMainGoal(db, siteId, goal))) throw new Refused(404, 'notFound', 'That goal is not here any more');
      const named = goal === null ? undefined : await goals.find(db, siteId, goal);
      await note({
        kind: 'setup',
        subject: 'main goal',
        name: named ? `Main goal: ${named.name}` : 'Main goal',
        did: goal === null ? 'taken away' : 'chosen',
      });
    });
  });
}
