// What tests of privacy look for: signatures of a site, and what of somebody is left in a database.
import { execFileSync } from 'node:child_process';
import { createHmac } from 'node:crypto';
import { signedText } from '@/core/wire/signature';
import { setSigning } from '../db/sites';
import type { CollectorUnderTest } from './collectorUnderTest';
import { newUuid } from './items';

/** A secret by which the site signs who its visitors are, without requiring it. */
export async function useSecret(tested: CollectorUnderTest): Promise<string> {
  const secret = 'a secret of the site';
  await setSigning(tested.database.pool, tested.site.id, { secret, isRequired: false });
  return secret;
}

/** Who somebody is, signed. */
export const signed = (secret: string, { at, email, customerId }: { at: number; email: string; customerId?: string }) => ({
  ...{ kind: 'person', id: newUuid(), at, email, ...(customerId === undefined ? {} : { customerId }) },
  signature: createHmac('sha256', secret)
    .update(signedText({ id: customerId, email }))
    .digest('hex'),
});

/** The whole database as text; binary columns, which are compressed, as what is in them. */
export function dump(tested: CollectorUnderTest): string {
  return execFileSync('pg_dump', ['--dbname', tested.database.url, '--data-only', '--inserts'], { encoding: 'utf8', maxBuffer: 1 << 28 });
}
const hex = (mark: string): string => Buffer.from(mark).toString('hex');
/** Marks that a dump has, as they are, in whatever case, or as bytes. */
export const leftIn = (text: string, marks: readonly string[]): string[] => {
  const lower = text.toLowerCase();
  return marks.filter((mark) => lower.includes(mark.toLowerCase()) || lower.includes(hex(mark)));
};
