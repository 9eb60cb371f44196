import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { requireSite } from '@/server/auth/current';
import { findConnection, listDeliveries, listExchanges } from '@/server/db/connections';
import { listKept, listOpenMembers } from '@/server/db/keptSegments';
import { poolOf } from '@/server/db/sharedPool';
import { ConnectionScreen } from '@/studio/connections/ConnectionScreen';
import { SetupHead } from '@/studio/setup/SetupHead';

export const metadata: Metadata = { title: 'Connection' };

export default async function ConnectionPage({ params }: { params: Promise<{ id: string }> }) {
  const { site } = await requireSite();
  const { id } = await params;
  const [connection, exchanges, deliveries, members, kept] = await Promise.all([
    findConnection(poolOf(site.id), site.id, id),
    listExchanges(poolOf(site.id), site.id, id),
    listDeliveries(poolOf(site.id), site.id, { connection: id }),
    listOpenMembers(poolOf(site.id), site.id, id),
    listKept(poolOf(site.id), site.id, { connection: id }),
  ]);
  if (!connection) notFound();
  const { name, kind, settings, revision, hasSecret, restsUntil } = connection;
  return (
    <div className="grid grid-cols-1 gap-4 p-6">
      <SetupHead />
      <ConnectionScreen
        key={`${id} ${revision}`}
        id={id}
        initial={{ name, kind, settings, revision, hasSecret }}
        restsUntil={restsUntil?.getTime()}
        exchanges={exchanges.map(({ at, ...one }) => ({ ...one, at: at.getTime() }))}
        deliveries={deliveries.map(inMs)}
        members={members.map(inMs)}
        kept={kept}
      />
    </div>
  );
}

const inMs = <T extends { readonly nextAt: Date }>({ nextAt, ...one }: T) => ({ ...one, nextAt: nextAt.getTime() });
