'use client';

import type { PeopleCondition } from '@/core/people/condition';
import { conditionWords } from '@/core/people/condition';
import { leavesOf } from '@/core/rules/expr';
import type { Path } from '@/core/rules/expr';
import type { SegmentDocument } from '@/core/rules/schema';
import { useNames } from '../rule/useNames';
import { useCounted } from './useCounted';

/** What each condition takes: how many more people there would be without it. The costliest comes first and stands out. */
export function SegmentTakes({ segment, isReady }: { segment: Pick<SegmentDocument, 'lookback' | 'people'>; isReady: boolean }) {
  const names = useNames();
  const leaves = leavesOf<PeopleCondition>(segment.people);
  const { data } = useCounted<readonly { path: Path; takes: number }[]>('takes', segment, { isReady: isReady && leaves.length > 1 });
  if (leaves.length < 2 || !data) return null;
  const wordsAt = (path: Path): string | undefined => {
    const found = leaves.find((leaf) => JSON.stringify(['people', ...leaf.path]) === JSON.stringify(path));
    return found && (found.negated ? 'not ' : '') + conditionWords(found.leaf, names);
  };
  const rows = data.flatMap(({ path, takes }) => {
    const words = wordsAt(path);
    return words === undefined ? [] : [{ words, takes, key: path.join('.') }];
  });
  const most = Math.max(1, ...rows.map(({ takes }) => Math.abs(takes)));
  return (
    <section className="sheet p-5" aria-label="What each condition does">
      <h2 className="mb-2 font-bold">Without it there would be</h2>
      <ul className="grid gap-2">
        {[...rows]
          .sort((a, b) => b.takes - a.takes)
          .map(({ key, words, takes }, index) => (
            <li key={key} className={index === 0 && takes > 0 ? 'font-semibold' : ''}>
              <span className="flex justify-between gap-3">
                <span className="min-w-0 truncate" title={words}>
                  {words}
                </span>
                <span className="whitespace-nowrap">
                  {takes === 0 ? 'no change' : `${takes > 0 ? '+' : '−'}${Math.abs(takes).toLocaleString('en-GB')}`}
                </span>
              </span>
              <span className="mt-1 block h-1.5 bg-line">
                <span
                  className="block h-1.5 bg-people"
                  style={{ width: `${(100 * Math.abs(takes)) / most}%`, opacity: takes < 0 ? 0.45 : 1 }}
                />
              </span>
            </li>
          ))}
      </ul>
    </section>
  );
}
