'use client';

import { useMemo } from 'react';
import { z } from 'zod';
import type { CountedPage, NearPage } from '@/core/pages/near';
import { matchPages } from '@/core/pages/near';
import type { PagePattern, PlainPattern } from '@/core/pages/pattern';
import { plainPatternSchema } from '@/core/pages/pattern';
import { nameSchema } from '@/core/rules/schema';
import type { User } from '@/server/segments/users';
import { EditorHead } from '../parts/saving/EditorHead';
import { UsedBy } from '../parts/layout/UsedBy';
import { useSaved } from '../parts/saving/useSaved';
import { PatternList } from '../rule/PatternList';
import { RecordedProvider, useRecorded } from '../rule/recorded';

const draftSchema = z.object({ name: nameSchema, patterns: z.array(plainPatternSchema()).max(200) });
type Draft = z.infer<typeof draftSchema>;

const MOST = 60;
const WHY: Readonly<Record<NearPage['why'], string>> = {
  below: 'below a page that is named',
  wider: '** instead of * would match it',
  spelled: 'spelled nearly so',
};

/** A named list of page patterns, beside the recorded pages that they match and nearly match. */
export function PageSetEditor({ id, initial, revision, users }: { id: string; initial: Draft; revision: number; users: readonly User[] }) {
  const recorded = useRecorded();
  const saved = useSaved({
    initial,
    revision,
    schema: draftSchema,
    kind: 'page_set',
    id,
  });
  const { draft, setDraft } = saved;
  const { matching, near } = useMemo(() => matchPages(draft.patterns, recorded.pages), [draft.patterns, recorded.pages]);
  const views = matching.reduce((sum, page) => sum + page.views, 0);
  const add = (path: string): void => setDraft({ ...draft, patterns: [...draft.patterns, { op: 'is', value: path }] });
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
      <EditorHead saved={saved} />
      <UsedBy users={users} />
      <div className="grid gap-4 lg:grid-cols-2">
        <section className="sheet content-start self-start p-5" aria-label="Patterns">
          <p className="mb-3 text-soft">
            A page is in the set when any line matches it: <code className="font-mono">*</code> stands for one level,{' '}
            <code className="font-mono">**</code> for any number.
          </p>
          {/* A set holds patterns of its own, no other sets. */}
          <RecordedProvider value={{ ...recorded, sets: [] }}>
            <PatternList
              label="Page"
              value={draft.patterns}
              empty="No page yet"
              onChange={(patterns: PagePattern[]) => setDraft({ ...draft, patterns: patterns as PlainPattern[] })}
            />
          </RecordedProvider>
        </section>
        <div className="grid content-start gap-4">
          <section className="sheet p-5" aria-labelledby="matching">
            <h2 id="matching" className="mb-2 font-bold" aria-live="polite">
              {matching.length === 0
                ? 'No recorded page matches'
                : `${matching.length === 1 ? '1 recorded page matches' : `${matching.length} recorded pages match`}, with ${views.toLocaleString('en-GB')} views in 30 days`}
            </h2>
            <PageRows pages={matching} most={views} />
          </section>
          {near.length > 0 && (
            <section className="sheet p-5" aria-labelledby="near">
              <h2 id="near" className="mb-2 font-bold">
                Nearly
              </h2>
              <ul className="grid gap-1">
                {near.slice(0, MOST).map(({ path, views: count, why }) => (
                  <li key={path} className="flex items-baseline gap-3">
                    <span className="min-w-0 flex-1 truncate font-mono text-[13px]">{path}</span>
                    <span className="text-xs text-soft">
                      {WHY[why]}, {count.toLocaleString('en-GB')} views
                    </span>
                    <button className="text-pine underline" aria-label={`Add ${path}`} onClick={() => add(path)}>
                      add
                    </button>
                  </li>
                ))}
              </ul>
            </section>
          )}
        </div>
      </div>
    </div>
  );
}

function PageRows({ pages, most }: { pages: readonly CountedPage[]; most: number }) {
  return (
    <ul className="grid gap-1">
      {pages.slice(0, MOST).map(({ path, views }) => (
        <li key={path} className="flex items-center gap-3">
          <span className="min-w-0 flex-1 truncate font-mono text-[13px]">{path}</span>
          <span className="h-2 w-24 bg-line" aria-hidden="true">
            <span className="block h-2 bg-pages" style={{ width: `${most ? (100 * views) / most : 0}%` }} />
          </span>
          <span className="w-16 text-right">{views.toLocaleString('en-GB')}</span>
        </li>
      ))}
      {pages.length > MOST && <li className="text-soft">and {pages.length - MOST} more</li>}
    </ul>
  );
}
