import { setLeadNotes } from '@/server/db/leads';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { leadNotesSchema } from '@/server/http/requests';

/** What the team says of a lead. */
export async function PUT(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const notes = await bodyAs(request, leadNotesSchema);
    const { id } = await params;
    const tags = notes.tags && [...new Set(notes.tags)];
    if (!(await setLeadNotes(poolOf(siteId), siteId, { id, tags, note: notes.note })))
      throw new Refused(404, 'notFound', 'That lead is not here any more. What you typed is still on the screen.');
  });
}
