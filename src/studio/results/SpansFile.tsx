'use client';

import { scaleLinear } from 'd3-scale';
import { useRef } from 'react';
import type { ResultRow } from '@/core/results/report';
import { isClear, isTooWide, percent, points, reachOf, rowName } from '@/core/results/words';
import { TakeOut } from './TakeOut';

export interface SpanLine {
  /** What its lines stand under; said once. */
  readonly title: string;
  readonly row: ResultRow;
}

const [WIDTH, LINE, LEFT, AXIS, TOP] = [900, 24, 330, 360, 40];

/** Comparisons as one drawing to take out: on the screen they stand in rows of a table. */
export function SpansFile({ lines, title, name }: { lines: readonly SpanLine[]; title: string; name: string }) {
  const around = useRef<HTMLDivElement>(null);
  const compared = lines.filter(({ row: { against } }) => against !== null);
  if (compared.length === 0) return null;
  const reach = reachOf(compared.flatMap(({ row: { against } }) => (against ? [against] : [])));
  const x = scaleLinear([-reach, reach], [LEFT, LEFT + AXIS]).clamp(true);
  const height = TOP + compared.length * LINE + 30;
  return (
    <div className="flex gap-3 print:hidden">
      <TakeOut from={around} name={name} />
      <div ref={around} className="sheet pointer-events-none fixed start-[-2000px] top-0" aria-hidden="true">
        <svg width={WIDTH} height={height} viewBox={`0 0 ${WIDTH} ${height}`}>
          <text x="16" y="24" fontSize="14" fontWeight="600" fill="var(--ink)">
            {title}
          </text>
          {x.ticks(6).map((tick) => (
            <g key={tick}>
              <line x1={x(tick)} x2={x(tick)} y1={TOP} y2={height - 26} stroke={tick === 0 ? 'var(--ink)' : 'var(--line)'} />
              <text x={x(tick)} y={height - 10} fontSize="11" textAnchor="middle" fill="var(--soft)">
                {points(tick)}
              </text>
            </g>
          ))}
          {compared.map(({ title: of, row }, nth) => {
            const { against, rate } = row;
            if (!against) return null;
            const y = TOP + nth * LINE + LINE / 2;
            const [low, high] = against.span;
            const isNew = compared[nth - 1]?.title !== of;
            return (
              <g key={`${of} ${rowName(row)}`}>
                <text x="16" y={y + 4} fontSize="12" fill="var(--ink)" fontWeight={isNew ? 600 : 400}>
                  {isNew ? cut(of, 26) : ''}
                </text>
                <text x={LEFT - 14} y={y + 4} fontSize="12" textAnchor="end" fill="var(--soft)">
                  {cut(rowName(row), 20)}
                </text>
                {!isTooWide(against) && (
                  <g stroke="var(--pine)" fill="var(--pine)" opacity={isClear(against) ? 1 : 0.45}>
                    <line x1={x(low)} x2={x(high)} y1={y} y2={y} strokeWidth="3" />
                    <circle cx={x(against.difference)} cy={y} r="4.5" />
                  </g>
                )}
                <text x={LEFT + AXIS + 16} y={y + 4} fontSize="12" fill="var(--soft)">
                  {`${rate === null ? '–' : percent(rate)}; ${isTooWide(against) ? 'too few yet' : `${points(low)} to ${points(high)}`}`}
                </text>
              </g>
            );
          })}
        </svg>
      </div>
    </div>
  );
}

const cut = (text: string, most: number): string => (text.length > most ? `${text.slice(0, most - 1)}…` : text);
