import type { Metadata } from 'next';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { campaignWords } from '@/core/release/words';
import { requireSite } from '@/server/auth/current';
import { may } from '@/server/auth/rights';
import { listChanges, LOG_PAGE } from '@/server/db/changeLog';
import { JOBS, listFailed } from '@/server/db/failedTasks';
import { loadNames } from '@/server/db/recorded';
import { poolOf } from '@/server/db/sharedPool';
import { ChangeLog } from '@/studio/setup/ChangeLog';
import { FailedTasks } from '@/studio/setup/FailedTasks';
import { SetupHead } from '@/studio/setup/SetupHead';

export const metadata: Metadata = { title: 'Log' };

/** `?q=` is looked for in who, what and its name; `?before=` is the id of a line. */
export default async function LogPage({ searchParams }: { searchParams: Promise<{ q?: string; before?: string }> }) {
  const { site, member } = await requireSite();
  const { q = '', before } = await searchParams;
  const [changes, names, failed] = await Promise.all([
    listChanges(poolOf(site.id), site.id, { text: q.slice(0, 200), olderThan: before?.slice(0, 100) }),
    loadNames(poolOf(site.id), site.id),
    may(member.role, 'people') ? listFailed(poolOf(site.id), site.id) : [],
  ]);
  // Addresses of services may have keys in them.
  const isHidden = (kind: string): boolean => kind === 'connection' && !may(member.role, 'edit');
  return (
    <div className="p-6">
      <SetupHead />
      <FailedTasks
        mayEdit={may(member.role, 'edit')}
        failed={failed.map(({ at, nextAt, ...one }) => ({
          ...one,
          does: JOBS[one.job],
          at: at.getTime(),
          nextAt: nextAt?.getTime() ?? null,
        }))}
      />
      <ChangeLog
        query={q}
        older={changes.length === LOG_PAGE ? changes.at(-1)?.id : undefined}
        changes={changes.map(({ at, before: was, after: is, ...line }) => ({
          ...line,
          at: at.getTime(),
          words:
            line.kind === 'campaign' && line.did === 'changed' && was && is
              ? campaignWords(was as CampaignDocument, is as CampaignDocument, names)
              : [],
          before: was === null || isHidden(line.kind) ? undefined : JSON.stringify(was, null, 2),
          after: is === null || isHidden(line.kind) ? undefined : JSON.stringify(is, null, 2),
        }))}
      />
    </div>
  );
}
