import type { Rehearsed, RehearsedDays } from '@/core/rehearsal/rehearsed';
import { ProgressLine } from '../parts/layout/ProgressLine';
import { REHEARSED } from './days';
import { counted } from '../parts/counted';

/** Of visits that are on record by then: newer ones are in *Visits*, and here with the next reading. */
const atTime = (instant: number): string => new Date(instant).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

/** The counts, what they are of, and how sure they are. */
export function RehearsalHead({
  report,
  isRunning,
  isLate,
  answers,
  days,
  onDays,
  withOthers,
  onWithOthers,
}: {
  report: Rehearsed | undefined;
  isRunning: boolean;
  isLate: boolean;
  /** How many questions have been answered so far, for who measures. */
  answers: number;
  days: RehearsedDays;
  onDays: (days: RehearsedDays) => void;
  withOthers: boolean;
  onWithOthers: (withOthers: boolean) => void;
}) {
  const n = (value: number): string => value.toLocaleString('en-GB');
  const more = report ? report.possible - report.sure : 0;
  return (
    <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
      <p aria-live="polite" className="text-base">
        {report ? (
          <>
            <b className="font-display text-2xl" data-testid="sure" data-answers={answers}>
              {report.isSample && <span title="Expected from one visitor in sixteen; the exact number follows">≈ </span>}
              {more > 0 ? `${n(report.sure)}–${n(report.possible)}` : n(report.sure)} {report.possible === 1 ? 'showing' : 'showings'}
            </b>{' '}
            <span className="text-soft">
              in {counted(report.visits, 'visit')} of {counted(report.visitors, 'visitor')}, begun before {atTime(report.asOf)}
              {more > 0 && ` · ${n(more)} depend on facts that were not recorded`}
            </span>
          </>
        ) : (
          <span className="skeleton inline-block h-7 w-72" role="status" aria-label="Rehearsing" />
        )}
      </p>
      <span className="flex flex-wrap items-center gap-3 text-soft md:ml-auto">
        {report && isLate && <ProgressLine label="Rehearsing" />}
        {report && !isLate && isRunning && report.done < report.runs && (
          <ProgressLine label="Rehearsing" done={report.done} of={report.runs} />
        )}
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="h-4 w-4 accent-(--pine)"
            checked={withOthers}
            onChange={(event) => onWithOthers(event.target.checked)}
          />
          with the live campaigns
        </label>
        <label className="flex items-center gap-1.5">
          last
          <select
            className="field"
            aria-label="Days rehearsed"
            value={days}
            onChange={(event) => onDays(Number(event.target.value) as RehearsedDays)}
          >
            {REHEARSED.map((one) => (
              <option key={one} value={one}>{`${one} days`}</option>
            ))}
          </select>
        </label>
      </span>
    </div>
  );
}
