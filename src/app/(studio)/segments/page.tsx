import type { Metadata } from 'next';
import Link from 'next/link';
import { describeSegment } from '@/core/rules/describe';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { loadNames } from '@/server/db/recorded';
import { lastAnswer, segmentKey } from '@/server/db/lastAnswers';
import { listSegments } from '@/server/db/segments';
import { poolOf, readingOf } from '@/server/db/sharedPool';
import { peopleIn } from '@/core/flows/forSome';
import { segmentsNamedIn } from '@/server/segments/bodies';
import { Empty } from '@/studio/parts/layout/Empty';
import { ScreenHead } from '@/studio/parts/layout/ScreenHead';
import { Sentence } from '@/studio/parts/layout/Sentence';
import { SegmentRowMenu } from '@/studio/segments/SegmentRowMenu';
import { SegmentsInOut } from '@/studio/segments/SegmentsInOut';
import { SegmentSizeCells } from '@/studio/segments/SegmentSizeCells';
import { TakenNames } from '@/studio/segments/takenNames';
import { NewSegmentButton } from '@/studio/segments/NewSegmentButton';

export const metadata: Metadata = { title: 'Segments' };

export default async function SegmentsPage() {
  const { site } = await requireSite();
  const [segments, campaigns, names, sizes, trends] = await Promise.all([
    listSegments(poolOf(site.id), site.id),
    listCampaigns(poolOf(site.id), site.id),
    (await readingOf(site.id)).read((db) => loadNames(db, site.id)),
    lastAnswer(poolOf(site.id), site.id, 'sizes'),
    lastAnswer(poolOf(site.id), site.id, 'trends'),
  ]);
  // What each names once, however many segments there are.
  const namedBy = campaigns.map(({ name, rule, flow }) => ({
    name,
    names: new Set([rule.people, ...peopleIn(flow)].flatMap(segmentsNamedIn)),
  }));
  const taken = segments.map(({ name }) => name);
  return (
    <div className="p-6">
      <ScreenHead title="Segments" note="Who: saved answers to use in any rule">
        {segments.length > 1 && (
          <Link className="act-quiet" href="/segments/overlap">
            Overlap
          </Link>
        )}
        <SegmentsInOut hasSome={segments.length > 0} />
        <NewSegmentButton names={taken} />
      </ScreenHead>
      {segments.length === 0 ? (
        <Empty title="No segments yet" action={<NewSegmentButton names={[]} />}>
          A segment is a saved answer to “who”, such as <em>people who viewed /huts/* at least 2 times in the last 30 days</em>. You see how
          many they are while you write it.
        </Empty>
      ) : (
        <TakenNames names={taken}>
          <div className="sheet">
            <table className="list">
              <thead>
                <tr>
                  <th>Segment</th>
                  <th className="number">People now</th>
                  <th className="w-44">Share of visitors</th>
                  <th className="w-36">Last 30 days</th>
                  <th>Used by</th>
                  <th>Changed</th>
                  <th>
                    <span className="sr-only">Actions</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {segments.map((segment) => {
                  const key = segmentKey(segment);
                  const users = namedBy.filter(({ names: named }) => named.has(segment.id));
                  return (
                    <tr key={segment.id} className="hover:bg-bone">
                      <td className="max-w-2xl">
                        <Link data-row className="text-base font-semibold hover:underline" href={`/segments/${segment.id}`}>
                          {segment.name}
                        </Link>
                        <Sentence size="small" phrases={describeSegment(segment, names)} />
                      </td>
                      <SegmentSizeCells segment={key} last={{ size: sizes?.[key], trend: trends?.[key] }} />
                      <td className="max-w-56">
                        {users.length ? users.map(({ name }) => name).join(', ') : <span className="text-soft">nothing yet</span>}
                      </td>
                      <td className="whitespace-nowrap text-soft">
                        {segment.updatedAt.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })}
                      </td>
                      <td>
                        <SegmentRowMenu
                          id={segment.id}
                          segment={{ name: segment.name, lookback: segment.lookback, people: segment.people }}
                        />
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
        </TakenNames>
      )}
    </div>
  );
}
