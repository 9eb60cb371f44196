'use client';

import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { isOwnGoal } from '@/core/campaigns/campaign';
import { startOf } from '@/core/flows/flow';
import type { Expr } from '@/core/logic/expr';
import { placeOf } from '@/core/messages/message';
import type { PeopleCondition } from '@/core/people/condition';
import { daysToTell, pointsIn } from '@/core/results/planning';
import { NOTHING } from '@/core/results/report';
import { FORETOLD_DAYS, useForetold } from '../campaigns/useForetold';
import { fetched } from '../parts/net/call';
import { NumberField } from '../rule/fields';
import { useCounted } from '../segments/useCounted';
import { Phrase } from './Phrase';

/** Where nothing is on record of a goal. */
const ASSUMED_RATE = 0.03;
const LONG_DAYS = 90;
const SOON_DAYS = 30;
/** Counted again at most this often. */
const FRESH_MS = 60_000;

/** How long it takes to tell a difference, as the shares are dealt: from who would meet the campaign, and from what they do without it. */
export function HowLong({ id, campaign }: { id: string; campaign: CampaignDocument }) {
  const { rule, flow, goal, holdout = 0, variants } = campaign;
  const [points, setPoints] = useState(1);
  const [ownRate, setOwnRate] = useState<number>();
  const asked = useMemo(() => [{ id: 'met', rule, place: placeOf(startOf(flow)) }], [rule, flow]);
  const met = useForetold(asked).get('met');
  const control = useControlRate(id, holdout > 0 && !isOwnGoal(goal));
  const recorded = usePastRate(campaign);
  // Who was treated does not say what people do without it: whoever saw nothing does.
  const past = control ?? recorded;
  if (isOwnGoal(goal) && !variants)
    return (
      <p className="text-soft">
        Only who sees the message can {goal.kind === 'form' ? 'send its form' : 'reply'}: those who see nothing cannot be compared with.
        Variants can.
      </p>
    );
  if (!met) return <p className="text-soft">Working out how long a difference takes …</p>;
  if ('error' in met) return <p className="text-danger">{met.error}</p>;
  const perDay = met.visits / FORETOLD_DAYS;
  const rate = ownRate ?? past ?? ASSUMED_RATE;
  const weights = variants?.map(({ weight }) => weight) ?? [1];
  const sum = weights.reduce((total, weight) => total + weight, 0);
  // What only the message brings about is no success of those who are shown none.
  const nothing = isOwnGoal(goal) ? 0 : holdout;
  const dealt = { variants: weights.map((weight) => (weight / sum) * (1 - holdout)), nothing };
  const days = perDay > 0 ? daysToTell(dealt, { perDay, rate, points: points / 100 }) : undefined;
  const least = pointsIn(dealt, { perDay, rate, days: SOON_DAYS });
  if (perDay === 0)
    return (
      <p className="text-soft">
        Nobody would have met its moment in the last {FORETOLD_DAYS} days, so nothing can be said of how long a difference takes.
      </p>
    );
  return (
    <p className="text-soft">
      {least !== undefined && (
        <>
          In {SOON_DAYS} days you can detect <b className="text-ink">{pointsWords(least)} or more</b>.{' '}
        </>
      )}
      To detect{' '}
      <Phrase label="Difference to tell" words={`${points} ${points === 1 ? 'point' : 'points'}`}>
        {() => (
          <label className="flex items-center gap-2">
            Points of a hundred
            <NumberField label="Points" value={points} min={0.1} max={50} onChange={setPoints} />
          </label>
        )}
      </Phrase>{' '}
      from{' '}
      <Phrase label="What they do without it" words={`${(rate * 100).toFixed(1)} %`}>
        {() => (
          <label className="flex items-center gap-2">
            Of a hundred, how many succeed {nothing > 0 ? 'without it' : 'with the first'}
            <NumberField
              label="Rate in percent"
              value={Number((rate * 100).toFixed(1))}
              min={0.1}
              max={99}
              onChange={(percent) => setOwnRate(percent / 100)}
            />
          </label>
        )}
      </Phrase>{' '}
      {ownRate === undefined && RATE_FROM[control !== undefined ? 'control' : recorded !== undefined ? 'recorded' : 'assumed']}{' '}
      {days !== undefined && (
        <>
          takes about <b className="text-ink">{inWords(days)}</b>
          {days > LONG_DAYS && ' – a larger difference, or more who meet its moment, is told sooner'}. {met.isSample ? '≈ ' : ''}
          {perDay < 10 ? perDay.toFixed(1) : Math.round(perDay).toLocaleString('en-GB')} visits a day would meet it.
        </>
      )}
    </p>
  );
}

/** "0.8 points", "9 points": never less than what can be told. */
const pointsWords = (difference: number): string => {
  const hundred = difference * 100;
  const value = hundred < 2 ? Math.ceil(hundred * 10) / 10 : Math.ceil(hundred);
  return `${value} ${value === 1 ? 'point' : 'points'}`;
};

const inWords = (days: number): string =>
  days > 730 ? `${Math.round(days / 365).toLocaleString('en-GB')} years` : `${Math.max(1, Math.ceil(days)).toLocaleString('en-GB')} days`;

const RATE_FROM = {
  control: '(as the control group does)',
  recorded: '(as in the last 30 days on these pages)',
  assumed: '(assumed)',
} as const;

/** Of fewer a rate says little. */
const LEAST_OF_CONTROL = 50;

/** What the control group does since the campaign's last change; undefined while there are too few, or none. */
function useControlRate(id: string, isAsked: boolean): number | undefined {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const { data } = useQuery({
    queryKey: ['results', id, 'planning'],
    enabled: isAsked,
    staleTime: FRESH_MS,
    queryFn: () => fetched('GET /api/campaigns/{id}/results', { params: { id }, query: { zone } }),
  });
  const control = data?.rows.find(({ value }) => value === NOTHING);
  if (!control || control.met < LEAST_OF_CONTROL || control.rate === null) return undefined;
  return Math.min(0.99, Math.max(0.001, control.rate));
}

/** Of those on whose pages it would show, the share who reached its goal in the last 30 days; undefined for a form, or with nobody on record. */
function usePastRate({ rule, goal }: CampaignDocument): number | undefined {
  const there: Expr<PeopleCondition> = { kind: 'viewed', ...(rule.pages?.on?.length ? { pages: rule.pages.on } : {}), times: { min: 1 } };
  const reached: Expr<PeopleCondition> | undefined =
    goal.kind === 'event'
      ? { kind: 'did', event: goal.event, times: { min: 1 } }
      : goal.kind === 'page'
        ? { kind: 'viewed', pages: goal.pages, times: { min: 1 } }
        : undefined;
  const given = { isReady: reached !== undefined, staleMs: FRESH_MS };
  const all = useCounted('size', { lookback: FORETOLD_DAYS, people: there }, given);
  const some = useCounted('size', { lookback: FORETOLD_DAYS, people: { all: [there, reached ?? there] } }, given);
  if (!reached || !all.data?.people || !some.data) return undefined;
  return Math.min(0.99, Math.max(0.001, some.data.people / all.data.people));
}
