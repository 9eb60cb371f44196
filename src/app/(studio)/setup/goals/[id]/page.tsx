import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { requireSite } from '@/server/auth/current';
import { listGoals } from '@/server/db/goals';
import { loadRecorded } from '@/server/db/recorded';
import { poolOf } from '@/server/db/sharedPool';
import { GoalScreen } from '@/studio/goals/GoalScreen';
import { RecordedProvider } from '@/studio/rule/recorded';
import { SetupHead } from '@/studio/setup/SetupHead';
import { Editing } from '@/studio/parts/layout/Editing';

export const metadata: Metadata = { title: 'Goal' };

export default async function GoalPage({ params }: { params: Promise<{ id: string }> }) {
  const { site } = await requireSite();
  const { id } = await params;
  const [goals, recorded] = await Promise.all([listGoals(poolOf(site.id), site.id), loadRecorded(poolOf(site.id), site.id)]);
  const found = goals.find((one) => one.id === id);
  if (!found) notFound();
  const { name, goal, revision, isMain, campaigns } = found;
  return (
    <div className="p-6">
      <SetupHead />
      <RecordedProvider value={recorded}>
        <Editing>
          <GoalScreen
            key={`${id} ${revision}`}
            id={id}
            initial={{ name, goal }}
            revision={revision}
            users={campaigns.map((one) => ({ kind: 'campaign', ...one }))}
            isMain={isMain}
          />
        </Editing>
      </RecordedProvider>
    </div>
  );
}
