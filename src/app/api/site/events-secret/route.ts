import { createHash, randomBytes } from 'node:crypto';
import { noteChange } from '@/server/db/changeLog';
import { setEventsSecret } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { answer } from '@/server/http/api';

/** A new secret for events from the site's own server; only its hash is kept. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const secret = randomBytes(32).toString('base64url');
    await setEventsSecret(poolOf(siteId), siteId, createHash('sha256').update(secret).digest());
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'setup',
      subject: 'events secret',
      name: 'events from the site’s server',
      did: 'given a new secret',
    });
    return { secret };
  });
}
