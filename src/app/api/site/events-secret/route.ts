import { createHash, randomBytes } from 'node:crypto';
import { changing } from '@/server/db/changing';
import { setEventsSecret } from '@/server/db/sites';
import { answer } from '@/server/http/api';

/** A new secret for events from the site's own server; only its hash is kept. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const secret = randomBytes(32).toString('base64url');
    return changing(member, async (db, note) => {
      await setEventsSecret(db, siteId, createHash('sha256').update(secret).digest());
      await note({
        kind: 'setup',
        subject: 'events secret',
        name: 'events from the site’s server',
        did: 'given a new secret',
      });
      return { secret };
    });
  });
}
