import type { Metadata } from 'next';
import Link from 'next/link';
import { matchPages } from '@/core/pages/near';
import { patternWords } from '@/core/pages/pattern';
import { requireSite } from '@/server/auth/current';
import { listRecordedPages } from '@/server/db/visits';
import { pageSets } from '@/server/db/vocabulary';
import { poolOf } from '@/server/db/sharedPool';
import { Empty } from '@/studio/parts/layout/Empty';
import { NewButton } from '@/studio/parts/layout/NewButton';
import { unusedName } from '@/studio/parts/saving/unusedName';
import { SetupHead } from '@/studio/setup/SetupHead';

export const metadata: Metadata = { title: 'Page sets' };

export default async function PageSetsPage() {
  const { site } = await requireSite();
  const [sets, pages] = await Promise.all([pageSets.list(poolOf(site.id), site.id), listRecordedPages(poolOf(site.id), site.id)]);
  const make = (
    <NewButton
      label="New page set"
      api="POST /api/page-sets"
      href="/setup/page-sets"
      body={{
        name: unusedName(
          'New page set',
          sets.map(({ name }) => name),
        ),
        patterns: [{ op: 'like', value: '/**' }],
      }}
    />
  );
  return (
    <div className="p-6">
      <SetupHead>{make}</SetupHead>
      {sets.length === 0 ? (
        <Empty title="No page sets yet" action={make}>
          A page set gives a name to pages that belong together, such as <em>Booking pages: /book/** or /checkout</em>. Rules name it
          instead of repeating the list.
        </Empty>
      ) : (
        <div className="sheet">
          <table className="list">
            <thead>
              <tr>
                <th>Page set</th>
                <th className="number">Recorded pages</th>
                <th className="number">Views in 30 days</th>
                <th>Changed</th>
              </tr>
            </thead>
            <tbody>
              {sets.map(({ id, name, patterns, updatedAt }) => {
                const { matching } = matchPages(patterns, pages);
                return (
                  <tr key={id} className="hover:bg-bone">
                    <td className="max-w-2xl">
                      <Link data-row className="text-base font-semibold hover:underline" href={`/setup/page-sets/${id}`}>
                        {name}
                      </Link>
                      <span className="block truncate text-soft">
                        {patterns.map((pattern) => patternWords(pattern, (set) => set)).join(', or ')}
                      </span>
                    </td>
                    <td className="number">{matching.length}</td>
                    <td className="number">{matching.reduce((sum, { views }) => sum + views, 0).toLocaleString('en-GB')}</td>
                    <td className="whitespace-nowrap text-soft">
                      {updatedAt.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      )}
    </div>
  );
}
