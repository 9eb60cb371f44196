import { connectionsOfCampaign, listConnections, setConnectionsOfCampaign } from '@/server/db/connections';
import { withTransaction } from '@/server/db/pool';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { sendsSchema } from '@/server/http/requests';

type Context = { params: Promise<{ id: string }> };

/** Where a campaign's leads go, and where they might. */
export async function GET(request: Request, { params }: Context) {
  return answer(request, {}, async ({ siteId }) => ({
    connections: await connectionsOfCampaign(poolOf(siteId), siteId, (await params).id),
    all: (await listConnections(poolOf(siteId), siteId)).map(({ id, name, kind }) => ({ id, name, kind })),
  }));
}

/** From the next lead on: what came before is not sent. */
export async function PUT(request: Request, { params }: Context) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { connections } = await bodyAs(request, sendsSchema);
    const { id } = await params;
    await withTransaction(poolOf(siteId), (tx) => setConnectionsOfCampaign(tx, siteId, id, connections));
  });
}
