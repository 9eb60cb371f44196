import type { Metadata } from 'next';
import Link from 'next/link';
import { describeSegment } from '@/core/rules/describe';
import { requestTime } from '@/server/clock';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { listSegments } from '@/server/db/segments';
import { pool } from '@/server/pool';
import { countSegment, segmentsNamedIn } from '@/server/segments/count';
import { Empty } from '@/studio/parts/Empty';
import { ScreenHead } from '@/studio/parts/ScreenHead';
import { Sentence } from '@/studio/parts/Sentence';
import { NewSegmentButton } from '@/studio/segments/NewSegmentButton';

export const metadata: Metadata = { title: 'Segments' };

export default async function SegmentsPage() {
  const { site } = await requireSite();
  const [segments, campaigns] = await Promise.all([listSegments(pool(), site.id), listCampaigns(pool(), site.id)]);
  const now = requestTime();
  const sizes = new Map<string, { people: number; of: number }>();
  for (const segment of segments) sizes.set(segment.id, await countSegment(pool(), site.id, segment, now));
  const names = {
    segment: (id: string) => segments.find((one) => one.id === id)?.name ?? 'a segment that is gone',
    set: String,
    campaign: String,
    place: String,
  };
  return (
    <div className="p-6">
      <ScreenHead title="Segments" note="Who: saved answers to use in any rule">
        <NewSegmentButton names={segments.map(({ name }) => name)} />
      </ScreenHead>
      {segments.length === 0 ? (
        <Empty title="No segments yet" action={<NewSegmentButton names={[]} />}>
          A segment is a saved answer to “who”, such as <em>people who viewed /huts/* at least 2 times in the last 30 days</em>. You see how
          many they are while you write it.
        </Empty>
      ) : (
        <div className="sheet">
          <table className="list">
            <thead>
              <tr>
                <th>Segment</th>
                <th className="number">People now</th>
                <th className="w-44">Share of visitors</th>
                <th>Used by</th>
                <th>Changed</th>
              </tr>
            </thead>
            <tbody>
              {segments.map((segment) => {
                const size = sizes.get(segment.id) ?? { people: 0, of: 0 };
                const share = size.of ? (100 * size.people) / size.of : 0;
                const users = campaigns.filter(({ rule }) => segmentsNamedIn(rule.people).includes(segment.id));
                return (
                  <tr key={segment.id} className="hover:bg-bone">
                    <td className="max-w-2xl">
                      <Link className="text-base font-semibold hover:underline" href={`/segments/${segment.id}`}>
                        {segment.name}
                      </Link>
                      <Sentence size="small" phrases={describeSegment(segment, names)} />
                    </td>
                    <td className="number text-base font-semibold">{size.people.toLocaleString('en-GB')}</td>
                    <td>
                      <span className="flex items-center gap-2 whitespace-nowrap">
                        <span className="h-2 w-24 bg-line">
                          <span className="block h-2 bg-people" style={{ width: `${share}%` }} />
                        </span>
                        {share.toFixed(1)} %
                      </span>
                    </td>
                    <td className="max-w-56">
                      {users.length ? users.map(({ name }) => name).join(', ') : <span className="text-soft">nothing yet</span>}
                    </td>
                    <td className="whitespace-nowrap text-soft">
                      {segment.updatedAt.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })}
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
