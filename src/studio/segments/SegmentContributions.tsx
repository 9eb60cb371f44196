'use client';

import type { PeopleCondition } from '@/core/people/condition';
import { conditionWords } from '@/core/people/condition';
import { leavesOf } from '@/core/logic/expr';
import type { Path } from '@/core/logic/expr';
import type { SegmentDocument } from '@/core/rules/schema';
import { useNames } from '../rule/useNames';
import { useCounted } from './useCounted';

/** What each condition takes: how many more people there would be without it. The costliest comes first and stands out. */
export function SegmentContributions({ segment, isReady }: { segment: Pick<SegmentDocument, 'lookback' | 'people'>; isReady: boolean }) {
  const names = useNames();
  const leaves = leavesOf<PeopleCondition>(segment.people);
  const { data } = useCounted('contributions', segment, {
    isReady: isReady && leaves.length > 1,
  });
  if (leaves.length < 2 || !data) return null;
  const wordsAt = (path: Path): string | undefined => {
    const found = leaves.find((leaf) => JSON.stringify(['people', ...leaf.path]) === JSON.stringify(path));
    return found && (found.negated ? 'not ' : '') + conditionWords(found.leaf, names);
  };
  const rows = data.flatMap(({ path, change }) => {
    const words = wordsAt(path);
    return words === undefined ? [] : [{ words, change, key: path.join('.') }];
  });
  const most = Math.max(1, ...rows.map(({ change }) => Math.abs(change)));
  return (
    <section className="sheet p-5" aria-label="What each condition does">
      <h2 className="mb-2 font-bold">Without it there would be</h2>
      <ul className="grid gap-2">
        {[...rows]
          .sort((a, b) => b.change - a.change)
          .map(({ key, words, change }, index) => (
            <li key={key} className={index === 0 && change > 0 ? 'font-semibold' : ''}>
              <span className="flex justify-between gap-3">
                <span className="min-w-0 truncate" title={words}>
                  {words}
                </span>
                <span className="whitespace-nowrap">
                  {change === 0 ? 'no change' : `${change > 0 ? '+' : '−'}${Math.abs(change).toLocaleString('en-GB')}`}
                </span>
              </span>
              <span className="mt-1 block h-1.5 bg-line">
                <span
                  className="block h-1.5 bg-people"
                  style={{ width: `${(100 * Math.abs(change)) / most}%`, opacity: change < 0 ? 0.45 : 1 }}
                />
              </span>
            </li>
          ))}
      </ul>
    </section>
  );
}
