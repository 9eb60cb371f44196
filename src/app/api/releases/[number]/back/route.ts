import { changing } from '@/server/db/changing';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { goBackSchema } from '@/server/http/requests';
import { goBack } from '@/server/releases/publish';

/** Publishes an earlier release once more, as the next one. */
export async function POST(request: Request, { params }: { params: Promise<{ number: string }> }) {
  return answer(request, async (member) => {
    const { siteId, id } = member;
    const { note } = await bodyAs(request, goBackSchema);
    const to = Number((await params).number);
    if (!Number.isInteger(to) || to < 1 || to > 2_147_483_647) throw new Refused(404, 'notFound', 'No release has that number');
    return changing(member, async (db, log) => {
      const number = await goBack(db, { siteId, memberId: id, to, note });
      await log({
        kind: 'release',
        subject: String(number),
        name: `Release ${number}`,
        did: `published: back to ${to}`,
      });
      return { number };
    });
  });
}
