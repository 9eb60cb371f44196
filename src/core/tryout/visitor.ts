import type { FactValues } from '../facts/facts';
import { pretendedFacts } from '../facts/facts';
import type { VisitorRecord } from '../history/record';
import { visitorAt } from '../history/record';
import { sourceOf } from '../history/source';
import type { Location, Visitor, Weather } from '../history/visitor';
import type { SegmentBody } from '../people/subject';
import { DAY_MS } from '../time/day';
import type { Pretend, Tried } from './asked';

/** What is found of whoever tries: where they are, in which weather, with what. */
export interface Found extends FactValues {
  readonly place?: Location | undefined;
  readonly weather?: Weather | undefined;
}

/**
 * The visitor whom rules are asked about: a recorded one or nobody yet, who went on to do what was tried, with what is pretended put over all of
 * it. `ownHosts`: the site's addresses. `now`: UTC ms by the clock of the try-out.
 */
export function pretendedVisitor({
  recorded,
  tried,
  pretend,
  found,
  ownHosts,
  now,
}: {
  recorded?: VisitorRecord | undefined;
  tried: Tried;
  pretend: Pretend;
  found: Found;
  ownHosts: readonly string[];
  now: number;
}): Visitor {
  const begunAt = tried.visits[0]?.at ?? now;
  const before = recorded && visitorAt(recorded, begunAt - 1);
  const place = pretend.place ?? before?.location ?? found.place;
  const weather = pretend.weather ?? found.weather;
  return {
    visits: [
      ...(before?.visits ?? []),
      ...tried.visits.map(({ at, referrer, views, events }) => ({
        at,
        views,
        events,
        source: pretend.source ?? sourceOf({ url: views[0]?.url ?? '', referrer, ownHosts }),
      })),
    ],
    known: pretend.known ?? ((before?.known ?? false) || tried.known),
    traits: { ...before?.traits, ...tried.traits, ...pretend.traits },
    tags: [...new Set([...(before?.tags ?? []), ...tried.tags, ...(pretend.tags ?? [])])],
    score: pretend.score ?? (before?.score ?? 0) + tried.score,
    responses: [
      ...(before?.responses ?? []),
      ...(pretend.responses ?? []).map(({ daysAgo, ...response }) => ({ ...response, at: now - daysAgo * DAY_MS })),
      ...tried.responses,
    ],
    ...(place ? { location: place } : {}),
    ...(weather ? { weather } : {}),
    ...pretendedFacts(pretend, before, found),
  };
}

/** Everybody or nobody is in a segment that somebody pretends to be in or not. */
export const pretendedSegments = (
  bodies: Readonly<Record<string, SegmentBody>>,
  segments: Pretend['segments'] = {},
): Readonly<Record<string, SegmentBody>> => ({
  ...bodies,
  ...Object.fromEntries(
    Object.entries(segments)
      .filter(([id]) => Object.hasOwn(bodies, id))
      .map(([id, isIn]): [string, SegmentBody] => [id, { lookback: 1, people: isIn ? { all: [] } : { any: [] } }]),
  ),
});
