import { randomUUID } from 'node:crypto';
import { mapLead } from '@/core/connections/mapping';
import { boundTo } from '@/server/connections/deliver';
import { sendTo } from '@/server/connections/kinds/all';
import { decrypt } from '@/server/connections/secrets';
import { lastLead } from '@/server/connections/waiting/deliveries';
import { findConnection, findConnectionSecret, noteExchange } from '@/server/db/connections';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { tryMappingSchema } from '@/server/http/requests';

/** What goes out of the campaign's last lead; and, where that is wanted, what the service answers to it. */
export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { connection: id, mapping, send } = await bodyAs(request, tryMappingSchema);
    const db = poolOf(siteId);
    const [connection, lead] = await Promise.all([findConnection(db, siteId, id), lastLead(db, siteId, (await params).id)]);
    if (!connection) throw new Refused(404, 'notFound', 'This connection is not here any more');
    if (!lead) return { lead: null };
    const mapped = mapLead(lead, mapping ?? undefined);
    if (!send) return { lead: { email: lead.email, at: lead.at }, goes: mapped };
    const kept = await findConnectionSecret(db, siteId, id);
    const now = Date.now();
    const { verdict, status, note } = await sendTo(
      connection,
      { what: 'lead', lead: { ...lead, ...mapped } },
      { secret: kept ? decrypt(kept, boundTo(siteId, id)) : undefined, now, delivery: randomUUID() },
    );
    await noteExchange(db, siteId, id, { what: 'lead, tried', status, tookMs: Date.now() - now, note });
    return { lead: { email: lead.email, at: lead.at }, goes: mapped, came: { ok: verdict.is === 'sent', note } };
  });
}
