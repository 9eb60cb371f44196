import { may } from '../auth/rights';
import type { Member } from '../db/members';
import { Refused } from './refused';

/** Whom of the team something is about: who may not edit says it of themselves alone. @throws Refused */
export function ofThemselves({ role, id }: Pick<Member, 'role' | 'id'>, given: string): number {
  const of = Number(given);
  if (!Number.isInteger(of) || of < 1 || of > 2 ** 31 - 1) throw new Refused(404, 'notFound', 'They are not of this site any more');
  if (of !== id && !may(role, 'edit')) throw new Refused(403, 'role', `As ${role} you can change what is said of yourself; ask an owner`);
  return of;
}
