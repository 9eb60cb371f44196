import { changing } from '@/server/db/changing';
import { leaveTeam } from '@/server/db/team';
import { answer, Refused } from '@/server/http/api';

export async function DELETE(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const number = Number(id);
    return changing(member, async (db, note) => {
      if (!Number.isInteger(number) || number < 1 || number > 2 ** 31 - 1 || !(await leaveTeam(db, siteId, number)))
        throw new Refused(404, 'notFound', `No browser of the team has the number ${id.slice(0, 20)}`);
      await note({ kind: 'setup', subject: `team ${number}`, name: 'Our browsers', did: 'changed' });
    });
  });
}
