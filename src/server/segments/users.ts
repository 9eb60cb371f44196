import type { References } from '@/core/rules/references';
import { peopleIn } from '@/core/flows/forSome';
import { referencesIn } from '@/core/rules/references';
import { listCampaigns } from '../db/campaigns';
import type { Queryable } from '../db/queryable';
import { listSegments } from '../db/segments';
import { goals } from '../db/vocabulary';

export interface User {
  readonly kind: 'campaign' | 'segment' | 'goal';
  readonly id: string;
  readonly name: string;
  /** A campaign that is switched on. */
  readonly isLive: boolean;
}

/** Campaigns, segments and goals whose rules name a segment, a page set or a place. */
export async function usersOf(db: Queryable, siteId: number, kind: keyof References, id: string): Promise<User[]> {
  const [campaigns, segments, siteGoals] = await Promise.all([listCampaigns(db, siteId), listSegments(db, siteId), goals.list(db, siteId)]);
  const names = (document: unknown): boolean => referencesIn(document)[kind].includes(id);
  return [
    ...campaigns
      .filter(({ rule, goal, flow }) => names([rule, goal, peopleIn(flow)]))
      .map((one): User => ({ kind: 'campaign', id: one.id, name: one.name, isLive: one.status === 'live' })),
    ...segments.filter(({ people }) => names(people)).map((one): User => ({ kind: 'segment', id: one.id, name: one.name, isLive: false })),
    ...siteGoals.filter(({ goal }) => names(goal)).map((one): User => ({ kind: 'goal', id: one.id, name: one.name, isLive: false })),
  ];
}

export const usersInWords = (users: readonly User[]): string => users.map(({ kind, name }) => `the ${kind} “${name}”`).join(', ');
