import { findSite } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { weeklySchema } from '@/server/http/requests';
import { canMail, sendMail } from '@/server/mail/mailer';
import { dueMonday } from '@/core/results/weekly';
import { stopWeekly, wantsWeekly, wantWeekly, weeklyOf } from '@/server/results/weekly';

/** Whether whoever asks gets the week's results by mail, and whether mail can be sent at all. */
export async function GET(request: Request) {
  return answer(request, async ({ id, siteId, email }) => ({
    wants: await wantsWeekly(poolOf(siteId), siteId, id),
    email,
    canMail: canMail(),
  }));
}

/** Asked for and stopped for oneself alone. */
export async function PUT(request: Request) {
  return answer(request, async ({ id, siteId }) => {
    const { wants, zone } = await bodyAs(request, weeklySchema);
    if (wants) await wantWeekly(poolOf(siteId), siteId, { memberId: id, zone, now: Date.now() });
    else await stopWeekly(poolOf(siteId), siteId, id);
  });
}

/** Last week's, at once, to oneself. */
export async function POST(request: Request) {
  return answer(request, async ({ id, siteId, email }) => {
    const { zone } = await bodyAs(request, weeklySchema.pick({ zone: true }));
    if (!canMail()) throw new Refused(409, 'mail.none', 'No mail server is named yet: CRINDLE_MAIL_URL names one');
    if (!(await findSite(poolOf(siteId), siteId))) throw new Refused(404, 'notFound', 'That site is not here any more');
    const mail = await weeklyOf(poolOf(siteId), siteId, { to: email, memberId: id, zone, monday: dueMonday(zone, Date.now()) });
    await sendMail(mail).catch((cause: unknown) => {
      throw new Refused(502, 'mail.refused', `The mail server did not take it: ${cause instanceof Error ? cause.message : String(cause)}`);
    });
    return { to: email };
  });
}
