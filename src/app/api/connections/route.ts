import { randomBytes } from 'node:crypto';
import type { ConnectionBody } from '@/core/connections/kinds';
import { changing } from '@/server/db/changing';
import { boundTo } from '@/server/connections/deliver';
import { encrypt } from '@/server/connections/secrets';
import { insertConnection, listConnections } from '@/server/db/connections';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, ownerAllows } from '@/server/http/api';
import { newConnectionSchema } from '@/server/http/requests';

export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => ({ connections: await listConnections(poolOf(siteId), siteId) }));
}

/** Its id; of a web hook without a key the one that was made, this once. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { name, ...given } = await bodyAs(request, newConnectionSchema);
    ownerAllows(member, given.settings);
    const id = newId('conn');
    const made = given.kind === 'hook' && !given.secret ? `whsec_${randomBytes(24).toString('base64')}` : undefined;
    const secret = made ?? ('secret' in given ? given.secret : undefined);
    return changing(member, async (db, note) => {
      await insertConnection(db, siteId, {
        id,
        name,
        body: { kind: given.kind, settings: given.settings } as ConnectionBody,
        secret: secret ? encrypt(secret, boundTo(siteId, id)) : undefined,
      });
      // Secrets are in no log.
      await note({
        kind: 'connection',
        subject: id,
        name,
        did: 'made',
        after: { name, settings: given.settings },
      });
      return { id, ...(made ? { secret: made } : {}) };
    });
  });
}
