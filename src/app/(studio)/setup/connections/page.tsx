import type { Metadata } from 'next';
import Link from 'next/link';
import type { ConnectionKind } from '@/core/connections/kinds';
import { KIND_WORDS, kindTakes } from '@/core/connections/kinds';
import { requireSite } from '@/server/auth/current';
import { listConnections } from '@/server/db/connections';
import { poolOf } from '@/server/db/sharedPool';
import { NewConnection } from '@/studio/connections/NewConnection';
import { SetupHead } from '@/studio/setup/SetupHead';

export const metadata: Metadata = { title: 'Connections' };

const isAsked = (kind: ConnectionKind): boolean => kindTakes(kind, 'asked');

export default async function ConnectionsPage() {
  const { site } = await requireSite();
  const connections = await listConnections(poolOf(site.id), site.id);
  const n = (count: number): string => count.toLocaleString('en-GB');
  return (
    <div className="grid grid-cols-1 gap-4 p-6">
      <SetupHead note="Leads go where their campaign says, the people of a segment where the segment says; everything is kept here first." />
      {connections.length > 0 && (
        <div className="sheet">
          <table className="list">
            <thead>
              <tr>
                <th>Connection</th>
                <th className="number">Campaigns</th>
                <th className="number">Segments</th>
                <th className="number">Sent</th>
                <th className="number">Waiting</th>
                <th className="number">Failed</th>
              </tr>
            </thead>
            <tbody>
              {connections.map(({ id, name, kind, campaigns, segments, sent, waiting, failed, restsUntil }) => (
                <tr key={id} className="hover:bg-bone">
                  <td>
                    <Link data-row className="text-base font-semibold hover:underline" href={`/setup/connections/${id}`}>
                      {name}
                    </Link>
                    <span className="block text-soft">
                      {KIND_WORDS[kind].name}
                      {restsUntil &&
                        ` · rests until ${restsUntil.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })}: it did not answer`}
                    </span>
                  </td>
                  <td className="number">{isAsked(kind) ? '' : n(campaigns)}</td>
                  <td className="number">{isAsked(kind) ? '' : n(segments)}</td>
                  <td className="number">{isAsked(kind) ? '' : n(sent)}</td>
                  <td className="number">{isAsked(kind) ? '' : n(waiting)}</td>
                  <td className={`number ${failed > 0 ? 'font-bold text-danger' : ''}`}>{isAsked(kind) ? '' : n(failed)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <NewConnection names={connections.map(({ name }) => name)} />
    </div>
  );
}
