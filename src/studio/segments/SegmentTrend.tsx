'use client';

import type { SegmentDocument } from '@/core/rules/schema';
import { Sparkline } from '../parts/layout/Sparkline';
import { useSettled } from '../parts/saving/useSettled';
import { useCounted } from './useCounted';

/** Who was in the segment over the last days: looked at once a day, so the sums are estimates and say so. */
export function SegmentTrend({ segment, isReady }: { segment: Pick<SegmentDocument, 'lookback' | 'people'>; isReady: boolean }) {
  const settled = useSettled(segment, 500);
  const { data, error, isFetching } = useCounted('trend', settled, { isReady, more: { days: 90 } });
  return (
    <section className="sheet p-5" aria-label="Over time">
      {error && (
        <p role="alert" className="text-danger">
          {error.message}
        </p>
      )}
      {!data && !error && <div className="skeleton h-16" role="status" aria-label="Counting ninety days" />}
      {data && (
        <div className={isFetching ? 'opacity-60' : ''}>
          <Sparkline points={data.trend} width={278} height={56} label="Members over 90 days" />
          <p className="mt-1 flex justify-between text-xs text-soft">
            <span>90 days ago</span>
            <span>now</span>
          </p>
          <p className="mt-2">
            ≈ <b>{data.in7Days.toLocaleString('en-GB')}</b> in the last 7 days, ≈ <b>{data.in30Days.toLocaleString('en-GB')}</b> in 30
          </p>
        </div>
      )}
    </section>
  );
}
