'use server';

import { forgotPassword } from '@/server/auth/reset';
import { pool } from '@/server/db/sharedPool';
import { textOf } from '@/server/http/form';
import { fromWhere } from '@/server/http/from';
import { canMail } from '@/server/mail/mailer';
import { isEmailTyped, NO_EMAIL } from '@/core/parsing/email';
import type { AccessState } from '@/studio/frame/AccessForm';

export async function forgotAction(_before: AccessState, form: FormData): Promise<AccessState> {
  const email = textOf(form, 'email');
  if (!isEmailTyped(email)) return { typed: { email }, error: NO_EMAIL(email) };
  if (!canMail())
    return { typed: { email }, error: 'This studio cannot mail. Whoever runs it can make a link for you: ./crindle reset you@example.com' };
  await forgotPassword(pool(), { email, ...(await fromWhere()) });
  // The same whether there is such an account or not.
  return { done: 'If somebody here has that email, a link is on its way to it. It is good for an hour.' };
}
