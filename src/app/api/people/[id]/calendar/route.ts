import { busyIn, NoCalendar } from '@/core/conversations/calendar';
import { setCalendar } from '@/server/db/colleagues';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, ownerAllows, Refused } from '@/server/http/api';
import { ofThemselves } from '@/server/http/people';
import { calendarSchema } from '@/server/http/requests';

/** When somebody is busy elsewhere: each may say it of themselves, owners and editors of everybody. */
export async function PUT(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async (asking) => {
    const { siteId } = asking;
    const member = ofThemselves(asking, (await params).id);
    const { url, allowPrivate, text } = await bodyAs(request, calendarSchema);
    ownerAllows(asking, { url, allowPrivate });
    if (text !== null)
      try {
        busyIn(text, { from: 0, to: 1, zone: 'UTC' });
      } catch (cause) {
        if (cause instanceof NoCalendar) throw new Refused(400, cause.code, `text: ${cause.message}`);
        throw cause;
      }
    if (!(await setCalendar(poolOf(siteId), siteId, { member, url, allowPrivate, text })))
      throw new Refused(404, 'notFound', 'They are not of this site any more');
  });
}
