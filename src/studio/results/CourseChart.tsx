'use client';

import { scaleLinear } from 'd3-scale';
import type { PointerEvent } from 'react';
import { useState } from 'react';
import { area, line } from 'd3-shape';
import type { Looks } from '@/core/results/span';
import type { KnownBy } from '@/core/results/course';
import { dayIn } from '@/core/results/report';
import { useWidth } from '../parts/layout/useWidth';
import { points } from '@/core/results/words';

const DAY_MS = 86_400_000;
/** Of less than this somebody only clicked. */
const LEAST_DRAG = 8;
const HEIGHT = 210;
const PAD = { top: 18, right: 14, bottom: 24, left: 44 };
/** Spans are wide while little is known: beyond this they are cut. */
const MOST = 0.3;

const instantOf = (day: string): number => Date.parse(`${day}T12:00:00Z`);
const dayWords = (day: string): string =>
  new Date(instantOf(day)).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });

/** Some days from the first to the last, evenly apart. */
function daysBetween(first: string, last: string, most: number): string[] {
  const [from, to] = [instantOf(first), instantOf(last)];
  const days = Math.round((to - from) / DAY_MS);
  const count = Math.min(most, days + 1);
  return Array.from({ length: count }, (_, index) =>
    new Date(from + Math.round((days * index) / Math.max(1, count - 1)) * DAY_MS).toISOString().slice(0, 10),
  );
}

/** How the difference became known, day by day: what it was, its span, and what was published on the way. */
export function CourseChart({
  course,
  marks,
  zone,
  title,
  looks,
  onPeriod,
}: {
  course: readonly KnownBy[];
  marks: readonly { readonly number: number; readonly at: number }[];
  zone: string;
  title: string;
  /** Of a period of one's own nothing is called clear, and it is drawn otherwise. */
  looks: Looks;
  /** A part of it was dragged over: its first and last day. */
  onPeriod: (first: string, last: string) => void;
}) {
  const [dragged, setDragged] = useState<readonly [number, number]>();
  const [ref, width] = useWidth<HTMLDivElement>();
  const told = course.filter(({ difference }) => difference !== null);
  const settled = told.slice(Math.floor(told.length / 3));
  const spans = Math.min(MOST, Math.max(0.01, ...settled.flatMap(({ span }) => span.map(Math.abs))));
  // The line itself is never cut.
  const reach = Math.min(1, Math.max(spans, ...settled.map(({ difference }) => 1.1 * Math.abs(difference ?? 0))));
  const ends = [course[0], course.at(-1)].map((one) => instantOf(one?.day ?? ''));
  const x = scaleLinear(ends, [PAD.left, Math.max(PAD.left + 1, width - PAD.right)]);
  const y = scaleLinear([-reach, reach], [HEIGHT - PAD.bottom, PAD.top]).clamp(true);
  const at = (day: string): number => x(instantOf(day));
  const isInSight = (day: string): boolean => day >= (course[0]?.day ?? '') && day <= (course.at(-1)?.day ?? '');
  const band = area<KnownBy>()
    .x(({ day }) => at(day))
    .y0(({ span }) => y(span[0]))
    .y1(({ span }) => y(span[1]));
  const middle = line<KnownBy>()
    .x(({ day }) => at(day))
    .y(({ difference }) => y(difference ?? 0));
  const isClear = ({ span }: KnownBy): boolean => looks === 'always' && (span[0] > 0 || span[1] < 0);
  const paint = looks === 'always' ? 'var(--pine)' : 'var(--soft)';
  const last = told.at(-1);
  // Since when it is clear without a break.
  const open = told.findLastIndex((one) => !isClear(one));
  const clearSince = last && isClear(last) ? told[open + 1]?.day : undefined;
  const dayAt = (left: number): string =>
    new Date(Math.min(ends[1] ?? 0, Math.max(ends[0] ?? 0, x.invert(left)))).toISOString().slice(0, 10);
  const leftOf = ({ currentTarget, clientX }: PointerEvent<SVGSVGElement>): number => clientX - currentTarget.getBoundingClientRect().left;
  return (
    <div ref={ref} className="min-w-0">
      {width > 0 && (
        <svg
          width={width}
          height={HEIGHT}
          className="touch-none cursor-crosshair"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setDragged([leftOf(event), leftOf(event)]);
          }}
          onPointerMove={(event) => dragged && setDragged([dragged[0], leftOf(event)])}
          onPointerUp={() => {
            setDragged(undefined);
            if (!dragged || Math.abs(dragged[1] - dragged[0]) < LEAST_DRAG) return;
            const [first, last] = [...dragged].sort((a, b) => a - b) as [number, number];
            onPeriod(dayAt(first), dayAt(last));
          }}
          role="img"
          aria-label={`${title}: ${last ? `${points(last.difference ?? 0)} points by ${dayWords(last.day)}, between ${points(last.span[0])} and ${points(last.span[1])}` : 'nothing is known yet'}${clearSince ? `; clear since ${dayWords(clearSince)}` : ''}`}
        >
          {y.ticks(5).map((tick) => (
            <g key={tick}>
              <line x1={PAD.left} x2={width - PAD.right} y1={y(tick)} y2={y(tick)} stroke={tick === 0 ? 'var(--ink)' : 'var(--line)'} />
              <text x={PAD.left - 8} y={y(tick) + 4} fontSize="11" textAnchor="end" fill="var(--soft)">
                {points(tick)}
              </text>
            </g>
          ))}
          <path d={band([...told]) ?? ''} fill={paint} opacity="0.18" />
          <path
            d={middle([...told]) ?? ''}
            fill="none"
            stroke={paint}
            strokeWidth="2"
            {...(looks === 'once' ? { strokeDasharray: '5 4' } : {})}
          />
          {marks.map(({ number, at: when }) => {
            const day = dayIn(zone, when);
            if (!isInSight(day)) return null;
            return (
              <g key={number}>
                <line x1={at(day)} x2={at(day)} y1={PAD.top} y2={HEIGHT - PAD.bottom} stroke="var(--soft)" strokeDasharray="2 3" />
                <text x={at(day) + 4} y={PAD.top - 5} fontSize="11" fill="var(--soft)">
                  release {number}
                </text>
              </g>
            );
          })}
          {dragged && (
            <rect
              x={Math.min(...dragged)}
              width={Math.abs(dragged[1] - dragged[0])}
              y={PAD.top}
              height={HEIGHT - PAD.top - PAD.bottom}
              fill="var(--ink)"
              opacity="0.12"
            />
          )}
          {clearSince && (
            <g>
              <line x1={at(clearSince)} x2={at(clearSince)} y1={PAD.top + 14} y2={y(0)} stroke="var(--ink)" />
              <text
                x={at(clearSince) - 4}
                y={PAD.top + 12}
                fontSize="11"
                fontWeight="700"
                textAnchor={at(clearSince) > width / 2 ? 'end' : 'start'}
                fill="var(--ink)"
              >
                clear since {dayWords(clearSince)}
              </text>
            </g>
          )}
          {daysBetween(course[0]?.day ?? '', course.at(-1)?.day ?? '', Math.max(2, Math.floor(width / 120))).map((day, index, all) => (
            <text
              key={day}
              x={at(day)}
              y={HEIGHT - 6}
              fontSize="11"
              textAnchor={index === all.length - 1 && all.length > 1 ? 'end' : 'middle'}
              fill="var(--soft)"
            >
              {dayWords(day)}
            </text>
          ))}
        </svg>
      )}
    </div>
  );
}
