import type { Expr } from '@/core/rules/expr';
import { leavesOf } from '@/core/rules/expr';
import type { PeopleCondition } from '@/core/people/condition';
import { peopleHold } from '@/core/people/condition';
import type { SegmentBody } from '@/core/people/subject';
import type { Queryable } from '../db/queryable';
import { listSegments } from '../db/segments';
import { visitorAt } from '@/core/history/record';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import type { StoredVisitor } from '../db/visitors';
import { eachChunk } from '../db/visitors';

const FRESH_MS = 5000;

export interface SegmentSize {
  readonly people: number;
  readonly unknown: number;
  /** All visitors on record. */
  readonly of: number;
  readonly ms: number;
}

const histories = new Map<number, { at: number; visitors: Promise<StoredVisitor[]> }>();

/** Every visitor's history, kept for a few seconds so that a count follows each keystroke. */
export function allHistories(db: Queryable, siteId: number, now: number): Promise<StoredVisitor[]> {
  const kept = histories.get(siteId);
  if (kept && now - kept.at < FRESH_MS) return kept.visitors;
  const visitors = loadAll(db, siteId);
  histories.set(siteId, { at: now, visitors });
  visitors.catch(() => histories.delete(siteId));
  return visitors;
}

async function loadAll(db: Queryable, siteId: number): Promise<StoredVisitor[]> {
  const loaded: StoredVisitor[] = [];
  for await (const chunk of eachChunk(db, siteId)) loaded.push(...chunk);
  return loaded;
}

/** How many visitors a segment holds at an instant (UTC ms), judged one by one by the core. */
export async function countSegment(
  db: Queryable,
  siteId: number,
  segment: SegmentBody,
  now: number,
): Promise<SegmentSize & { members: number[] }> {
  const started = performance.now();
  const segments = await segmentBodies(db, siteId);
  const visitors = await allHistories(db, siteId, Date.now());
  const [sets, places] = [await loadPageSets(db, siteId), await loadPlaces(db, siteId)];
  const members: number[] = [];
  let unknown = 0;
  for (const { id, record } of visitors) {
    const visitor = visitorAt(record, now);
    if (visitor.visits.length === 0) continue;
    const holds = peopleHold(segment.people, { visitor, now, lookback: segment.lookback, sets, places, segments });
    if (holds === true) members.push(id);
    else if (holds === null) unknown++;
  }
  return { people: members.length, unknown, of: visitors.length, ms: Math.round(performance.now() - started), members };
}

export async function segmentBodies(db: Queryable, siteId: number): Promise<Record<string, SegmentBody>> {
  return Object.fromEntries((await listSegments(db, siteId)).map(({ id, lookback, people }) => [id, { lookback, people }]));
}

export const segmentsNamedIn = (people: Expr<PeopleCondition> | undefined): string[] =>
  leavesOf(people).flatMap(({ leaf }) => (leaf.kind === 'segment' ? [leaf.id] : []));

/** The chain of segments by which `id` would come to refer to itself; undefined if it does not. */
export function circleThrough(
  id: string,
  people: Expr<PeopleCondition>,
  segments: Readonly<Record<string, SegmentBody>>,
): string[] | undefined {
  const follow = (expr: Expr<PeopleCondition>, chain: string[]): string[] | undefined => {
    for (const next of segmentsNamedIn(expr)) {
      if (next === id) return [...chain, next];
      const body = chain.includes(next) ? undefined : segments[next];
      const found = body && follow(body.people, [...chain, next]);
      if (found) return found;
    }
    return undefined;
  };
  return follow(people, [id]);
}
