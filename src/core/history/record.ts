import type { FactValues } from '../facts/facts';
import { copyFacts } from '../facts/facts';
import type { Location, Visit, Visitor, Weather } from './visitor';

/**
 * A dated change of what is on record about a visitor. A null value is a removal; a score's value is added; `staffed` says whether somebody was
 * there to chat as of then, and counts for the visit in which it was noted.
 */
export interface Change {
  readonly at: number;
  readonly kind: 'trait' | 'tag' | 'score' | 'identity' | 'staffed';
  readonly key: string;
  readonly value: unknown;
}

export interface RecordedVisit extends Visit {
  readonly location?: Location | undefined;
  /** As it was where the visitor was; undefined where nobody asked or nobody answered. */
  readonly weather?: Weather | undefined;
}

/** A visitor as stored: with every change dated, so that any past instant can be judged as it was. Changes by time. */
export interface VisitorRecord extends Pick<Visitor, 'responses'>, FactValues {
  readonly visits: readonly RecordedVisit[];
  readonly changes: readonly Change[];
}

type Profile = Pick<Visitor, 'known' | 'traits' | 'tags' | 'score' | 'staffed'>;

const NOTHING: Profile = { known: false, traits: {}, tags: [], score: 0 };

/** Traits, tags, score and identity as they stood at an instant, in a visit that began at `since` (both UTC ms). */
export function profileAt(changes: readonly Change[], now: number, since = Infinity): Profile {
  if (changes.length === 0) return NOTHING;
  const traits: Record<string, unknown> = {};
  const tags = new Set<string>();
  let score = 0;
  let known = false;
  let staffed: boolean | undefined;
  for (const { at, kind, key, value } of changes) {
    if (at > now) break;
    if (kind === 'identity') known ||= value !== null;
    else if (kind === 'staffed') staffed = at >= since ? value === true : undefined;
    else if (kind === 'score') score += typeof value === 'number' ? value : 0;
    else if (kind === 'tag') void (value === null ? tags.delete(key) : tags.add(key));
    else if (value === null) delete traits[key];
    else traits[key] = value;
  }
  return { known, traits, tags: [...tags], score, staffed };
}

/**
 * The visitor as the core judges them at `now`: with the visits begun and the page views opened by then. What happened
 * later is left out; the last view is the current page.
 */
export function visitorAt(record: VisitorRecord, now: number): Visitor {
  const isPast = ({ at }: { at: number }): boolean => at <= now;
  const visits = record.visits.every((visit) => isPast(visit) && visit.views.every(isPast) && visit.events.every(isPast))
    ? record.visits
    : record.visits.filter(isPast).map((visit) => ({ ...visit, views: visit.views.filter(isPast), events: visit.events.filter(isPast) }));
  return withProfile(record, visits, now);
}

export function withProfile(record: VisitorRecord, visits: readonly RecordedVisit[], now: number): Visitor {
  const { responses } = record;
  const current = visits.at(-1);
  const { known, traits, tags, score, staffed } = profileAt(record.changes, now, current?.at);
  // Field by field: a rehearsal makes a hundred thousand of these, and a spread takes thirty times as long.
  const visitor: Visitor = {
    visits,
    known,
    traits,
    tags,
    score,
    responses: responses.length ? responses.filter(({ at }) => at <= now) : responses,
    location: current?.location,
    weather: current?.weather,
    staffed,
  };
  copyFacts(visitor, record);
  return visitor;
}
