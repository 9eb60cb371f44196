'use client';

import Link from 'next/link';
import { useMemo } from 'react';
import type { RecordedVisit } from '@/server/db/visits';
import { useNow } from '../parts/layout/useNow';
import { useWidth } from '../parts/layout/useWidth';
import { clockWords, layoutRibbon } from '../ribbon/layout';
import { colourBySection } from '../ribbon/RibbonBand';
import { bandWidth, commonScale, RibbonHead, RibbonLegend, RibbonRow } from '../ribbon/RibbonRow';
import type { Live } from './useLive';

/** Without a sign of life for so long the page may be gone: its ribbon no longer grows. */
const GROWS_MS = 45_000;

/** Visits under way: their ribbons grow with the clock until something is heard again. */
export function NowRibbons({ live, sections }: { live: Live | undefined; sections: readonly string[] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const now = useNow() + (live?.behind ?? 0);
  const colourOf = colourBySection(sections);
  const ribbons = (live?.visits ?? []).map((visit) => ({ visit, ribbon: layoutRibbon(grownTo(visit, now)) }));
  const band = bandWidth(width);
  const lengths = ribbons.map(({ ribbon }) => ribbon.length);
  // In steps, so that the scale does not creep with every second.
  const longest = Math.ceil(Math.max(60_000, ...lengths) / 60_000) * 60_000;
  const scale = useMemo(() => commonScale([longest], band), [longest, band]);
  return (
    <section ref={ref} className="sheet min-w-0 self-start" aria-labelledby="on-site">
      <h2 id="on-site" className="border-b border-line px-3 py-2 font-bold" aria-live="polite">
        {!live ? 'On the site now' : live.news.people === 0 ? 'Nobody is on the site now' : `${live.news.people} on the site now`}
        <span className="ml-2 text-xs font-normal text-soft">whose page is open, and gave a sign of life in the last five minutes</span>
      </h2>
      {!live && <div className="skeleton m-3 h-72" role="status" aria-label="Listening to the site" />}
      {live?.news.people === 0 && (
        <p className="p-5 text-soft">
          As soon as somebody opens a page it appears here and grows while they read.{' '}
          <Link className="underline" href="/visits">
            Recorded visits
          </Link>{' '}
          are there already.
        </p>
      )}
      {ribbons.length > 0 && (
        <>
          <RibbonHead scale={scale} width={width > 0 ? band : 0} />
          <ul>
            {ribbons.map(({ visit, ribbon }) => (
              <RibbonRow
                key={visit.id}
                visit={visit}
                ribbon={ribbon}
                scale={scale}
                width={width > 0 ? band : 0}
                colourOf={colourOf}
                note={
                  <>
                    {heardFor(visit, now) < now - visit.at - 1000 ? 'was here for' : 'here for'} {clockWords(heardFor(visit, now))}
                    <span className="block">{visit.views.length === 1 ? '1 page' : `${visit.views.length} pages`}</span>
                  </>
                }
              />
            ))}
          </ul>
          {live && live.news.people > ribbons.length && (
            <p className="border-t border-line px-3 py-2 text-soft">and {live.news.people - ribbons.length} more, heard of before these</p>
          )}
          <RibbonLegend sections={sections.slice(0, 6)} colourOf={colourOf} />
        </>
      )}
    </section>
  );
}

/** From the beginning of the visit until now, or until it was heard of last, in ms. */
function heardFor(visit: RecordedVisit, now: number): number {
  const last = grownTo(visit, now).views.at(-1);
  return (last ? last.at + last.leave : now) - visit.at;
}

/** The visit with its last page still open, if it was heard of lately. */
export function grownTo(visit: RecordedVisit, now: number): RecordedVisit {
  const last = visit.views.at(-1);
  if (!last || now - (last.at + last.leave) > GROWS_MS) return visit;
  return { ...visit, views: [...visit.views.slice(0, -1), { ...last, leave: Math.max(last.leave, now - last.at) }] };
}
