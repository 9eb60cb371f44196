'use client';

import { useMemo } from 'react';
import type { RecordedVisit } from '@/server/db/visits';
import { useWidth } from '../parts/useWidth';
import type { RehearsedFlag } from './layout';
import { layoutRibbon } from './layout';
import { colourBySection } from './RibbonBand';
import { bandWidth, commonScale, RibbonHead, RibbonLegend, RibbonRow } from './RibbonRow';

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
  const band = bandWidth(width);
  const scale = commonScale(
    ribbons.map(({ ribbon }) => ribbon.length),
    band,
  );
  const colourOf = colourBySection(sections);
  const met = sections.filter((section) => ribbons.some(({ ribbon }) => ribbon.views.some((view) => view.section === section)));
  return (
    <div ref={ref} className="sheet min-w-0 overflow-hidden">
      <RibbonHead scale={scale} width={width > 0 ? band : 0} />
      <ul>
        {ribbons.map(({ visit, ribbon }) => (
          <RibbonRow key={visit.id} visit={visit} ribbon={ribbon} scale={scale} width={width > 0 ? band : 0} colourOf={colourOf} />
        ))}
      </ul>
      <RibbonLegend sections={met} colourOf={colourOf} />
    </div>
  );
}
