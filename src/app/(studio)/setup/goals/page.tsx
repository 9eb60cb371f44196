import type { Metadata } from 'next';
import Link from 'next/link';
import { siteGoalWords } from '@/core/campaigns/goals';
import { requireSite } from '@/server/auth/current';
import { listGoals } from '@/server/db/goals';
import { pageSets } from '@/server/db/vocabulary';
import { poolOf } from '@/server/db/sharedPool';
import { Empty } from '@/studio/parts/layout/Empty';
import { NewButton } from '@/studio/parts/layout/NewButton';
import { unusedName } from '@/studio/parts/saving/unusedName';
import { SetupHead } from '@/studio/setup/SetupHead';

export const metadata: Metadata = { title: 'Goals' };

export default async function GoalsPage() {
  const { site } = await requireSite();
  const [goals, sets] = await Promise.all([listGoals(poolOf(site.id), site.id), pageSets.list(poolOf(site.id), site.id)]);
  const make = (
    <NewButton
      label="New goal"
      api="POST /api/goals"
      href="/setup/goals"
      body={{
        name: unusedName(
          'New goal',
          goals.map(({ name }) => name),
        ),
        goal: { kind: 'event', event: 'booking', days: 3 },
      }}
    />
  );
  return (
    <div className="p-6">
      <SetupHead>{make}</SetupHead>
      {goals.length === 0 ? (
        <Empty title="No goals yet" action={make}>
          A goal says once what counts as success, such as <em>Booked: the event booking within 3 days</em>. Campaigns count it, and one of
          them is what the site is there for.
        </Empty>
      ) : (
        <div className="sheet">
          <table className="list">
            <thead>
              <tr>
                <th>Goal</th>
                <th>Counted by</th>
                <th>Changed</th>
              </tr>
            </thead>
            <tbody>
              {goals.map(({ id, name, goal, isMain, campaigns, updatedAt }) => (
                <tr key={id} className="hover:bg-bone">
                  <td className="max-w-2xl">
                    <Link data-row className="text-base font-semibold hover:underline" href={`/setup/goals/${id}`}>
                      {name}
                    </Link>
                    {isMain && <span className="ms-2 font-semibold text-pine">main goal, counted on Today</span>}
                    <span className="block truncate text-soft">
                      {siteGoalWords(goal, (set) => sets.find((one) => one.id === set)?.name ?? 'a page set that is gone')}
                    </span>
                  </td>
                  <td className="max-w-md truncate">
                    {campaigns.length === 0 ? <span className="text-soft">no campaign</span> : campaigns.map((one) => one.name).join(', ')}
                  </td>
                  <td className="whitespace-nowrap text-soft">
                    {updatedAt.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </div>
  );
}
