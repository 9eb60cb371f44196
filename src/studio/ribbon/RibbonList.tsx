'use client';

import Link from 'next/link';
import { useMemo } from 'react';
import type { RecordedVisit } from '@/server/db/visits';
import { useWidth } from '../parts/useWidth';
import type { RehearsedFlag } from './layout';
import { layoutRibbon, clockWords } from './layout';
import { RibbonAxis } from './RibbonAxis';
import { colourBySection, RibbonBand } from './RibbonBand';

const LABELS = 190;
const START = 96;
/** What the rows leave free at both sides. */
const PADDING = 24;

/** Visits as ribbons on one time scale, so that their lengths compare. */
export function RibbonList({
  visits,
  sections,
  flags,
}: {
  visits: readonly RecordedVisit[];
  sections: readonly string[];
  /** Where something would show, or just would not, by visit; at UTC ms. With them the recorded showings are left out. */
  flags?: ReadonlyMap<string, readonly RehearsedFlag[]>;
}) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const ribbons = useMemo(
    () =>
      visits.map((visit) => ({
        visit,
        ribbon: layoutRibbon(flags ? { ...visit, showings: [], flags: flags.get(visit.id) ?? [] } : visit),
      })),
    [visits, flags],
  );
  const band = Math.max(200, width - LABELS - START - PADDING);
  const lengths = ribbons.map(({ ribbon }) => ribbon.length).sort((a, b) => a - b);
  // The longest tenth is cut rather than squeezing all the others.
  const scale = Math.max(60_000, lengths[Math.floor(lengths.length * 0.9)] ?? 0) / (band - 24);
  const colourOf = colourBySection(sections);
  const met = sections.filter((section) => ribbons.some(({ ribbon }) => ribbon.views.some((view) => view.section === section)));
  return (
    <div ref={ref} className="sheet min-w-0 overflow-hidden">
      <div className="flex items-center border-b border-line px-3 py-1.5">
        <span className="shrink-0 text-xs text-soft" style={{ width: LABELS + START }}>
          Who and when
        </span>
        {width > 0 && <RibbonAxis scale={scale} width={band} />}
      </div>
      <ul>
        {ribbons.map(({ visit, ribbon }) => (
          <li key={visit.id} className="flex h-[42px] items-center border-b border-line px-3 last:border-b-0 hover:bg-bone">
            <span className="shrink-0 truncate leading-tight" style={{ width: LABELS }}>
              <Link
                prefetch={false}
                className="font-semibold hover:underline"
                href={`/visitors/${visit.visitorId}?view=${visit.views.at(-1)?.id ?? ''}`}
              >
                {visit.device ?? 'device unknown'}
                {visit.city && ` · ${visit.city}`}
              </Link>
              <span className="block truncate text-xs text-soft">
                {visit.channel}
                {visit.isKnown && ' · known'} · visitor {visit.visitorId}
              </span>
            </span>
            <time
              className="shrink-0 text-xs text-soft"
              style={{ width: START }}
              dateTime={new Date(visit.at).toISOString()}
              suppressHydrationWarning
            >
              {dayWords(visit.at)}
              <span className="block">{clockWords(ribbon.length)} long</span>
            </time>
            {width > 0 && (
              <RibbonBand
                colourOf={colourOf}
                ribbon={ribbon}
                scale={scale}
                width={band}
                title={`${visit.device ?? 'visit'} from ${visit.channel}`}
              />
            )}
          </li>
        ))}
      </ul>
      <p className="flex flex-wrap gap-x-4 gap-y-1 border-t border-line px-3 py-2 text-xs text-soft">
        {met.map((section) => (
          <span key={section} className="flex items-center gap-1.5">
            <i className="inline-block h-3 w-3" style={{ background: colourOf(section) }} /> {section}
          </span>
        ))}
        <span>fill: how far read · dot: click · notch: moved to leave · tick: event · flag: a message shown</span>
      </p>
    </div>
  );
}

function dayWords(at: number): string {
  return new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
}
