'use client';

import { useQueries } from '@tanstack/react-query';
import { scaleLinear } from 'd3-scale';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import type { Goal } from '@/core/campaigns/campaign';
import type { ResultRow } from '@/core/results/report';
import { SHOWN } from '@/core/results/report';
import type { Annoyance, MetCampaign } from '@/server/results/all';
import type { CampaignResults } from '@/server/results/report';
import { addressOf, fetched } from '../parts/net/call';
import { Empty } from '../parts/layout/Empty';
import { ScreenHead } from '../parts/layout/ScreenHead';
import { SpansFile } from './SpansFile';
import { WeeklyMail } from './WeeklyMail';
import {
  count,
  hasOddShares,
  isClear,
  isTooWide,
  nothingComparedWords,
  percent,
  points,
  reachOf,
  successWords,
  valueName,
} from '@/core/results/words';

type Line = MetCampaign & { readonly goal: Goal };

const WIDTH = 240;

/** Every campaign that somebody met: its steps, and its difference with its span on one axis; and what all messages do to a visit. */
export function AllResults({
  days,
  since,
  together,
  campaigns,
}: {
  days: number;
  since: number;
  together: Annoyance;
  campaigns: readonly Line[];
}) {
  const router = useRouter();
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const found = useQueries({
    queries: campaigns.map(({ id }) => ({
      queryKey: ['results', id, 'overview', since],
      queryFn: () => fetched('GET /api/campaigns/{id}/overview', { params: { id }, query: { zone, from: String(since) } }),
    })),
  });
  const compared = found.flatMap(({ data }) => data?.rows.flatMap(({ against }) => (against ? [against] : [])) ?? []);
  const reach = reachOf(compared);
  const x = scaleLinear([-reach, reach], [6, WIDTH - 6]).clamp(true);
  return (
    <div className="grid grid-cols-1 gap-5 p-6">
      <ScreenHead title="Results">
        <label className="flex items-center gap-2 text-soft">
          Visitors who met a campaign in the last
          <select className="field text-ink" value={days} onChange={({ target }) => router.push(`/results?days=${target.value}`)}>
            {[7, 30, 90].map((one) => (
              <option key={one} value={one}>
                {one} days
              </option>
            ))}
          </select>
        </label>
      </ScreenHead>
      <Together together={together} />
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
        <WeeklyMail />
        <div className="ms-auto flex items-center gap-3">
          <SpansFile
            lines={campaigns.flatMap(({ name }, index) => (found[index]?.data?.rows ?? []).map((row) => ({ title: name, row })))}
            title={`Differences in points, with their spans; last ${days} days`}
            name="results"
          />
          {campaigns.length > 0 && (
            <a
              className="text-soft underline decoration-line underline-offset-4 hover:text-ink print:hidden"
              href={addressOf('GET /results.csv', { query: { zone, from: String(since) } })}
              download
            >
              CSV
            </a>
          )}
        </div>
      </div>
      {campaigns.length === 0 ? (
        <Empty title="Nobody met a campaign yet.">
          A campaign is met when its rule fires for a visitor. Switch one on and publish; what comes of it stands here, with how surely it
          is known.
        </Empty>
      ) : (
        <div className="sheet overflow-x-auto">
          <table className="w-full min-w-[1000px] border-collapse">
            <thead>
              <tr className="text-soft">
                <th className="px-4 py-2 text-start font-normal">Campaign</th>
                <th className="px-2 text-start font-normal">met, saw it, answered, success</th>
                <th className="px-2 text-end font-normal">rate</th>
                <th className="px-2 text-start font-normal" style={{ width: WIDTH }}>
                  <span className="sr-only">Difference, drawn</span>
                  <svg width={WIDTH} height="16" aria-hidden="true" className="block overflow-visible">
                    {x.ticks(5).map((tick) => (
                      <text key={tick} x={x(tick)} y="12" fontSize="11" textAnchor="middle" fill="var(--soft)">
                        {points(tick)}
                      </text>
                    ))}
                  </svg>
                </th>
                <th className="px-4 text-start font-normal">difference in points since its last change</th>
              </tr>
            </thead>
            <tbody>
              {campaigns.map((campaign, index) => (
                <Row
                  key={campaign.id}
                  campaign={campaign}
                  isFirstOfPurpose={campaign.purpose !== null && campaigns[index - 1]?.purpose !== campaign.purpose}
                  results={found[index]?.data}
                  error={found[index]?.error?.message}
                  x={x}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
    </div>
  );
}

function Row({
  campaign: { id, name, purpose, goal },
  isFirstOfPurpose,
  results,
  error,
  x,
}: {
  campaign: Line;
  isFirstOfPurpose: boolean;
  results: CampaignResults | undefined;
  error: string | undefined;
  x: (difference: number) => number;
}) {
  const shown = results?.rows.filter(({ value }) => value !== 'nothing') ?? [];
  const [of, successes] = [shown.reduce((sum, row) => sum + row.met, 0), shown.reduce((sum, row) => sum + row.successes, 0)];
  const compared = results?.rows.filter((row) => row.against) ?? [];
  return (
    <>
      {isFirstOfPurpose && (
        <tr className="border-t border-line bg-bone">
          <th colSpan={5} scope="rowgroup" className="px-4 py-1.5 text-start font-semibold text-soft">
            {purpose}
          </th>
        </tr>
      )}
      <tr className="border-t border-line">
        <th scope="row" className={`py-2 text-start font-semibold ${purpose ? 'ps-8 pe-4' : 'px-4'}`}>
          <Link className="underline decoration-line underline-offset-4" href={`/campaigns/${id}?tab=results`}>
            {name}
          </Link>
          <span className="block font-normal text-soft">success: {successWords(goal)}</span>
          {results && hasOddShares(results) && (
            <span className="block font-normal text-danger">Not met in the shares that were dealt: these numbers may be wrong.</span>
          )}
        </th>
        <td className="px-2">
          {error ? (
            <span role="alert" className="text-danger">
              {error}
            </span>
          ) : results ? (
            <Steps steps={results.steps} />
          ) : (
            <div className="skeleton h-8 w-40" role="status" aria-label={`Working out ${name}`} />
          )}
        </td>
        <td className="whitespace-nowrap px-2 text-end font-bold">{of > 0 ? percent(successes / of) : '–'}</td>
        <td className="px-2">
          <svg width={WIDTH} height={Math.max(1, compared.length) * 22} aria-hidden="true" className="block">
            <line x1={x(0)} x2={x(0)} y1="0" y2={Math.max(1, compared.length) * 22} stroke="var(--soft)" />
            {compared.map((row, index) => (
              <Span key={row.value} row={row} y={11 + index * 22} x={x} />
            ))}
          </svg>
        </td>
        <td className="px-4 text-soft">
          {results && compared.length === 0 && nothingComparedWords(results.isOwnGoal)}
          {compared.map((row) => (
            <p key={row.value}>
              {row.value !== SHOWN && <span>{valueName(row.value)}: </span>}
              <Told row={row} />
            </p>
          ))}
        </td>
      </tr>
    </>
  );
}

function Told({ row: { against } }: { row: ResultRow }) {
  if (!against) return null;
  const [low, high] = against.span;
  if (isTooWide(against)) return <>too few yet</>;
  return isClear(against) ? (
    <span className="text-ink">
      <b>{points(against.difference)}</b> {points(low)} to {points(high)}
    </span>
  ) : (
    <>
      {points(low)} to {points(high)} · not clear yet
    </>
  );
}

function Span({ row: { against }, x, y }: { row: ResultRow; x: (difference: number) => number; y: number }) {
  if (!against || isTooWide(against)) return null;
  const [low, high] = against.span;
  return (
    <g stroke="var(--pine)" fill="var(--pine)" opacity={isClear(against) ? 1 : 0.45}>
      <line x1={x(low)} x2={x(high)} y1={y} y2={y} strokeWidth="3" />
      <circle cx={x(against.difference)} cy={y} r="4.5" />
    </g>
  );
}

function Steps({ steps }: { steps: CampaignResults['steps'] }) {
  const of = (step: string): number => steps.find((one) => one.step === step)?.visitors ?? 0;
  const told = (['met', 'shown', 'engaged', 'success'] as const).map((step) => [step, of(step)] as const);
  const most = Math.max(1, of('met'));
  return (
    <span className="flex items-end gap-3">
      {told.map(([step, visitors]) => (
        <span key={step} className="grid w-16 gap-0.5">
          <span className={`h-1.5 ${step === 'met' ? 'bg-soft' : 'bg-pine'}`} style={{ width: `${(100 * visitors) / most}%` }} />
          <span>{count(visitors)}</span>
        </span>
      ))}
    </span>
  );
}

/** What all messages together do to a visit, so that annoyance is seen. */
function Together({ together: { visits, withMessage, endedSoon, shownTo, dismissedThrice } }: { together: Annoyance }) {
  const share = (part: number, whole: number): string => (whole > 0 ? percent(part / whole) : '–');
  const told = [
    [share(withMessage, visits), 'of all visits saw a message', `${count(withMessage)} of ${count(visits)}`],
    [share(endedSoon, withMessage), 'of those ended within 5 s of one', `${count(endedSoon)} of ${count(withMessage)}`],
    [share(dismissedThrice, shownTo), 'of those who saw any closed three in a row', `${count(dismissedThrice)} of ${count(shownTo)}`],
  ] as const;
  return (
    <section aria-label="What messages do to a visit" className="sheet grid grid-cols-1 divide-line sm:grid-cols-3 sm:divide-x">
      {told.map(([number, words, of]) => (
        <p key={words} className="px-5 py-3">
          <b className="font-display text-2xl">{number}</b> {words} <span className="text-soft">({of})</span>
        </p>
      ))}
    </section>
  );
}
