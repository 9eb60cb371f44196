import type { Metadata } from 'next';
import { changesInWords } from '@/core/release/words';
import { requireSite } from '@/server/auth/current';
import { loadNames } from '@/server/db/recorded';
import { listReleases } from '@/server/db/releases';
import { poolOf } from '@/server/db/sharedPool';
import { ReleaseList } from '@/studio/setup/ReleaseList';
import { SetupHead } from '@/studio/setup/SetupHead';

export const metadata: Metadata = { title: 'Releases' };

/** `?with=3&against=7`: what 3 changes against 7. */
export default async function ReleasesPage({ searchParams }: { searchParams: Promise<{ with?: string; against?: string }> }) {
  const { site } = await requireSite();
  const [releases, names, asked] = await Promise.all([
    listReleases(poolOf(site.id), site.id),
    loadNames(poolOf(site.id), site.id),
    searchParams,
  ]);
  const sourceOf = (number: number) => releases.find((one) => one.number === number)?.source ?? null;
  const [of, against] = [Number(asked.with), Number(asked.against)];
  const [is, was] = [sourceOf(of), sourceOf(against)];
  return (
    <div className="p-6">
      <SetupHead />
      <ReleaseList
        compared={is && was ? { of, against, changes: changesInWords(was, is, names) } : undefined}
        releases={releases.map(({ source, publishedAt, ...line }, index) => {
          const before = releases[index + 1];
          // Of the first one everything is new; of one after a release that did not keep it, nobody can say.
          const isTold = source !== null && (before === undefined ? line.number === 1 : before.source !== null);
          return {
            ...line,
            at: publishedAt.getTime(),
            isComparable: source !== null,
            changes: isTold ? changesInWords(before?.source ?? undefined, source, names) : undefined,
          };
        })}
      />
    </div>
  );
}
