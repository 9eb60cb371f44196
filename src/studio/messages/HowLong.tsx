'use client';

import { useMemo, useState } from 'react';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { isOwnGoal } from '@/core/campaigns/campaign';
import { startOf } from '@/core/flows/flow';
import type { Expr } from '@/core/logic/expr';
import { placeOf } from '@/core/messages/message';
import type { PeopleCondition } from '@/core/people/condition';
import { daysToTell } from '@/core/results/planning';
import { FORETOLD_DAYS, useForetold } from '../campaigns/useForetold';
import { NumberField } from '../rule/fields';
import { useCounted } from '../segments/useCounted';
import { Phrase } from './Phrase';

/** Where nothing is on record of a goal. */
const ASSUMED_RATE = 0.03;
const LONG_DAYS = 90;
/** Counted again at most this often. */
const FRESH_MS = 60_000;

/** How long it takes to tell a difference, as the shares are dealt: from who would meet the campaign, and from what they do without it. */
export function HowLong({ campaign }: { campaign: CampaignDocument }) {
  const { rule, flow, goal, holdout = 0, variants } = campaign;
  const [points, setPoints] = useState(1);
  const [ownRate, setOwnRate] = useState<number>();
  const asked = useMemo(() => [{ id: 'met', rule, place: placeOf(startOf(flow)) }], [rule, flow]);
  const met = useForetold(asked).get('met');
  const past = usePastRate(campaign);
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
  return (
    <p className="text-soft">
      To tell{' '}
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
      {ownRate === undefined && (past === undefined ? '(assumed)' : '(as seen in the last 30 days)')}{' '}
      {days === undefined ? (
        <b className="text-ink">takes for ever: nobody met its moment in the last 30 days.</b>
      ) : (
        <>
          takes about <b className="text-ink">{inWords(days)}</b>
          {days > LONG_DAYS && ' – a larger difference, or more who meet its moment, is told sooner'}. {met.isSample ? '≈ ' : ''}
          {perDay < 10 ? perDay.toFixed(1) : Math.round(perDay).toLocaleString('en-GB')} visits a day would meet it.
        </>
      )}
    </p>
  );
}

const inWords = (days: number): string =>
  days > 730 ? `${Math.round(days / 365).toLocaleString('en-GB')} years` : `${Math.max(1, Math.ceil(days)).toLocaleString('en-GB')} days`;

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
