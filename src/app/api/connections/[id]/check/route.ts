import { boundTo } from '@/server/connections/deliver';
import { checkConnection } from '@/server/connections/kinds/all';
import { decrypt } from '@/server/connections/secrets';
import { findConnection, findConnectionSecret, noteExchange } from '@/server/db/connections';
import { poolOf } from '@/server/db/sharedPool';
import { answer, Refused } from '@/server/http/api';

/** Really asks the service, as it is saved. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const db = poolOf(siteId);
    const { id } = await params;
    const connection = await findConnection(db, siteId, id);
    if (!connection) throw new Refused(404, 'notFound', 'This connection is not here any more');
    const kept = await findConnectionSecret(db, siteId, id);
    const now = Date.now();
    const { verdict, status, note } = await checkConnection(connection, {
      secret: kept ? decrypt(kept, boundTo(siteId, id)) : undefined,
      now,
    });
    await noteExchange(db, siteId, id, { what: 'check', status, tookMs: Date.now() - now, note });
    return { ok: verdict.is === 'sent', note };
  });
}
