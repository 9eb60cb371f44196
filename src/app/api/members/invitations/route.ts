import { invitationMail, invite } from '@/server/auth/invitations';
import { changing } from '@/server/db/changing';
import { withTransaction } from '@/server/db/pool';
import { pool, poolOf } from '@/server/db/sharedPool';
import { findSite } from '@/server/db/sites';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { invitationSchema } from '@/server/http/requests';
import { canMail, sendMail } from '@/server/mail/mailer';

/** Invites somebody, by a link that is mailed where this studio can mail, and said to whoever invites. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId, name: by } = member;
    const { email, role } = await bodyAs(request, invitationSchema);
    const link = await withTransaction(pool(), async (home) => {
      const made = await invite(home, siteId, { email, role, by });
      if (made === undefined) throw new Refused(409, 'member.there', `email: ${email} is of this site already`);
      await changing(member, (_, note) => note({ kind: 'setup', subject: 'members', name: email, did: 'changed' }));
      return made;
    });
    const site = (await findSite(poolOf(siteId), siteId))?.name ?? '';
    let trouble: string | undefined;
    if (canMail())
      await sendMail(invitationMail({ email, site, by, link })).catch((cause: unknown) => {
        console.error('invitation:', cause);
        trouble = cause instanceof Error ? cause.message : String(cause);
      });
    return { link, isMailed: canMail() && trouble === undefined, ...(trouble === undefined ? {} : { trouble }) };
  });
}
