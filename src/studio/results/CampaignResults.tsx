'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'next/navigation';
import { useRef } from 'react';
import type { Goal } from '@/core/campaigns/campaign';
import type { Dimension, ResultRow, Step } from '@/core/results/report';
import { NOTHING, SHOWN } from '@/core/results/report';
import type { CampaignResults as Results } from '@/server/results/report';
import { addressOf, fetched } from '../parts/net/call';
import { useRecorded } from '../rule/recorded';
import { ConversationsCame } from './ConversationsCame';
import { CourseChart } from './CourseChart';
import { ForetoldAndCame } from './ForetoldAndCame';
import { beginningOf, dayOf, endOf, Period } from './Period';
import { SideBySide } from './SideBySide';
import { SpansFile } from './SpansFile';
import { TakeOut } from './TakeOut';
import { answerWords, closedWords, count, daysInWords, hasOddShares, percent, successWords } from '@/core/results/words';

const BY_NAMES: Partial<Record<Dimension, string>> = {
  page: 'Page of the first meeting',
  day: 'Day of the first meeting',
  device: 'Devices',
  channel: 'Channels',
  returning: 'New and returning',
  known: 'Known and not known',
  country: 'Countries',
};
/** More rows than this are countries nobody compares. */
const MOST_ROWS = 12;

const nameOfTable = (by: Dimension, segments: readonly { readonly id: string; readonly name: string }[]): string =>
  BY_NAMES[by] ?? `In “${segments.find(({ id }) => by === `segment:${id}`)?.name ?? by}” by then`;

/** In points. */
const DIFFERENCES = ['0.5', '1', '2', '5', '10'] as const;

/** A version that is dealt to nobody any more keeps whoever it was dealt to, and is said to be so. */
function withFate(row: ResultRow, dealt: readonly string[]): ResultRow {
  if (row.value === NOTHING || dealt.includes(row.value) || (row.value === SHOWN && dealt.length === 0)) return row;
  return { ...row, value: row.value === SHOWN ? 'shown it before there were variants' : `${row.value} (not dealt any more)` };
}

/** What a campaign came to: the answer, how it became known, the steps, and everything side by side. */
export function CampaignResults({
  campaign,
  goal,
  variants: dealt = [],
}: {
  campaign: string;
  goal: Goal;
  variants?: readonly string[] | undefined;
}) {
  const chart = useRef<HTMLElement>(null);
  // What was chosen stands in the address, so that a link shows the same to somebody else.
  const query = useSearchParams();
  const [from, to] = [query.get('from') ?? '', query.get('to') ?? ''];
  const since = query.get('since') ?? undefined;
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const by = (query.get('by') ?? undefined) as Dimension | undefined;
  const told = query.get('points') ?? '1';
  const { segments } = useRecorded();
  const choose = (next: Partial<Record<'from' | 'to' | 'since' | 'by' | 'points', string>>): void => {
    // Two choices may come faster than the first is drawn: what stands in the address by now is kept.
    const params = new URLSearchParams(window.location.search);
    params.set('tab', 'results');
    for (const [name, value] of Object.entries(next))
      if (value && !(name === 'points' && value === '1')) params.set(name, value);
      else params.delete(name);
    window.history.replaceState(null, '', `?${params}`);
  };
  const [begins, ends] = [beginningOf(from), endOf(to)];
  const { data, error, isPlaceholderData } = useQuery({
    queryKey: ['results', campaign, begins, ends, since, by, told, JSON.stringify(goal)],
    placeholderData: keepPreviousData,
    refetchOnMount: 'always',
    queryFn: async () => {
      const query = { zone, from: begins, to: ends, since, by, points: told };
      return fetched('GET /api/campaigns/{id}/results', { params: { id: campaign }, query });
    },
  });
  const period = <Period from={from} to={to} since={data?.since ?? undefined} starts={data?.starts ?? []} choose={choose} />;
  if (error)
    return (
      <div className="grid gap-4">
        {period}
        <p role="alert" className="text-danger">
          {error.message}
        </p>
      </div>
    );
  if (!data) return <div className="skeleton h-96" role="status" aria-label="Working out the results" />;
  const variants = data.rows;
  const answer = answerWords(variants, goal);
  const nothing = variants.find(({ value }) => value === 'nothing');
  return (
    // What is still being worked out is told apart from what stands.
    <div className={`grid grid-cols-1 gap-4 ${isPlaceholderData ? 'opacity-60' : ''}`} aria-busy={isPlaceholderData}>
      <div className="flex flex-wrap items-center gap-3 text-soft">
        {period}
        {data.unripe > 0 && <span>{count(data.unripe)} of them may still succeed: their days are not over.</span>}
      </div>
      {hasOddShares(data) && (
        <p role="alert" className="sheet border-s-4 border-danger p-4">
          <b>These numbers may be wrong.</b> Visitors were not met in the shares that were dealt (a chance of less than one in a thousand):
          something keeps one group from being recorded.
        </p>
      )}
      {data.keptSince !== null && data.keptSince > data.from && (
        <p className="sheet border-s-4 border-moment p-4">
          Visits from before {dayOf(data.keptSince)} are not kept: whoever met it before then is in no number.
        </p>
      )}
      {data.goalChangedAt !== null && data.goalChangedAt > data.from && (
        <p className="sheet border-s-4 border-moment p-4">
          What counts as success was changed on{' '}
          {new Date(data.goalChangedAt).toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })}. All visitors are counted by what it
          is now.
        </p>
      )}
      <section className="sheet p-5" aria-label="The answer">
        <p className="font-display text-xl leading-snug">
          {answer.before} {answer.difference && <b className={answer.isClear ? 'bg-pine/15' : 'font-normal'}>{answer.difference}</b>}
          {answer.after}
        </p>
        <p className="mt-2 text-soft">
          {count(data.met)} met its moment
          {nothing ? `; ${count(nothing.met)} of them, picked by chance, are the control group, which saw nothing` : ''}.{' '}
          {answer.difference && LOOKS[data.looks]}
          {!nothing && !data.isOwnGoal && data.met > 0 && ' There is no control group to compare it with.'}
          {data.isOwnGoal && ' What only the message itself brings about cannot be compared with seeing nothing.'}
        </p>
        {answer.difference && data.looks === 'always' && !answer.isClear && data.needed && data.needed.days > 0 && (
          <p className="text-soft">
            Some {count(data.needed.visitors)} more visitors, at the present pace {daysInWords(data.needed.days)}, would tell a difference
            of{' '}
            <select
              aria-label="Difference to tell"
              className="field text-ink"
              value={told}
              onChange={({ target }) => choose({ points: target.value })}
            >
              {DIFFERENCES.map((one) => (
                <option key={one} value={one}>
                  {one} {one === '1' ? 'point' : 'points'}
                </option>
              ))}
            </select>
            .
          </p>
        )}
        <Worth results={data} />
        <Strata rows={data.rows} />
      </section>
      <div className="grid grid-cols-1 gap-4 lg:grid-cols-[2fr_1fr]">
        <section ref={chart} className="sheet min-w-0 p-4" aria-labelledby="known">
          <div className="mb-2 flex flex-wrap items-baseline gap-3">
            <h2 id="known" className="me-auto font-semibold">
              The difference, as it became known{' '}
              <span className="font-normal text-soft">
                points · each day’s {data.looks === 'always' ? 'span' : 'interval, for one look'}
              </span>
            </h2>
            {data.course.length > 1 && <TakeOut from={chart} name="difference" />}
          </div>
          {data.course.length > 1 ? (
            <CourseChart
              course={data.course}
              marks={data.marks}
              zone={zone}
              title="The difference, as it became known"
              looks={data.looks}
              onPeriod={(first, end) => choose({ from: first, to: end, since: '' })}
            />
          ) : (
            <p className="text-soft">
              {data.course.length === 0 ? 'There is nothing to compare.' : 'One day tells nothing of a course; look again tomorrow.'}
            </p>
          )}
        </section>
        <Steps results={data} goal={goal} />
      </div>
      <label className="flex items-center gap-2 text-soft print:hidden">
        and told apart by
        <select className="field text-ink" value={by} onChange={({ target }) => choose({ by: target.value })}>
          <option value="">nothing else</option>
          <option value="page">page of the first meeting</option>
          <option value="day">day of the first meeting</option>
          {segments.map(({ id, name }) => (
            <option key={id} value={`segment:${id}`}>
              whether they were in “{name}” by then
            </option>
          ))}
        </select>
      </label>
      <SideBySide
        success={goal.kind === 'event' ? goal.event : 'success'}
        tables={[
          { title: 'Variants', rows: data.rows.map((row) => withFate(row, dealt)) },
          ...data.by.map(({ by: one, rows }) => ({
            title: nameOfTable(one, segments),
            rows: one === 'day' ? rows : rows.slice(0, MOST_ROWS),
          })),
        ]}
      />
      <ConversationsCame campaign={campaign} from={begins} to={ends} />
      <ForetoldAndCame campaign={campaign} />
      <div className="flex flex-wrap items-center gap-4 print:hidden">
        <a
          className="act-quiet"
          href={addressOf('GET /results.csv', {
            query: { campaign, zone, from: begins, to: ends, since, by },
          })}
          download
        >
          Take out as CSV
        </a>
        <SpansFile
          lines={[
            ...data.rows.map((row) => ({ title: 'Variants', row })),
            ...data.by.flatMap(({ by: one, rows }) => rows.slice(0, MOST_ROWS).map((row) => ({ title: nameOfTable(one, segments), row }))),
          ]}
          title="Differences in points, with their spans"
          name="side-by-side"
        />
      </div>
    </div>
  );
}

const LOOKS: Readonly<Record<Results['looks'], string>> = {
  always: 'You may look as often as you like: the span stays right in 95 of 100 such campaigns.',
  once: 'In a period of your own an interval holds for one look at it, and nothing is called clear: that takes a fixed start.',
};

/** Where shares were changed on the way: how the difference was taken, and who is in none. */
function Strata({ rows }: { rows: Results['rows'] }) {
  const told = rows.flatMap(({ against }) => (against && (against.strata > 1 || against.leftOut > 0) ? [against] : []));
  const [first] = told;
  if (!first) return null;
  const leftOut = Math.max(...told.map((one) => one.leftOut));
  return (
    <p className="text-soft">
      The split was changed on the way.
      {first.strata > 1 && ` The difference is taken within each of the ${first.strata} parts that were dealt alike, and put together.`}
      {leftOut > 0 && ` ${count(leftOut)} visitors are in no difference: where they were dealt there is nobody to compare them with.`}
    </p>
  );
}

function Worth({ results: { rows } }: { results: Results }) {
  const told = rows.find(({ against }) => against?.worth !== undefined);
  const worth = told?.against?.worth;
  if (!told || !worth) return null;
  const money = (value: number): string => value.toLocaleString('en-GB', { maximumFractionDigits: 2 }).replace('-', '−');
  const [low, high] = worth.span;
  const who = told.value === SHOWN ? 'is shown it' : `is shown “${told.value}”`;
  const than = told.against?.value === NOTHING ? 'of the control group' : `who is shown “${told.against?.value}”`;
  return (
    <p className="text-soft">
      Each visitor who {who} is worth {money(Math.abs(worth.difference))} {worth.difference < 0 ? 'less' : 'more'} than one {than},
      somewhere between {money(low)} and {money(high)}
      {low <= 0 && high >= 0 ? ': not clear yet' : ''}.
    </p>
  );
}

const STEP_NAMES: Readonly<Record<Exclude<Step, 'success'>, string>> = {
  met: 'met its moment',
  shown: 'saw it',
  engaged: 'pressed or answered',
  sent: 'sent or replied',
};

/** Of which step each is a part; success may come without an answer. */
const OF: Partial<Record<Step, Step>> = { engaged: 'shown', sent: 'engaged', success: 'shown' };

function Steps({ results: { steps, dismissed, dismissals }, goal }: { results: Results; goal: Goal }) {
  const most = Math.max(1, ...steps.map(({ visitors }) => visitors));
  return (
    <section className="sheet p-4" aria-labelledby="steps">
      <h2 id="steps" className="mb-2 font-semibold">
        From its moment to success
      </h2>
      <ol className="grid gap-2">
        {steps.map(({ step, visitors }) => {
          const before = steps.find((one) => one.step === OF[step])?.visitors;
          return (
            <li key={step}>
              <span className="flex justify-between gap-2">
                <span>{step === 'success' ? successWords(goal) : STEP_NAMES[step]}</span>
                {before !== undefined && before > 0 && (
                  <span className="text-soft">
                    {percent(visitors / before)} {step === 'success' ? 'of who saw it' : 'of those'}
                  </span>
                )}
              </span>
              <span className="flex items-center gap-2">
                <span className={`h-2.5 ${step === 'met' ? 'bg-soft' : 'bg-pine'}`} style={{ width: `${(visitors / most) * 75}%` }} />
                <b>{count(visitors)}</b>
              </span>
            </li>
          );
        })}
      </ol>
      <p className="mt-3 text-soft">{closedWords(dismissed, dismissals)}</p>
    </section>
  );
}
