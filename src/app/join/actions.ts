'use server';

import { redirect } from 'next/navigation';
import { keepSession } from '@/server/auth/current';
import { acceptInvitation, findInvitation } from '@/server/auth/invitations';
import { noteSecurity } from '@/server/auth/securityLog';
import { TooManyAtOnce } from '@/server/auth/password';
import { enter } from '@/server/auth/signIn';
import { pool, tellMembers } from '@/server/db/sharedPool';
import { passwordOf, textOf } from '@/server/http/form';
import { fromWhere } from '@/server/http/from';
import type { AccessState } from '@/studio/frame/AccessForm';

export async function joinAction(_before: AccessState, form: FormData): Promise<AccessState> {
  const [token, name] = [textOf(form, 'ticket'), textOf(form, 'name')];
  const from = await fromWhere();
  const invited = await findInvitation(pool(), token);
  let result: Awaited<ReturnType<typeof acceptInvitation>>;
  try {
    result = await acceptInvitation(pool(), { token, name, password: passwordOf(form), address: from.address });
  } catch (cause) {
    if (cause instanceof TooManyAtOnce) return { typed: { name }, error: 'Many are signing in just now. Try again in a moment.' };
    throw cause;
  }
  noteSecurity({ what: 'invitation', result: 'error' in result ? 'refused' : 'taken', who: invited?.email, address: from.address });
  if ('error' in result) return { typed: { name }, error: result.error };
  await tellMembers(result.siteId);
  // Whoever had an account signs in as ever, with a second factor where they have one.
  if (!result.isNew) redirect('/sign-in');
  await keepSession(await enter(pool(), result.memberId, from));
  redirect('/');
}
