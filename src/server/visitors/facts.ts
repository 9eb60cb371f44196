import { profileAt } from '@/core/history/record';
import type { Location } from '@/core/history/visitor';
import { peopleHold } from '@/core/people/condition';
import { visitorAt } from '@/core/history/record';
import type { Queryable } from '../db/queryable';
import { listSegments } from '../db/segments';
import { loadVisitors } from '../db/visitors';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';
import type { Saying } from './claims';
import { listSayings } from './claims';

export interface VisitorFacts {
  readonly id: number;
  readonly device: string | undefined;
  readonly language: string | undefined;
  readonly location: Location | undefined;
  readonly firstAt: number | undefined;
  readonly visits: number;
  readonly known: boolean;
  readonly score: number;
  readonly tags: readonly string[];
  readonly traits: Readonly<Record<string, unknown>>;
  /** Whom their browser says to be. */
  readonly sayings: readonly Saying[];
  readonly segments: readonly { readonly id: string; readonly name: string }[];
}

/** Who a visitor is by what is on record now, and which segments they are in. Undefined where nobody has that number. */
export async function loadFacts(db: Queryable, siteId: number, id: number): Promise<VisitorFacts | undefined> {
  const [stored] = await loadVisitors(db, siteId, [id]);
  if (!stored) return undefined;
  const { record } = stored;
  const now = Date.now();
  const [sets, places, segments, bodies, sayings] = await Promise.all([
    loadPageSets(db, siteId),
    loadPlaces(db, siteId),
    listSegments(db, siteId),
    segmentBodies(db, siteId),
    listSayings(db, siteId, id),
  ]);
  const visitor = visitorAt(record, now);
  const current = profileAt(record.changes, now);
  return {
    id,
    device: [record.device?.category, record.device?.browser, record.device?.os].filter(Boolean).join(', ') || undefined,
    language: record.language,
    location: visitor.location,
    firstAt: record.visits[0]?.at,
    visits: record.visits.length,
    known: current.known,
    score: current.score ?? 0,
    tags: current.tags,
    traits: current.traits,
    sayings,
    segments: segments
      .filter(({ people, lookback }) => peopleHold(people, { visitor, now, lookback, sets, places, segments: bodies }) === true)
      .map(({ id: segment, name }) => ({ id: segment, name })),
  };
}
