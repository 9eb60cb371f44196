import type { CampaignDocument, CampaignStatus } from '../campaigns/campaign';
import type { Places } from '../geo/place';
import type { VisitorRecord } from '../history/record';
import { LONGEST_LOOKBACK_DAYS } from '../history/visitor';
import type { PictureSizes } from '../messages/pictures';
import { valuesOf } from '../messages/values';
import { advanceTo, openTimeline, takeSignal } from '../moments/timeline';
import type { Brand } from '../brand/brand';
import type { Budget } from '../pacing/pacing';
import { startOf } from '../flows/flow';
import { placeOf } from '../messages/message';
import type { WordsFor } from '../pages/names';
import type { PageSets } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import { conditionHolds } from '../people/condition';
import { leavesOf } from '../logic/expr';
import type { SegmentBody, Subject } from '../people/subject';
import type { Release, ReleasedFacts } from '../release/release';
import { compileRelease } from '../release/release';
import { describeRule } from '../rules/describe';
import type { Explanation, ReasonNode } from '../rules/explain';
import { explainRule, firstCause } from '../rules/explain';
import type { Chosen, Judge, JudgedCampaign, Pretend } from './asked';
import type { Found } from './visitor';
import { pretendedSegments, pretendedVisitor } from './visitor';

export interface DraftCampaign extends CampaignDocument {
  readonly id: string;
  readonly status: CampaignStatus;
}

/** A site as it stands in the studio, published or not. */
export interface Draft {
  readonly campaigns: readonly DraftCampaign[];
  readonly segments: Readonly<Record<string, SegmentBody>>;
  readonly sets: PageSets;
  readonly setNames: Readonly<Record<string, string>>;
  readonly places: Places;
  readonly budget: Budget;
  readonly brand: Brand;
  readonly sizes: ReadonlyMap<string, PictureSizes>;
  readonly names: WordsFor;
  readonly ownHosts: readonly string[];
  readonly number: number;
}

const TAKING_PART: readonly CampaignStatus[] = ['live', 'scheduled'];

/** Those that the next release would have, and those that somebody asked for instead. */
export const takesPart = ({ id, status }: Pick<DraftCampaign, 'id' | 'status'>, { takes = {} }: Pretend): boolean =>
  takes[id] ?? TAKING_PART.includes(status);

/**
 * What a page is given to try: nobody is held out, and of variants the one that was asked for. What a page judges by itself is a fact here, so that
 * a language or a day can be pretended; only what the browser alone has stays with it.
 */
export function draftRelease(draft: Draft, pretend: Pretend): { release: Release; facts: ReleasedFacts } {
  const taking = draft.campaigns
    .filter((campaign) => takesPart(campaign, pretend))
    .map(({ id, rule, goal, flow, variants }) => {
      const asked = variants?.find(({ name }) => name === pretend.variants?.[id]);
      return { id, rule, goal, flow, ...(asked ? { variants: [{ ...asked, weight: 1 }] } : variants ? { variants } : {}) };
    });
  return compileRelease(taking, {
    ...draft,
    segments: pretendedSegments(draft.segments, pretend.segments),
    judgedInPage: ({ kind }) => kind === 'cookie' || kind === 'adBlocker',
  });
}

/** For every campaign whether it shows at this instant, and the first cause if not; of the chosen one all of it. */
export function judge(
  draft: Draft,
  facts: ReleasedFacts,
  wanted: readonly string[],
  { asked, recorded, found }: { asked: Judge; recorded: VisitorRecord | undefined; found: Found },
) {
  const { now, pretend, course, tried } = asked;
  const { hidden, lasted, engaged, clicks } = course;
  const line = openTimeline({ hidden, visitElapsed: lasted, visitEngaged: engaged, visitClicks: clicks });
  for (const signal of course.signals) takeSignal(line, signal);
  // A signal of this very instant stays in sight: a click or an exit holds only then.
  if (line.t < course.t) advanceTo(line, course.t);
  // What happens on the page itself is a moment's, not people's: its view counts from its opening.
  const page = tried.visits.at(-1)?.views.at(-1);
  const visitor = pretendedVisitor({ recorded, tried, pretend, found, ownHosts: draft.ownHosts, now });
  const about: Subject = {
    visitor,
    now,
    lookback: LONGEST_LOOKBACK_DAYS,
    sets: draft.sets,
    places: draft.places,
    segments: pretendedSegments(draft.segments, pretend.segments),
    staffed: pretend.staffed,
  };
  const explain = ({ id, rule, flow }: DraftCampaign): Explanation => {
    const place = placeOf(startOf(flow));
    return explainRule(rule, {
      subject: about,
      page: page ?? { url: '' },
      line,
      openedAt: course.opened,
      t: line.t,
      campaign: id,
      record: asked.pacing,
      budget: draft.budget,
      isPlaceFree: place === 'none' || !asked.held.includes(place),
      names: draft.names,
    });
  };
  const chosen = draft.campaigns.find(({ id }) => id === asked.chosen);
  return {
    facts: facts.map((condition) => conditionHolds(condition, { ...about, segments: {} })),
    values: valuesOf(visitor, { wanted, now, sets: draft.sets }),
    campaigns: draft.campaigns.map((campaign): JudgedCampaign => {
      const { id, name, status } = campaign;
      const takes = takesPart(campaign, pretend);
      const explanation = explain(campaign);
      return { id, name, status, takes, value: explanation.value, cause: causeOf(explanation) };
    }),
    ...(chosen ? { chosen: lookAt(chosen, draft, explain(chosen)) } : {}),
  };
}

const lookAt = ({ id, rule, variants = [] }: DraftCampaign, { names }: Draft, explanation: Explanation): Chosen => ({
  id,
  phrases: describeRule(rule, names),
  explanation,
  variants: variants.map(({ name }) => name),
});

/** A moment comes again: where the campaign would be silent then, too, that is said instead. */
function causeOf({ cause, pacing }: Explanation): JudgedCampaign['cause'] {
  if (!cause) return undefined;
  const isPaced = cause.family === 'moment' && pacing.value !== true;
  const { node, family } = isPaced ? { node: firstCause(pacing), family: 'pacing' as const } : cause;
  return { family, part: String(node.path[0] ?? family), ...wordsOf(node) };
}

const wordsOf = ({ asked = '', found = '' }: ReasonNode): { asked: string; found: string } => ({ asked, found });

/** Names of cookies that the rules ask for: the page tells no others. */
export const cookiesAsked = ({ campaigns }: Draft): string[] => [
  ...new Set(
    campaigns
      .flatMap(({ rule }) => leavesOf<PeopleCondition>(rule.people))
      .flatMap(({ leaf }) => (leaf.kind === 'cookie' ? [leaf.name] : [])),
  ),
];
