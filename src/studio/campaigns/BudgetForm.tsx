'use client';

import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import type { Budget } from '@/core/pacing/pacing';
import { call } from '../parts/net/call';
import { NumberField } from '../rule/fields';
import { Editing } from '../parts/layout/Editing';

/** What all campaigns together may show to one visitor. */
export function BudgetForm({ value: budget, onChange }: { value: Budget; onChange: (budget: Budget) => void }) {
  const router = useRouter();

  async function save(next: Budget): Promise<void> {
    onChange(next);
    const result = await call('PUT /api/site/budget', { body: next });
    if (!result.ok) return void toast.error(result.message);
    router.refresh();
  }

  const { perVisit, gapSeconds } = budget;
  return (
    <section className="sheet mt-4 flex flex-wrap items-center gap-x-6 gap-y-2 p-4" aria-label="The site’s budget">
      <Editing>
        <b>All together, to one visitor</b>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="h-4 w-4 accent-(--pacing)"
            checked={perVisit !== undefined}
            onChange={(event) =>
              void save({ ...(gapSeconds === undefined ? {} : { gapSeconds }), ...(event.target.checked ? { perVisit: 2 } : {}) })
            }
          />
          {perVisit === undefined ? (
            'at most so many a visit'
          ) : (
            <>
              at most{' '}
              <NumberField
                label="Showings a visit"
                value={perVisit}
                min={0}
                max={100}
                width={56}
                onChange={(count) => void save({ ...budget, perVisit: Math.round(count) })}
              />{' '}
              a visit
            </>
          )}
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="h-4 w-4 accent-(--pacing)"
            checked={gapSeconds !== undefined}
            onChange={(event) =>
              void save({ ...(perVisit === undefined ? {} : { perVisit }), ...(event.target.checked ? { gapSeconds: 30 } : {}) })
            }
          />
          {gapSeconds === undefined ? (
            'at least some seconds between two'
          ) : (
            <>
              at least{' '}
              <NumberField
                label="Seconds between showings"
                value={gapSeconds}
                min={0}
                max={86_400}
                width={64}
                onChange={(seconds) => void save({ ...budget, gapSeconds: seconds })}
              />{' '}
              seconds between two
            </>
          )}
        </label>
        <span className="text-soft">Goes live with the next release.</span>
      </Editing>
    </section>
  );
}
