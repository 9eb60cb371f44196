import type { ConnectionBody } from '@/core/connections/kinds';
import { boundTo } from '@/server/connections/deliver';
import { encrypt } from '@/server/connections/secrets';
import { insertConnection, setConnectionsOfCampaign } from '@/server/db/connections';
import { keepSegment } from '@/server/db/keptSegments';
import type { Queryable } from '@/server/db/queryable';
import { maybeOne } from '@/server/db/queryable';
import { AUDIENCE_KEY, LIST_KEY } from '@/standins/receivers';

interface DemoConnection {
  readonly id: string;
  readonly name: string;
  readonly secret?: string;
  readonly at: (url: string) => ConnectionBody;
}

const CONNECTIONS: readonly DemoConnection[] = [
  { id: 'conn_weather', name: 'Weather', at: (url) => ({ kind: 'weather', settings: { url, allowPrivate: true } }) },
  { id: 'conn_location', name: 'Locations', at: (url) => ({ kind: 'location', settings: { url, allowPrivate: true } }) },
  {
    id: 'conn_letters',
    name: 'Hut letters',
    secret: LIST_KEY,
    at: (url) => ({ kind: 'list', settings: { url, list: 'hut-letters', allowPrivate: true } }),
  },
  {
    id: 'conn_ads',
    name: 'Ridge walkers, ads',
    secret: AUDIENCE_KEY,
    at: (url) => ({ kind: 'audience', settings: { url, audience: 'ridge-walkers', allowPrivate: true } }),
  },
  {
    id: 'conn_desk',
    name: 'Booking desk',
    secret: 'whsec_dGFybmhvbGxvdyBib29raW5nIGRlc2s=',
    at: (url) => ({ kind: 'hook', settings: { url: `${url}/hook`, allowPrivate: true, tells: ['release'] } }),
  },
];

/**
 * The demo's connections, all to the stand-ins at `url`: which leads and which segment go there. Where they are already, only their addresses are set, since
 * ports may have changed.
 */
export async function seedConnections(tx: Queryable, siteId: number, { url, isNew }: { url: string; isNew: boolean }): Promise<void> {
  for (const { id, name, secret, at } of CONNECTIONS) {
    const body = at(url);
    const known = await maybeOne(
      tx,
      `update connection set settings = settings || jsonb_build_object('url', $3::text) where site_id = $1 and id = $2 returning id`,
      [siteId, id, (body.settings as { url: string }).url],
    );
    // Whoever deleted one does not get it back.
    if (known || !isNew) continue;
    await insertConnection(tx, siteId, { id, name, body, secret: secret === undefined ? undefined : encrypt(secret, boundTo(siteId, id)) });
  }
  if (!isNew) return;
  await setConnectionsOfCampaign(tx, siteId, 'camp_member_question', [
    { id: 'conn_letters', mapping: { email: true, answers: [{ answer: 'plan', as: 'for whom' }], tags: ['membership'], campaign: false } },
  ]);
  await keepSegment(tx, siteId, { id: 'kept_comparing', segment: 'seg_comparing', connection: 'conn_ads' });
}
