import type { Metadata } from 'next';
import Link from 'next/link';
import { requireSite } from '@/server/auth/current';
import { countLeads, listLeads } from '@/server/db/leads';
import { readingOf } from '@/server/db/sharedPool';
import { Empty } from '@/studio/parts/layout/Empty';
import { ScreenHead } from '@/studio/parts/layout/ScreenHead';

export const metadata: Metadata = { title: 'Leads' };

const PAGE = 200;

export default async function LeadsPage({ searchParams }: { searchParams: Promise<{ q?: string; after?: string }> }) {
  const { site } = await requireSite();
  const { q = '', after } = await searchParams;
  const search = q.slice(0, 200);
  const db = await (await readingOf(site.id)).caughtUp();
  const [leads, count] = await Promise.all([listLeads(db, site.id, { search, after, limit: PAGE + 1 }), countLeads(db, site.id, search)]);
  const last = leads.length > PAGE ? leads[PAGE - 1] : undefined;
  const to = (from?: string): string =>
    `/leads?${new URLSearchParams({ ...(search ? { q: search } : {}), ...(from ? { after: from } : {}) })}`;
  return (
    <div className="p-6">
      <ScreenHead title="Leads" note={count === 1 ? '1 lead' : `${count.toLocaleString('en')} leads`}>
        <form role="search" className="flex gap-2">
          <input
            className="field w-64"
            name="q"
            type="search"
            data-filter
            aria-label="Search leads"
            placeholder="Email or page"
            defaultValue={search}
          />
        </form>
        <a className="act-quiet" href="/leads.csv" download>
          Export CSV
        </a>
      </ScreenHead>
      {count === 0 ? (
        <Empty
          title={search ? `Nothing found for “${search}”` : 'No leads yet'}
          action={
            <Link className="act" href={search ? '/leads' : '/campaigns'}>
              {search ? 'Show all leads' : 'Make a campaign with a form'}
            </Link>
          }
        >
          When a visitor sends a form in one of your messages, their answer lands here with the page it came from, and can be exported as
          CSV.
        </Empty>
      ) : (
        <div className="sheet">
          <table className="list">
            <thead>
              <tr>
                <th>Email</th>
                <th>Came from</th>
                <th>Page</th>
                <th>Visitor</th>
                <th>When</th>
              </tr>
            </thead>
            <tbody>
              {leads.slice(0, PAGE).map(({ id, email, fields, campaign, campaignId, url, visitorId, at }) => (
                <tr key={id}>
                  <td className="max-w-72 truncate font-semibold">{email ?? Object.values(fields).join(', ')}</td>
                  <td className="max-w-60 truncate">{campaign ?? campaignId}</td>
                  <td className="max-w-72 truncate font-mono text-[13px]">{URL.canParse(url) ? new URL(url).pathname : url}</td>
                  <td>{visitorId ?? 'erased'}</td>
                  <td className="whitespace-nowrap">
                    {at.toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {(after ?? last) && (
            <nav aria-label="Pages of leads" className="flex gap-4 p-3">
              {after && (
                <Link className="act-quiet" href={to()}>
                  Newest
                </Link>
              )}
              {last && (
                <Link className="act-quiet" href={to(last.id)}>
                  Older
                </Link>
              )}
            </nav>
          )}
        </div>
      )}
    </div>
  );
}
