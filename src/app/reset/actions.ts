'use server';

import { redirect } from 'next/navigation';
import { resetPassword } from '@/server/auth/reset';
import { pool } from '@/server/db/sharedPool';
import { passwordOf, textOf } from '@/server/http/form';
import type { AccessState } from '@/studio/frame/AccessForm';

export async function resetAction(_before: AccessState, form: FormData): Promise<AccessState> {
  const error = await resetPassword(pool(), { token: textOf(form, 'ticket'), password: passwordOf(form) });
  if (error !== undefined) return { error };
  redirect('/sign-in');
}
