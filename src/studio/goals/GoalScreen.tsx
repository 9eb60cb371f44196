'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { z } from 'zod';
import { siteGoalSchema } from '@/core/campaigns/campaign';
import { nameSchema } from '@/core/rules/schema';
import type { User } from '@/server/segments/users';
import { call } from '../parts/net/call';
import { SiteGoalEditor } from '../campaigns/GoalEditor';
import { UsedBy } from '../parts/layout/UsedBy';
import { EditorHead } from '../parts/saving/EditorHead';
import { useSaved } from '../parts/saving/useSaved';
import { ReachedLately } from './ReachedLately';

const draftSchema = z.object({ name: nameSchema, goal: siteGoalSchema });
type Draft = z.infer<typeof draftSchema>;

/** One of the site's goals: what reaches it, how often that happened, and who counts it. */
export function GoalScreen({
  id,
  initial,
  revision,
  users,
  isMain,
}: {
  id: string;
  initial: Draft;
  revision: number;
  users: readonly User[];
  isMain: boolean;
}) {
  const router = useRouter();
  const saved = useSaved({ initial, revision, schema: draftSchema, kind: 'goal', id });
  const { draft, setDraft } = saved;
  const [is, setIs] = useState(isMain);
  const choose = async (): Promise<void> => {
    const result = await call('PUT /api/goals/main', { body: { goal: is ? null : id } });
    if (!result.ok) return void toast.error(result.message);
    setIs(!is);
    router.refresh();
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
      <EditorHead saved={saved} />
      <UsedBy users={users} />
      <section className="sheet p-5" aria-label="What reaches it">
        <SiteGoalEditor goal={draft.goal} onChange={(goal) => setDraft({ ...draft, goal })} />
        <p className="mt-3 text-soft">
          Days count from a visitor’s first meeting with a campaign. What is changed here holds for every campaign that counts it: results
          at once, visitors with the next release.
        </p>
      </section>
      <ReachedLately goal={saved.isReady ? draft.goal : undefined} />
      <p className="flex flex-wrap items-center gap-3">
        <button className="act-quiet" aria-pressed={is} onClick={() => void choose()}>
          {is ? 'Not the main goal any more' : 'Make it the main goal'}
        </button>
        <span className="text-soft">{is ? 'Today counts it first.' : 'Today counts the one goal that the site is there for.'}</span>
      </p>
    </div>
  );
}
