import { scaleLinear } from 'd3-scale';
import { area, curveMonotoneX, line } from 'd3-shape';
import type { Course } from '@/server/today/course';
import { useWidth } from '../parts/layout/useWidth';

const HEIGHT = 56;
const LAST_HOUR = 23;

/** How many by now, and the day's running total over the band of what is usual on this day of the week. */
export function CourseChart({ words, course: { today, usual } }: { words: string; course: Course }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const hour = today.length - 1;
  const now = today.at(-1) ?? 0;
  const by = usual?.[hour];
  const most = Math.max(1, ...today, ...(usual ?? []).map(({ high }) => high));
  const x = scaleLinear([0, LAST_HOUR + 1], [0, Math.max(1, width)]);
  const y = scaleLinear([0, most], [HEIGHT - 1, 3]);
  // A running total of hour h stands at its end; the day begins with nothing.
  const band = area<{ low: number; high: number }>(
    (_, index) => x(index),
    (one) => y(one.low),
    (one) => y(one.high),
  ).curve(curveMonotoneX);
  const middle = line<{ middle: number }>(
    (_, index) => x(index),
    (one) => y(one.middle),
  ).curve(curveMonotoneX);
  const course = line<number>(
    (_, index) => x(index),
    (count) => y(count),
  ).curve(curveMonotoneX);
  const count = (value: number): string => Math.round(value).toLocaleString('en-GB');
  const comparison = by
    ? by.low === by.high
      ? `usually ${count(by.low)} by ${hour + 1} h`
      : `usually ${count(by.low)} to ${count(by.high)} by ${hour + 1} h`
    : 'no usual day to compare with yet';
  return (
    <div className="p-4">
      <p>
        <b className="font-display text-2xl">{count(now)}</b> {words}
      </p>
      <p className="text-xs text-soft">{comparison}</p>
      <div ref={ref} className="mt-1">
        {width > 0 && (
          <svg
            width={width}
            height={HEIGHT}
            role="img"
            aria-label={`${count(now)} ${words} today, ${comparison}`}
            className="block overflow-visible"
          >
            {usual && (
              <>
                <path d={band([{ low: 0, high: 0 }, ...usual]) ?? ''} fill="var(--soft)" opacity="0.16" />
                <path d={middle([{ middle: 0 }, ...usual]) ?? ''} fill="none" stroke="var(--soft)" strokeDasharray="3 3" />
              </>
            )}
            <line x1="0" x2={width} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} stroke="var(--line)" />
            <path d={course([0, ...today]) ?? ''} fill="none" stroke="var(--pine)" strokeWidth="2" />
            <circle cx={x(today.length)} cy={y(now)} r="3" fill="var(--pine)" />
          </svg>
        )}
        <p className="flex justify-between text-xs text-soft" aria-hidden="true">
          <span>0 h</span>
          <span>12 h</span>
          <span>24 h</span>
        </p>
      </div>
    </div>
  );
}
