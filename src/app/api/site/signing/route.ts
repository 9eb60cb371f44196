import { noteChange } from '@/server/db/changeLog';
import { randomBytes } from 'node:crypto';
import { findSigning, setSigning } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { signingSchema } from '@/server/http/requests';

export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { isRequired, newSecret } = await bodyAs(request, signingSchema);
    const secret = newSecret && randomBytes(32).toString('base64url');
    if (isRequired && !secret && (await findSigning(poolOf(siteId), siteId)).secret === null)
      throw new Refused(409, 'signing.noSecret', 'isRequired: met true without a secret; make one first and give it to the site’s server');
    await setSigning(poolOf(siteId), siteId, { isRequired, secret });
    // The secret itself is in no log.
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'setup',
      subject: 'signing',
      name: 'signed persons',
      did: secret ? 'given a new secret' : 'changed',
      after: { isRequired },
    });
    return secret ? { secret } : undefined;
  });
}
