import type { Member } from '../db/members';
import { Refused } from './api';

/** Whom of the team something is about: an agent may say it of themselves alone. @throws Refused */
export function ofThemselves({ role, id }: Pick<Member, 'role' | 'id'>, given: string): number {
  const of = Number(given);
  if (!Number.isInteger(of) || of < 1 || of > 2 ** 31 - 1) throw new Refused(404, 'notFound', 'They are not of this site any more');
  if (role === 'agent' && of !== id) throw new Refused(403, 'role', 'As agent you can change what is said of yourself; ask an owner');
  return of;
}
