import { changing } from '@/server/db/changing';
import { saveColleague } from '@/server/db/colleagues';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { ofThemselves } from '@/server/http/people';
import { colleagueSchema } from '@/server/http/requests';

/** What visitors see of somebody and when they are here: each may say it of themselves, owners and editors of everybody. */
export async function PUT(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const of = ofThemselves(member, (await params).id);
    const colleague = await bodyAs(request, colleagueSchema);
    return changing(member, async (db, note) => {
      if (!(await saveColleague(db, siteId, { member: of, ...colleague })))
        throw new Refused(404, 'notFound', 'They are not of this site any more');
      await note({
        kind: 'setup',
        subject: 'people',
        name: colleague.title || `person ${of}`,
        did: 'changed',
      });
    });
  });
}
