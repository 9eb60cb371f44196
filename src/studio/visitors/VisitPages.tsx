import type { RecordedVisit } from '@/server/db/visits';
import { clockWords, sectionOf } from '../ribbon/layout';
import type { Instant } from './instants';

/** A visit page by page: how long it was read, how far, and what happened there, each to be asked about. */
export function VisitPages({
  visit: { at, views },
  instants,
  picked,
  colourOf,
  onPick,
}: {
  visit: RecordedVisit;
  instants: readonly Instant[];
  picked: Instant | undefined;
  colourOf: (section: string) => string;
  onPick: (instant: Instant) => void;
}) {
  return (
    <section className="sheet px-4 py-3" aria-label="The visit, page by page">
      <h2 className="mb-2 text-lg font-bold">
        {views.length === 1 ? 'One page' : `${views.length} pages`},{' '}
        <time dateTime={new Date(at).toISOString()} suppressHydrationWarning className="font-normal text-soft">
          {new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' })}
        </time>
      </h2>
      <ol className="grid gap-3">
        {views.map((view) => {
          const path = URL.canParse(view.url) ? new URL(view.url).pathname : view.url;
          return (
            <li key={view.id} className="border-l-4 pl-3" style={{ borderColor: colourOf(sectionOf(path)) }}>
              <p className="flex flex-wrap items-baseline gap-x-3">
                <span className="font-semibold [overflow-wrap:anywhere]">{path}</span>
                <span className="text-soft">
                  at {clockWords(view.at - at)} for {clockWords(view.leave)} · engaged {clockWords(view.engagedMs)} · scrolled {view.scroll}{' '}
                  %
                </span>
              </p>
              <p className="mt-1 flex flex-wrap gap-x-1 gap-y-1">
                {tellingOf(instants.filter((one) => one.view === view.id)).map((instant) => (
                  <button
                    key={instant.t}
                    className={`rounded border px-1.5 text-xs hover:border-ink ${instant === picked ? 'border-ink bg-bone' : 'border-line'} ${instant.isShowing ? 'font-semibold text-pine' : ''}`}
                    aria-pressed={instant === picked}
                    onClick={() => onPick(instant)}
                  >
                    {clockWords(instant.t)} {instant.words}
                  </button>
                ))}
              </p>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

/** Of scrolling in one go, where it came to. */
function tellingOf(instants: readonly Instant[]): Instant[] {
  return instants.filter((one, nth) => !(one.isScroll && instants[nth + 1]?.isScroll));
}
