import { hoursCalendar } from '@/core/conversations/calendar';
import { listColleagues } from '@/server/db/colleagues';
import { download } from '@/server/http/api';
import { poolOf } from '@/server/db/sharedPool';

const DAYS = 90;

/** The hours of the member `member` for the next ninety days, as iCalendar (RFC 5545). */
export async function GET(request: Request) {
  return download(request, async ({ siteId }) => {
    const member = Number(new URL(request.url).searchParams.get('member'));
    const found = (await listColleagues(poolOf(siteId), siteId)).find((one) => one.member === member);
    if (!found?.presence.hours) return Response.json({ error: { code: 'notFound', message: 'They have no hours' } }, { status: 404 });
    const text = hoursCalendar({
      hours: found.presence.hours,
      name: found.name,
      uid: `hours-${siteId}-${member}`,
      now: Date.now(),
      days: DAYS,
    });
    return new Response(text, {
      headers: {
        'content-type': 'text/calendar; charset=utf-8',
        'content-disposition': 'attachment; filename="hours.ics"',
        'cache-control': 'no-store',
      },
    });
  });
}
