'use client';

import { scaleLinear } from 'd3-scale';
import type { ReactNode } from 'react';
import type { ResultRow } from '@/core/results/report';
import { count, isClear, isTooWide, percent, points, rowName, valueName } from '@/core/results/words';

const WIDTH = 300;
/** Of fewer visitors a rate is drawn pale. */
const FEW = 100;

export interface ResultTable {
  readonly title: string;
  readonly rows: readonly ResultRow[];
}

/** Every comparison as a line on one axis, with the compared group's span behind it. */
export function SideBySide({ tables, success }: { tables: readonly ResultTable[]; success: string }) {
  const ends = tables.flatMap(({ rows }) => rows.flatMap(({ interval, met }) => (interval && met >= FEW / 4 ? [interval[1]] : [])));
  // Ends of intervals of a few may be cut, but no rate is.
  const rates = tables.flatMap(({ rows }) => rows.flatMap(({ rate, control }) => [rate ?? 0, control?.rate ?? 0]));
  const most = Math.min(1, Math.max(0.02, ...ends, ...rates) * 1.05);
  const x = scaleLinear([0, most], [4, WIDTH - 4]).clamp(true);
  const base = tables[0]?.rows[0];
  const ticks = x.ticks(5);
  return (
    <div className="sheet overflow-x-auto">
      <table className="w-full min-w-[900px] border-collapse">
        <thead>
          <tr className="text-soft">
            <th className="px-4 py-2 text-start font-normal">Side by side</th>
            <th className="px-2 text-end font-normal">met</th>
            <th className="px-2 text-end font-normal">{success}</th>
            <th className="px-2 text-end font-normal">rate</th>
            <th className="px-2 text-start font-normal" style={{ width: WIDTH }}>
              <span className="sr-only">Rate, drawn</span>
              <svg width={WIDTH} height="16" aria-hidden="true" className="block overflow-visible">
                {ticks.map((tick) => (
                  <text key={tick} x={x(tick)} y="12" fontSize="11" textAnchor={tick === 0 ? 'start' : 'middle'} fill="var(--soft)">
                    {`${+(tick * 100).toFixed(2)} %`}
                  </text>
                ))}
              </svg>
            </th>
            <th className="px-4 text-start font-normal">difference in points, and its span</th>
          </tr>
        </thead>
        {tables.map(({ title, rows }, nth) => (
          <tbody key={title}>
            <tr className="border-t border-line bg-bone">
              <th colSpan={6} scope="rowgroup" className="px-4 py-1.5 text-start font-semibold text-soft">
                {title}
              </th>
            </tr>
            {rows.length === 0 && (
              <tr>
                <td colSpan={6} className="px-4 py-2 text-soft">
                  Nobody yet.
                </td>
              </tr>
            )}
            {rows.map((row) => (
              <tr key={rowName(row)} className="border-t border-line">
                <th scope="row" className="px-4 py-1.5 text-start font-normal">
                  {rowName(row)}
                  {row.control && <Beside>{valueName(row.control.value)}</Beside>}
                </th>
                <td className="px-2 text-end">
                  {count(row.met)}
                  {row.control && <Beside>{count(row.control.met)}</Beside>}
                </td>
                <td className="px-2 text-end">
                  {count(row.successes)}
                  {row.control && <Beside>{count(row.control.successes)}</Beside>}
                </td>
                <td className="whitespace-nowrap px-2 text-end">
                  <b>{rateWords(row.rate)}</b>
                  {row.control && <Beside>{rateWords(row.control.rate)}</Beside>}
                </td>
                <td className="px-2">
                  <svg width={WIDTH} height="26" aria-hidden="true" className="block">
                    <Band of={nth === 0 ? base : (row.control ?? undefined)} x={x} />
                    {row.interval && row.rate !== null && (
                      <g
                        opacity={row.met < FEW ? 0.45 : 1}
                        fill={row === base ? 'var(--soft)' : 'var(--pine)'}
                        stroke={row === base ? 'var(--soft)' : 'var(--pine)'}
                      >
                        <line x1={x(row.interval[0])} x2={x(row.interval[1])} y1="13" y2="13" strokeWidth="3" />
                        <circle cx={x(row.rate)} cy="13" r="5" />
                      </g>
                    )}
                  </svg>
                </td>
                <td className="px-4">
                  <Against row={row} />
                </td>
              </tr>
            ))}
          </tbody>
        ))}
      </table>
    </div>
  );
}

/** Those whom a row is compared with, below it. */
const Beside = ({ children }: { children: ReactNode }) => <span className="block text-sm text-soft">{children}</span>;

const rateWords = (rate: number | null): string => (rate === null ? '–' : percent(rate));

/** Rate and interval of those whom a row is compared with, behind its own. */
function Band({ of, x }: { of: Pick<ResultRow, 'rate' | 'interval'> | undefined; x: (rate: number) => number }) {
  if (!of?.interval || of.rate === null) return null;
  const [low, high] = of.interval.map(x) as [number, number];
  return (
    <>
      <rect x={low} width={Math.max(1, high - low)} y="0" height="26" fill="var(--line)" opacity="0.7" />
      <line x1={x(of.rate)} x2={x(of.rate)} y1="0" y2="26" stroke="var(--soft)" strokeDasharray="2 2" />
    </>
  );
}

function Against({ row: { against, met } }: { row: ResultRow }) {
  if (!against) return null;
  const [low, high] = against.span;
  if (isTooWide(against)) return <span className="text-soft">too few yet: {count(met)}</span>;
  return (
    <span className={isClear(against) ? '' : 'text-soft'}>
      <b>{points(against.difference)}</b> {points(low)} to {points(high)}
      {against.looks === 'once' ? ' · for one look' : !isClear(against) && ' · not clear yet'}
    </span>
  );
}
