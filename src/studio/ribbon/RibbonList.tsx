'use client';

import { useMemo } from 'react';
import type { RecordedVisit } from '@/server/db/visits';
import { useWidth } from '../parts/layout/useWidth';
import type { RehearsedFlag } from './layout';
import type { Ribbon } from './layout';
import { layoutRibbon, withFlags } from './layout';
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
    () => visits.map((visit) => ({ visit, ribbon: flags ? flaggedRibbon(visit, flags.get(visit.id) ?? []) : layoutRibbon(visit) })),
    [visits, flags],
  );
  const band = bandWidth(width);
  const scale = commonScale(
    ribbons.map(({ ribbon }) => ribbon.length),
    band,
  );
  const colourOf = useMemo(() => colourBySection(sections), [sections]);
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

const drawn = new WeakMap<RecordedVisit, { readonly plain: Ribbon; flags: string; ribbon: Ribbon }>();

/** A rehearsal says again and again where it would show, mostly the same: what has not moved is not laid out anew. */
function flaggedRibbon(visit: RecordedVisit, flags: readonly RehearsedFlag[]): Ribbon {
  const key = JSON.stringify(flags);
  const known = drawn.get(visit);
  if (known?.flags === key) return known.ribbon;
  const plain = known?.plain ?? layoutRibbon({ views: visit.views, showings: [] });
  const ribbon = withFlags(plain, visit, flags);
  drawn.set(visit, { plain, flags: key, ribbon });
  return ribbon;
}
