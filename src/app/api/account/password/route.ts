import { requireSession } from '@/server/auth/current';
import { changePassword } from '@/server/auth/account';
import { tokenHash } from '@/server/auth/token';
import { pool } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { fromWhere } from '@/server/http/from';
import { newPasswordSchema } from '@/server/http/requests';

/** Another password; all other sessions end. */
export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const session = tokenHash(await requireSession());
    await changePassword(pool(), { member, session, address: (await fromWhere()).address, ...(await bodyAs(request, newPasswordSchema)) });
  });
}
