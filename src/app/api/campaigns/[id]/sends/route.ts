import { kindTakes } from '@/core/connections/kinds';
import { formFields } from '@/core/leads/consent';
import { findCampaign } from '@/server/db/campaigns';
import { connectionsOfCampaign, listConnections, setConnectionsOfCampaign } from '@/server/db/connections';
import { withTransaction } from '@/server/db/pool';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { sendsSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

/** Where a campaign's leads go, what of them, where they might, and which answers they have. */
export async function GET(request: Request, { params }: Context) {
  return answer(request, async ({ siteId }) => {
    const db = poolOf(siteId);
    const { id } = await params;
    const [connections, all, campaign] = await Promise.all([
      connectionsOfCampaign(db, siteId, id),
      listConnections(db, siteId),
      findCampaign(db, siteId, id),
    ]);
    return {
      connections,
      all: all.filter(({ kind }) => kindTakes(kind, 'leads')).map(({ id: of, name, kind }) => ({ id: of, name, kind })),
      answers: campaign ? [...new Set(formFields(campaign.flow).map(({ name }) => name))] : [],
    };
  });
}

/** From the next lead on: what came before is not sent. */
export async function PUT(request: Request, { params }: Context) {
  return answer(request, async ({ siteId }) => {
    const { connections } = await bodyAs(request, sendsSchema);
    const { id } = await params;
    await withTransaction(poolOf(siteId), (tx) => setConnectionsOfCampaign(tx, siteId, id, connections));
  });
}
