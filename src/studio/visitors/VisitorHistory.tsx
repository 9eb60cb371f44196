'use client';

import Link from 'next/link';
import { useMemo, useState } from 'react';
import type { RecordedVisit } from '@/server/db/visits';
import type { VisitorFacts } from '@/server/visitors/facts';
import { useWidth } from '../parts/layout/useWidth';
import { clockWords, layoutRibbon } from '../ribbon/layout';
import { RibbonAxis } from '../ribbon/RibbonAxis';
import { colourBySection, RibbonBand } from '../ribbon/RibbonBand';
import type { Instant } from './instants';
import { instantsOf, nearestInstant } from './instants';
import { Sayings } from './Sayings';
import { VisitPages } from './VisitPages';
import { WhyPanel } from './WhyPanel';

const LABELS = 150;

/** One visitor: who they are, all their visits, and at any instant of them why each campaign showed or not. */
export function VisitorHistory({
  facts,
  visits,
  sections,
  browser,
  mayUndo,
  at,
}: {
  facts: VisitorFacts;
  visits: readonly RecordedVisit[];
  sections: readonly string[];
  /** The browser's id, for whoever may give out or erase what is on record of it. */
  browser: string | undefined;
  mayUndo: boolean;
  at: { view: string; t: number } | undefined;
}) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const ribbons = useMemo(() => visits.map((visit) => ({ visit, ribbon: layoutRibbon(visit), instants: instantsOf(visit) })), [visits]);
  const [picked, setPicked] = useState<Instant | undefined>(() => firstInstant(ribbons, at));
  const band = Math.max(200, width - LABELS - 28);
  const longest = Math.max(60_000, ...ribbons.map(({ ribbon }) => ribbon.length));
  const scale = longest / (band - 8);
  const colourOf = colourBySection(sections);
  const chosen = ribbons.find(({ instants }) => instants.some((one) => isSame(one, picked))) ?? ribbons[0];
  const step = (by: number): void => {
    const all = ribbons.find(({ instants }) => instants.some((one) => isSame(one, picked)))?.instants ?? [];
    const next = all[all.findIndex((one) => isSame(one, picked)) + by];
    if (next) setPicked(next);
  };
  return (
    <div className="grid gap-4 p-6">
      <header className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h1 className="text-2xl font-bold">Visitor {facts.id}</h1>
        <p className="text-soft">
          {[
            facts.known ? 'known' : 'not known',
            facts.device,
            facts.location && [facts.location.city, facts.location.country].filter(Boolean).join(', '),
            facts.language,
            facts.visits === 1 ? '1 visit' : `${facts.visits} visits`,
            facts.firstAt && `first on ${new Date(facts.firstAt).toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })}`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </p>
        {browser && (
          <Link
            className="ms-auto text-soft underline decoration-line underline-offset-4 hover:text-ink"
            href={`/setup/privacy?${new URLSearchParams({ by: 'browser', value: browser })}`}
          >
            give out or erase what is on record
          </Link>
        )}
      </header>
      <Sayings visitor={facts.id} sayings={facts.sayings} mayUndo={mayUndo} />
      <Facts facts={facts} />
      <div className="grid grid-cols-1 gap-5 lg:grid-cols-[minmax(0,1fr)_440px]">
        <div className="grid min-w-0 grid-cols-1 content-start gap-4">
          <div ref={ref} className="sheet">
            <div className="flex items-center border-b border-line px-3 py-1.5">
              <span className="shrink-0 text-xs text-soft" style={{ width: LABELS }}>
                Visit
              </span>
              {width > 0 && <RibbonAxis scale={scale} width={band} />}
            </div>
            <ul>
              {ribbons.map(({ visit, ribbon, instants }) => (
                <li key={visit.id} className="flex items-center border-b border-line px-3 py-1 last:border-b-0">
                  <span className="shrink-0 text-xs leading-tight text-soft" style={{ width: LABELS }}>
                    <time
                      dateTime={new Date(visit.at).toISOString()}
                      suppressHydrationWarning
                      className="block text-[13px] font-semibold text-ink"
                    >
                      {new Date(visit.at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}
                    </time>
                    {visit.channel} · {clockWords(ribbon.length)}
                  </span>
                  {width > 0 && (
                    <div
                      role="slider"
                      tabIndex={0}
                      aria-label={`Instants of the visit of ${new Date(visit.at).toISOString().slice(0, 16)}`}
                      aria-valuemin={0}
                      aria-valuemax={Math.max(0, instants.length - 1)}
                      aria-valuenow={Math.max(
                        0,
                        instants.findIndex((one) => isSame(one, picked)),
                      )}
                      aria-valuetext={picked && instants.some((one) => isSame(one, picked)) ? picked.words : 'not chosen'}
                      className="relative cursor-pointer"
                      onClick={(event) => {
                        const folded = (event.clientX - event.currentTarget.getBoundingClientRect().left) * scale;
                        const found = nearestInstant(instants, folded);
                        if (found) setPicked(found);
                      }}
                      onKeyDown={(event) => {
                        if (event.key !== 'ArrowRight' && event.key !== 'ArrowLeft') return;
                        event.preventDefault();
                        if (instants.some((one) => isSame(one, picked))) step(event.key === 'ArrowRight' ? 1 : -1);
                        else if (instants[0]) setPicked(instants[0]);
                      }}
                    >
                      <RibbonBand colourOf={colourOf} ribbon={ribbon} scale={scale} width={band} title={`Visit from ${visit.channel}`} />
                      {picked && instants.some((one) => isSame(one, picked)) && (
                        <span className="pointer-events-none absolute inset-y-0 w-0.5 bg-ink" style={{ left: picked.folded / scale }} />
                      )}
                    </div>
                  )}
                </li>
              ))}
            </ul>
            <p className="border-t border-line px-3 py-2 text-xs text-soft">Click an instant, or step along a visit with the arrow keys.</p>
          </div>
          {chosen && <VisitPages visit={chosen.visit} instants={chosen.instants} picked={picked} colourOf={colourOf} onPick={setPicked} />}
        </div>
        <WhyPanel visitor={facts.id} instant={picked} onStep={step} />
      </div>
    </div>
  );
}

function Facts({ facts: { traits, tags, score, segments } }: { facts: VisitorFacts }) {
  const rows: [string, React.ReactNode][] = [
    ...(Object.keys(traits).length
      ? [
          [
            'Traits',
            Object.entries(traits)
              .map(([key, value]) => `${key}: ${String(value)}`)
              .join(' · '),
          ] as [string, React.ReactNode],
        ]
      : []),
    ...(tags.length ? [['Tags', tags.join(' · ')] as [string, React.ReactNode]] : []),
    ...(score ? [['Score', String(score)] as [string, React.ReactNode]] : []),
    [
      'Segments',
      segments.length ? (
        <span className="flex flex-wrap gap-x-3">
          {segments.map(({ id, name }) => (
            <Link key={id} className="phrase phrase-people" href={`/segments/${id}`}>
              {name}
            </Link>
          ))}
        </span>
      ) : (
        'in none'
      ),
    ],
  ];
  return (
    <dl className="flex flex-wrap gap-x-8 gap-y-1">
      {rows.map(([name, value]) => (
        <div key={name} className="flex gap-2">
          <dt className="text-soft">{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

const isSame = (one: Instant, other: Instant | undefined): boolean => one.view === other?.view && one.t === other.t;

/** What an address names, or the last showing, or the end of the newest visit. */
function firstInstant(
  ribbons: readonly { instants: readonly Instant[] }[],
  at: { view: string; t: number } | undefined,
): Instant | undefined {
  const all = ribbons.flatMap(({ instants }) => instants);
  const inView = at ? all.filter(({ view }) => view === at.view) : [];
  const named = [...inView].sort((a, b) => Math.abs(a.t - (at?.t ?? 0)) - Math.abs(b.t - (at?.t ?? 0)))[0];
  return named ?? all.find(({ isShowing }) => isShowing) ?? ribbons[0]?.instants.at(-1);
}
