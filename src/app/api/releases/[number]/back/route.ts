import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { poolOf } from '@/server/db/sharedPool';
import { goBackSchema } from '@/server/http/requests';
import { goBack } from '@/server/releases/publish';

/** Publishes an earlier release once more, as the next one. */
export async function POST(request: Request, { params }: { params: Promise<{ number: string }> }) {
  return answer(request, async (member) => {
    const { siteId, id } = member;
    const { note } = await bodyAs(request, goBackSchema);
    const to = Number((await params).number);
    if (!Number.isInteger(to) || to < 1 || to > 2_147_483_647) throw new Refused(404, 'notFound', 'No release has that number');
    const number = await goBack(poolOf(siteId), { siteId, memberId: id, to, note });
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'release',
      subject: String(number),
      name: `Release ${number}`,
      did: `published: back to ${to}`,
    });
    return { number };
  });
}
