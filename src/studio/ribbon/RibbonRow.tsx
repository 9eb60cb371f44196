import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { memo } from 'react';
import type { RecordedVisit } from '@/server/db/visits';
import { instantsOf, nearestInstant } from '../visitors/instants';
import type { Ribbon } from './layout';
import { clockWords } from './layout';
import { RibbonAxis } from './RibbonAxis';
import type { ColourOf } from './RibbonBand';
import { RibbonBand } from './RibbonBand';

const LABELS = 190;
const START = 96;
/** What the rows leave free at both sides. */
const PADDING = 24;
export const ROW_HEIGHT = 42;

/** What a list of this width has for its ribbons. */
export const bandWidth = (width: number): number => Math.max(200, width - LABELS - START - PADDING);

/** What a list's length is rounded up to, so that its scale stays while its visits come and go. */
const LENGTH_STEP_MS = 60_000;

/** ms per pixel for a whole list: the longest tenth is cut rather than squeezing all the others. */
export function commonScale(lengths: readonly number[], band: number): number {
  const sorted = [...lengths].sort((a, b) => a - b);
  return (Math.max(1, Math.ceil((sorted[Math.floor(sorted.length * 0.9)] ?? 0) / LENGTH_STEP_MS)) * LENGTH_STEP_MS) / (band - 24);
}

/** A visit in a list: who and when, and its ribbon; a click on the ribbon opens the visit at that instant. */
export const RibbonRow = memo(function RibbonRow({
  visit,
  ribbon,
  scale,
  width,
  colourOf,
  note,
  top,
}: {
  visit: RecordedVisit;
  ribbon: Ribbon;
  scale: number;
  /** 0 until it is measured. */
  width: number;
  colourOf: ColourOf;
  /** Instead of when it began. */
  note?: React.ReactNode;
  /** In a list that draws only what is in sight: where the row stands in it, in pixels. */
  top?: number;
}) {
  const router = useRouter();
  return (
    <li
      className={`flex items-center border-b border-line px-3 last:border-b-0 hover:bg-bone ${top === undefined ? '' : 'absolute inset-x-0'}`}
      style={{ height: ROW_HEIGHT, ...(top === undefined ? {} : { transform: `translateY(${top}px)` }) }}
    >
      <span className="shrink-0 truncate leading-tight" style={{ width: LABELS }}>
        <Link
          prefetch={false}
          data-row
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
      <span className="shrink-0 text-xs text-soft" style={{ width: START }}>
        {note ?? (
          <>
            <time dateTime={new Date(visit.at).toISOString()} suppressHydrationWarning>
              {dayWords(visit.at)}
            </time>
            <span className="block">{clockWords(ribbon.length)} long</span>
          </>
        )}
      </span>
      {width > 0 && (
        // The link beside it does the same from the keyboard, and the visit's own screen steps through its instants.
        <span
          className="cursor-pointer"
          onClick={(event) => {
            const folded = (event.clientX - event.currentTarget.getBoundingClientRect().left) * scale;
            const instant = nearestInstant(instantsOf(visit), folded);
            if (instant) router.push(`/visitors/${visit.visitorId}?view=${instant.view}&t=${instant.t}`);
          }}
        >
          <RibbonBand
            colourOf={colourOf}
            ribbon={ribbon}
            scale={scale}
            width={width}
            title={`${visit.device ?? 'visit'} from ${visit.channel}`}
          />
        </span>
      )}
    </li>
  );
});

export function RibbonHead({ scale, width, words = 'Who and when' }: { scale: number; width: number; words?: string }) {
  return (
    <div className="flex items-center border-b border-line px-3 py-1.5">
      <span className="shrink-0 text-xs text-soft" style={{ width: LABELS + START }}>
        {words}
      </span>
      {width > 0 && <RibbonAxis scale={scale} width={width} />}
    </div>
  );
}

export function RibbonLegend({ sections, colourOf }: { sections: readonly string[]; colourOf: ColourOf }) {
  return (
    <p className="flex flex-wrap gap-x-4 gap-y-1 border-line px-3 py-2 text-xs text-soft not-first:border-t first:border-b">
      {sections.map((section) => (
        <span key={section} className="flex items-center gap-1.5">
          <i className="inline-block h-3 w-3" style={{ background: colourOf(section) }} /> {section}
        </span>
      ))}
      <span>fill: how far read · dot: click · notch: moved to leave · tick: event · flag: a message shown</span>
    </p>
  );
}

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
const dayWords = (at: number): string => DAY.format(at);
