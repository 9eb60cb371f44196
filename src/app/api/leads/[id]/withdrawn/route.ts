import { changing } from '@/server/db/changing';
import { withdrawConsent } from '@/server/db/leads';
import { answer, Refused } from '@/server/http/api';

/** Whoever sent the lead took their consent back: they are taken out wherever their leads were sent. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    return changing(member, async (db, note) => {
      if (!(await withdrawConsent(db, siteId, id)))
        throw new Refused(404, 'notFound', 'That lead is not here any more, or its consent was taken back before.');
      await note({ kind: 'setup', subject: 'leads', name: 'One person’s consent', did: 'taken back' });
    });
  });
}
