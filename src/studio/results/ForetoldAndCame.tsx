'use client';

import { useQuery } from '@tanstack/react-query';
import { scaleBand, scaleLinear } from 'd3-scale';
import { useRef } from 'react';
import type { Differences, ForetoldDay } from '@/core/results/foretold';
import { call } from '../parts/net/call';
import { useWidth } from '../parts/layout/useWidth';
import { TakeOut } from './TakeOut';
import { count } from '@/core/results/words';

const HEIGHT = 120;
const PAD = { top: 6, bottom: 20, left: 44 };

const dayWords = (day: string): string =>
  new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });

const REASONS: Readonly<Record<keyof Differences, string>> = {
  otherRelease: 'met under another release',
  leftAtOnce: 'foretold for the last moment of a page that was left at once',
  closedEarlier: 'came once another message in its place was closed, which a rehearsal leaves open',
  missing: 'foretold and did not come',
  unforeseen: 'came and were not foretold',
};

/** Day by day what the release in force gives over recorded visits, beside what came; where they differ, why. */
export function ForetoldAndCame({ campaign }: { campaign: string }) {
  const section = useRef<HTMLElement>(null);
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const { data, error } = useQuery({
    queryKey: ['foretold', campaign],
    queryFn: async () => {
      const result = await call('GET /api/campaigns/{id}/foretold', { params: { id: campaign }, query: { zone } });
      if (!result.ok) throw new Error(result.message);
      return result.value.days;
    },
  });
  return (
    <section ref={section} className="sheet min-w-0 p-4" aria-labelledby="foretold">
      <div className="mb-2 flex flex-wrap items-baseline gap-3">
        <h2 id="foretold" className="me-auto font-semibold">
          Foretold and came <span className="font-normal text-soft">meetings a day, of the last whole days</span>
        </h2>
        {data && data.length > 0 && <TakeOut from={section} name="foretold" />}
      </div>
      {error && (
        <p role="alert" className="text-danger">
          {error.message}
        </p>
      )}
      {!data && !error && <div className="skeleton h-28" role="status" aria-label="Rehearsing what was live" />}
      {data &&
        (data.length === 0 ? (
          <p className="text-soft">No whole day has been live in the release that is in force.</p>
        ) : (
          <Days days={data} />
        ))}
    </section>
  );
}

function Days({ days }: { days: readonly ForetoldDay[] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const most = Math.max(1, ...days.flatMap(({ rehearsed, met }) => [rehearsed, met]));
  const x = scaleBand(
    days.map(({ day }) => day),
    [PAD.left, Math.max(PAD.left + 1, width)],
  ).padding(0.25);
  const y = scaleLinear([0, most], [HEIGHT - PAD.bottom, PAD.top]);
  const sum = (of: 'rehearsed' | 'met'): number => days.reduce((so, day) => so + day[of], 0);
  const off = days.filter(({ because }) => because !== null);
  const every = Math.ceil(days.length / Math.max(2, Math.floor(width / 110)));
  const words = `${count(sum('rehearsed'))} foretold by rehearsing what is live over these days, ${count(sum('met'))} came.`;
  return (
    <div ref={ref} className="min-w-0">
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={`Foretold and came: ${words}`}>
          {y.ticks(3).map((tick) => (
            <g key={tick}>
              <line x1={PAD.left} x2={width} y1={y(tick)} y2={y(tick)} stroke="var(--line)" />
              <text x={PAD.left - 8} y={y(tick) + 4} fontSize="11" textAnchor="end" fill="var(--soft)">
                {count(tick)}
              </text>
            </g>
          ))}
          {days.map(({ day, rehearsed, met, because }, nth) => {
            const left = x(day) ?? 0;
            return (
              <g key={day}>
                <rect x={left} width={x.bandwidth()} y={y(met)} height={y(0) - y(met)} fill="var(--pine)" opacity={because ? 0.9 : 0.45} />
                <line x1={left - 2} x2={left + x.bandwidth() + 2} y1={y(rehearsed)} y2={y(rehearsed)} stroke="var(--ink)" strokeWidth="2" />
                {nth % every === 0 && (
                  <text x={left + x.bandwidth() / 2} y={HEIGHT - 5} fontSize="11" textAnchor="middle" fill="var(--soft)">
                    {dayWords(day)}
                  </text>
                )}
              </g>
            );
          })}
        </svg>
      )}
      <p className="mt-1 text-soft">
        Bars are what came, lines what was foretold. {words}{' '}
        {off.length === 0
          ? 'No day differs by more than 2 %.'
          : `${count(off.length)} of ${count(days.length)} days differ by more than 2 %:`}
      </p>
      {off.length > 0 && (
        <ul className="mt-1 max-h-40 overflow-y-auto">
          {off.map(({ day, rehearsed, met, because }) => (
            <li key={day}>
              <b>{dayWords(day)}</b>: {count(rehearsed)} foretold, {count(met)} came
              {because &&
                ` – ${(Object.keys(REASONS) as (keyof Differences)[])
                  .filter((reason) => because[reason] > 0)
                  .map((reason) => `${count(because[reason])} ${REASONS[reason]}`)
                  .join('; ')}`}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
