import { changing } from '@/server/db/changing';
import { randomBytes } from 'node:crypto';
import { findSigning, setSigning } from '@/server/db/sites';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { signingSchema } from '@/server/http/requests';

export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { isRequired, newSecret } = await bodyAs(request, signingSchema);
    const secret = newSecret && randomBytes(32).toString('base64url');
    return changing(member, async (db, note) => {
      if (isRequired && !secret && (await findSigning(db, siteId)).secret === null)
        throw new Refused(
          409,
          'signing.noSecret',
          'isRequired: met true without a secret; make one first and give it to the site’s server',
        );
      await setSigning(db, siteId, { isRequired, secret });
      // The secret itself is in no log.
      await note({
        kind: 'setup',
        subject: 'signing',
        name: 'signed persons',
        did: secret ? 'given a new secret' : 'changed',
        after: { isRequired },
      });
      return secret ? { secret } : undefined;
    });
  });
}
