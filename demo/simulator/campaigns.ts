import type { Goal } from '@/core/campaigns/campaign';
import type { Happened } from '@/core/campaigns/goals';
import { owedShowing, reachesGoal } from '@/core/campaigns/goals';
import { assign } from '@/core/campaigns/assign';
import type { Flow } from '@/core/flows/flow';
import type { Agreed } from '@/core/leads/consent';
import { agreedIn, formFields } from '@/core/leads/consent';
import { startOf } from '@/core/flows/flow';
import { linksFrom } from '@/core/flows/links';
import { placeOf, waysToClose } from '@/core/messages/message';
import type { Dismissal, Visitor } from '@/core/history/visitor';
import { rememberMatches } from '@/core/pages/matcher';
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
  readonly how?: Dismissal;
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
  /** What was answered besides, and agreed to. */
  readonly fields?: Readonly<Record<string, string | boolean>>;
  readonly consent?: readonly Agreed[];
  readonly tag?: string | undefined;
  /** Messages seen after the first. */
  readonly steps?: readonly { readonly message: string; readonly at: number }[];
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

/** A campaign, and from when until when it runs (UTC ms): in a view before or after that nobody needs to be asked. */
interface Running extends Candidate {
  readonly from: number;
  readonly to: number;
}

/** Plays campaigns to simulated people, deciding by the page script's own code. */
export function createCampaignPlay(
  campaigns: readonly LiveCampaign[],
  known: Pick<Subject, 'sets' | 'segments' | 'places'>,
  until: number,
): CampaignPlay {
  let now = { visitor: undefined as Visitor | undefined, view: '' };
  const matches = rememberMatches(known.sets);
  const settled = new Map<string, { view: string; holds: Truth3 }>();
  const stays = new Set(campaigns.flatMap(({ id, rule }) => (rule.people && isSettled(rule.people, known) ? [id] : [])));
  const candidates = campaigns.map(({ id, rule, flow, truth }): Running => ({
    id,
    from: until - truth.fromDaysAgo * DAY_MS,
    to: until - truth.untilDaysAgo * DAY_MS,
    place: placeOf(startOf(flow)),
    moment: rule.moment,
    pacing: rule.pacing ?? {},
    fits: (at) => {
      if (at < until - truth.fromDaysAgo * DAY_MS || at >= until - truth.untilDaysAgo * DAY_MS || !now.visitor) return false;
      // Which pages it is for has been asked already.
      if (!rule.people) return true;
      const kept = settled.get(id);
      if (kept?.view === now.view) return kept.holds;
      const holds = peopleHold(rule.people, { visitor: now.visitor, now: at, lookback: 540, ...known, matches });
      if (stays.has(id)) settled.set(id, { view: now.view, holds });
      return holds;
    },
  }));
  // Which campaigns are for a page is asked once for each page.
  const mayShow = new Map<string, Running[]>();
  const candidatesOn = (view: SimulatedView): Running[] => {
    const key = `${view.url}\n${view.title}`;
    let found = mayShow.get(key);
    if (!found)
      mayShow.set(key, (found = candidates.filter((_, index) => pagesHold(campaigns[index]?.rule.pages ?? {}, view, known.sets) === true)));
    return found;
  };

  const playView: CampaignPlay['playView'] = ({ view, visitAt, visitor, person, record, dice }) => {
    now = { visitor, view: view.id };
    const here = candidatesOn(view).filter(({ from, to }) => view.at + view.leaveMs >= from && view.at < to);
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
      showings.push({
        ...showing,
        shown: true,
        variant: assigned.variant,
        ...answer(campaign, { ...showing, start: assigned.start ?? campaign.flow.start }, view, record, dice),
      });
      const { effect, ofVariant } = campaign.truth;
      if (ofVariant === undefined || ofVariant === assigned.variant) effects.push(effect);
    }
    return { showings, effects };
  };

  const reachGoals: CampaignPlay['reachGoals'] = (happened, showings, record) =>
    campaigns.flatMap(({ id, goal }) => {
      const { at } = happened;
      const own = showings.filter(({ campaign }) => campaign === id);
      if (own.length === 0 || goal.kind === 'form' || goal.kind === 'reply' || !reachesGoal(goal, happened, at, known.sets)) return [];
      const owed = owedShowing(own, { at, days: goal.days });
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
  { id: showing, at: shownAt, start }: { id: string; at: number; start: string },
  view: SimulatedView,
  record: PacingRecord,
  dice: Dice,
): Pick<SimulatedShowing, 'outcomes' | 'email' | 'fields' | 'consent' | 'tag' | 'steps'> {
  const tag = flow.messages.flatMap((message) => (message.format === 'quiet' ? message.does : [])).find(({ kind }) => kind === 'tag');
  const marks = tag?.kind === 'tag' ? { tag: tag.tag } : {};
  const at = shownAt + dice.whole(1500, 9000);
  // Of its own, so that what is added here leaves everybody else's luck as it is.
  const luck = parseInt(showing.slice(-2), 16) / 256;
  const stepsTo = (block: 'form' | undefined): Pick<SimulatedShowing, 'steps'> => {
    const path = pathThrough(flow, start, { block, luck });
    return path.length > 0
      ? { steps: path.map((message, nth) => ({ message, at: shownAt + ((at - shownAt) * (nth + 1)) / (path.length + 1) })) }
      : {};
  };
  const throwOf = dice.next();
  if (at > view.at + view.leaveMs) return { outcomes: [], ...marks };
  if (throwOf < truth.converts) {
    noteOutcome(record, id, 'converted');
    const fields = answersTo(flow, luck);
    return {
      fields,
      consent: agreedIn(flow, fields),
      outcomes: [{ kind: 'converted', at }],
      email: `walker${dice.whole(1000, 9999)}@post.example`,
      ...marks,
      ...stepsTo('form'),
    };
  }
  if (throwOf < truth.converts + truth.clicks)
    return { outcomes: [{ kind: startOf(flow).format === 'chat' ? 'replied' : 'clicked', at }], ...marks, ...stepsTo(undefined) };
  if (throwOf >= truth.converts + truth.clicks + truth.dismisses) return { outcomes: [], ...marks };
  noteOutcome(record, id, 'dismissed');
  return { outcomes: [{ kind: 'dismissed', at, ...closedBy(flow, start, luck) }], ...marks };
}

/** Messages that somebody comes to from the first one: the way to a block of that kind, or one press on. */
function pathThrough(flow: Flow, start: string, { block, luck }: { block: 'form' | undefined; luck: number }): string[] {
  const nextOf = (id: string): string[] => {
    const message = flow.messages.find((one) => one.id === id);
    return message
      ? linksFrom(message, { known: new Set(flow.messages.map((one) => one.id)), goal: { kind: 'form' } }).flatMap(({ to }) => to ?? [])
      : [];
  };
  if (block === undefined) {
    const next = nextOf(start);
    const to = next[Math.floor(luck * next.length)];
    return to === undefined ? [] : [to];
  }
  const has = (id: string): boolean => {
    const message = flow.messages.find((one) => one.id === id);
    return message !== undefined && 'blocks' in message && message.blocks.some(({ kind }) => kind === block);
  };
  const ways: string[][] = [[start]];
  for (const way of ways) {
    const last = way.at(-1) as string;
    if (has(last)) return way.slice(1);
    for (const next of nextOf(last)) if (!way.includes(next)) ways.push([...way, next]);
  }
  return [];
}

/** What somebody writes into a form besides their email: one of the choices, and what has to be agreed to. */
function answersTo(flow: Flow, luck: number): Record<string, string | boolean> {
  const given: Record<string, string | boolean> = {};
  for (const { kind, name, options = [], required = false } of formFields(flow))
    if (kind === 'choice') given[name] = options[Math.floor(luck * options.length)] ?? '';
    else if (kind === 'consent') given[name] = required || luck < 0.6;
  return given;
}

/** Most take the button, some press beside it, some use the keyboard; each only where it closes the message. */
function closedBy(flow: Flow, start: string, luck: number): { how?: Dismissal } {
  const message = flow.messages.find(({ id }) => id === start);
  // A chat has its button, whatever else.
  const ways = message?.format === 'chat' ? ['button'] : message ? waysToClose(message) : [];
  const liked: readonly (readonly [Dismissal, number])[] = [
    ['escape', 0.1],
    ['dim', 0.35],
    ['button', 1],
  ];
  const how = liked.find(([way, upTo]) => luck < upTo && ways.includes(way))?.[0];
  return how ? { how } : {};
}
