import type { Goal } from '@/core/campaigns/campaign';
import type { Happened } from '@/core/campaigns/goals';
import { owedShowing, reachesGoal } from '@/core/campaigns/goals';
import { assign } from '@/core/campaigns/assign';
import type { Flow } from '@/core/flows/flow';
import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import type { Visitor } from '@/core/history/visitor';
import { pagesHold } from '@/core/pages/pages';
import type { Candidate } from '@/core/pacing/decider';
import type { PacingRecord } from '@/core/pacing/pacing';
import { noteOutcome } from '@/core/pacing/pacing';
import { replayView } from '@/core/pacing/replay';
import { peopleHold } from '@/core/people/condition';
import type { Subject } from '@/core/people/subject';
import { writeOut } from '@/core/people/writeOut';
import { leavesOf } from '@/core/logic/expr';
import type { Rule } from '@/core/rules/schema';
import type { Truth as Truth3 } from '@/core/logic/truth';
import type { Dice } from '@/core/random/dice';
import type { Effect, Truth } from '../world/truth';
import type { Person } from './people';
import type { SimulatedView } from './simulate';
import { DAY_MS } from '@/core/time/day';

export interface LiveCampaign {
  readonly id: string;
  readonly goal: Goal;
  readonly rule: Rule;
  readonly flow: Flow;
  readonly holdout?: number | undefined;
  readonly variants?: readonly { readonly name: string; readonly weight: number; readonly start: string }[] | undefined;
  readonly truth: Truth;
}

export interface SimulatedOutcome {
  readonly kind: 'clicked' | 'converted' | 'dismissed' | 'replied';
  readonly at: number;
}

export interface SimulatedShowing {
  readonly id: string;
  readonly campaign: string;
  readonly viewId: string;
  readonly url: string;
  readonly at: number;
  readonly shown: boolean;
  readonly variant?: string | undefined;
  /** Grows while the visitor's life goes on: a goal may be reached days later. */
  readonly outcomes: SimulatedOutcome[];
  readonly email?: string | undefined;
  readonly tag?: string | undefined;
}

interface Played {
  readonly showings: readonly SimulatedShowing[];
  readonly effects: readonly Effect[];
}

export interface CampaignPlay {
  /** What each campaign does in a page view, and how the person answers. */
  readonly playView: (given: {
    view: SimulatedView;
    visitAt: number;
    visitor: Visitor;
    person: Person;
    record: PacingRecord;
    dice: Dice;
  }) => Played;
  /** Adds the conversions that what happened brings to the showings so far, by the same rule as live ones; returns what was added. */
  readonly reachGoals: (
    happened: Happened & { readonly at: number },
    showings: readonly SimulatedShowing[],
    record: PacingRecord,
  ) => { campaign: string; outcome: 'converted'; at: number }[];
}

/** Plays campaigns to simulated people, deciding by the page script's own code. */
export function createCampaignPlay(
  campaigns: readonly LiveCampaign[],
  known: Pick<Subject, 'sets' | 'segments' | 'places'>,
  until: number,
): CampaignPlay {
  let now = { visitor: undefined as Visitor | undefined, view: '' };
  const settled = new Map<string, { view: string; holds: Truth3 }>();
  const stays = new Set(campaigns.flatMap(({ id, rule }) => (rule.people && isSettled(rule.people, known) ? [id] : [])));
  const candidates = campaigns.map(({ id, rule, flow, truth }): Candidate => ({
    id,
    place: placeOf(startOf(flow)),
    moment: rule.moment,
    pacing: rule.pacing ?? {},
    fits: (at) => {
      if (at < until - truth.fromDaysAgo * DAY_MS || at >= until - truth.untilDaysAgo * DAY_MS || !now.visitor) return false;
      // Which pages it is for has been asked already.
      if (!rule.people) return true;
      const kept = settled.get(id);
      if (kept?.view === now.view) return kept.holds;
      const holds = peopleHold(rule.people, { visitor: now.visitor, now: at, lookback: 540, ...known });
      if (stays.has(id)) settled.set(id, { view: now.view, holds });
      return holds;
    },
  }));
  // Which campaigns are for a page is asked once for each page.
  const mayShow = new Map<string, Candidate[]>();
  const candidatesOn = (view: SimulatedView): Candidate[] => {
    const key = `${view.url}\n${view.title}`;
    let found = mayShow.get(key);
    if (!found)
      mayShow.set(key, (found = candidates.filter((_, index) => pagesHold(campaigns[index]?.rule.pages ?? {}, view, known.sets) === true)));
    return found;
  };

  const playView: CampaignPlay['playView'] = ({ view, visitAt, visitor, person, record, dice }) => {
    now = { visitor, view: view.id };
    const here = candidatesOn(view);
    if (here.length === 0) return { showings: [], effects: [] };
    const before = { visitElapsed: view.at - visitAt };
    const shown = replayView({ at: view.at, signals: view.signals, leave: view.leaveMs, before }, { candidates: here, record });
    const showings: SimulatedShowing[] = [];
    const effects: Effect[] = [];
    for (const { campaign: id, at } of shown) {
      const campaign = campaigns.find((one) => one.id === id);
      if (!campaign) continue;
      const assigned = assign(campaign, person.browserId, id);
      const showing = { id: dice.uuid(at), campaign: id, viewId: view.id, url: view.url, at };
      if (assigned.kind === 'holdout') {
        showings.push({ ...showing, shown: false, outcomes: [] });
        continue;
      }
      showings.push({ ...showing, shown: true, variant: assigned.variant, ...answer(campaign, at, view, record, dice) });
      const { effect, ofVariant } = campaign.truth;
      if (ofVariant === undefined || ofVariant === assigned.variant) effects.push(effect);
    }
    return { showings, effects };
  };

  const reachGoals: CampaignPlay['reachGoals'] = (happened, showings, record) =>
    campaigns.flatMap(({ id, goal }) => {
      const { at } = happened;
      if (goal.kind === 'form' || goal.kind === 'reply' || !reachesGoal(goal, happened, at, known.sets)) return [];
      const owed = owedShowing(
        showings.filter(({ campaign }) => campaign === id),
        { at, days: goal.days },
      );
      if (!owed || owed.outcomes.some(({ kind }) => kind === 'converted')) return [];
      owed.outcomes.push({ kind: 'converted', at });
      noteOutcome(record, id, 'converted');
      return [{ campaign: id, outcome: 'converted', at }];
    });
  return { playView, reachGoals };
}

/** What stays as it is for a whole page view. */
const SETTLED: readonly string[] = ['source', 'location', 'weather', 'away', 'device', 'trait'];

const isSettled = (people: NonNullable<Rule['people']>, { segments }: Pick<Subject, 'segments'>): boolean =>
  leavesOf(writeOut(people, segments, [])).every(({ leaf }) => SETTLED.includes(leaf.kind));

function answer(
  { id, truth, flow }: LiveCampaign,
  shownAt: number,
  view: SimulatedView,
  record: PacingRecord,
  dice: Dice,
): Pick<SimulatedShowing, 'outcomes' | 'email' | 'tag'> {
  const tag = flow.messages.flatMap((message) => (message.format === 'quiet' ? message.does : [])).find(({ kind }) => kind === 'tag');
  const marks = tag?.kind === 'tag' ? { tag: tag.tag } : {};
  const at = shownAt + dice.whole(1500, 9000);
  const throwOf = dice.next();
  if (at > view.at + view.leaveMs) return { outcomes: [], ...marks };
  if (throwOf < truth.converts) {
    noteOutcome(record, id, 'converted');
    return { outcomes: [{ kind: 'converted', at }], email: `walker${dice.whole(1000, 9999)}@post.example`, ...marks };
  }
  if (throwOf < truth.converts + truth.clicks)
    return { outcomes: [{ kind: startOf(flow).format === 'chat' ? 'replied' : 'clicked', at }], ...marks };
  if (throwOf >= truth.converts + truth.clicks + truth.dismisses) return { outcomes: [], ...marks };
  noteOutcome(record, id, 'dismissed');
  return { outcomes: [{ kind: 'dismissed', at }], ...marks };
}
