'use client';

import { useQueries } from '@tanstack/react-query';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState, useEffect } from 'react';
import type { RecordedVisit } from '@/server/db/visits';
import { fetched } from '../parts/net/call';
import { useWidth } from '../parts/layout/useWidth';
import { layoutRibbon } from '../ribbon/layout';
import { colourBySection } from '../ribbon/RibbonBand';
import { bandWidth, commonScale, RibbonHead, RibbonLegend, RibbonRow, ROW_HEIGHT } from '../ribbon/RibbonRow';
import { useRecorded } from '../rule/recorded';

const CHUNK = 50;

export interface VisitPage {
  readonly visits: number;
  readonly visitors: number;
  readonly list: readonly RecordedVisit[];
}

/** Visits that meet a query, begun by `asOf`, from the `from`th on. */
export async function askVisits({
  query,
  asOf,
  from,
  count = CHUNK,
  signal,
}: {
  query: string;
  asOf: number;
  from: number;
  count?: number;
  signal: AbortSignal;
}): Promise<VisitPage> {
  return fetched('GET /api/visits', {
    more: [`asOf=${asOf}&from=${from}&count=${count}`, query].filter(Boolean).join('&'),
    signal,
  });
}

/** However many visits as ribbons on one time scale: only those in sight are asked for and drawn. */
export function VisitList({ query, asOf, first }: { query: string; asOf: number; first: VisitPage }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const list = useRef<HTMLUListElement>(null);
  const [margin, setMargin] = useState(0);
  useEffect(
    () => setMargin(list.current?.getBoundingClientRect().top ? list.current.getBoundingClientRect().top + window.scrollY : 0),
    [width],
  );
  const { sections } = useRecorded();
  const rows = useWindowVirtualizer({ count: first.visits, estimateSize: () => ROW_HEIGHT, overscan: 8, scrollMargin: margin });
  const inSight = rows.getVirtualItems();
  const chunks = [...new Set(inSight.map(({ index }) => Math.floor(index / CHUNK)))];
  const pages = useQueries({
    queries: chunks.map((chunk) => ({
      queryKey: ['visits', query, asOf, chunk],
      staleTime: Infinity,
      queryFn: ({ signal }: { signal: AbortSignal }) => askVisits({ query, asOf, from: chunk * CHUNK, signal }),
    })),
  });
  const band = bandWidth(width);
  const scale = useMemo(
    () =>
      commonScale(
        first.list.map((visit) => layoutRibbon(visit).length),
        band,
      ),
    [first.list, band],
  );
  const colourOf = colourBySection(sections);
  const failed = pages.find(({ error }) => error);
  return (
    <div ref={ref} className="sheet min-w-0">
      <RibbonLegend sections={sections.slice(0, 6)} colourOf={colourOf} />
      <div className="sticky top-12 z-20 rounded-t bg-paper">
        <RibbonHead scale={scale} width={width > 0 ? band : 0} />
      </div>
      {failed?.error && (
        <p role="alert" className="border-b border-line px-3 py-2 text-danger">
          {failed.error.message}{' '}
          <button className="underline" onClick={() => void failed.refetch()}>
            Try again
          </button>
        </p>
      )}
      <ul ref={list} className="relative" style={{ height: rows.getTotalSize() }}>
        {inSight.map(({ index, start }) => {
          const visit = pages[chunks.indexOf(Math.floor(index / CHUNK))]?.data?.list[index % CHUNK];
          const top = start - margin;
          return visit ? (
            <DrawnRow key={index} visit={visit} top={top} scale={scale} width={width > 0 ? band : 0} colourOf={colourOf} />
          ) : (
            <li
              key={index}
              className="absolute inset-x-0 flex items-center border-b border-line px-3"
              style={{ height: ROW_HEIGHT, transform: `translateY(${top}px)` }}
            >
              <span className="skeleton h-5 w-full" />
            </li>
          );
        })}
      </ul>
    </div>
  );
}

function DrawnRow({ visit, ...rest }: { visit: RecordedVisit } & Omit<Parameters<typeof RibbonRow>[0], 'ribbon' | 'visit'>) {
  const ribbon = useMemo(() => layoutRibbon(visit), [visit]);
  return <RibbonRow visit={visit} ribbon={ribbon} {...rest} />;
}
