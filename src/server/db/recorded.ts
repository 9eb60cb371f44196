import type { WordsFor } from '@/core/pages/names';
import type { PlainPattern } from '@/core/pages/pattern';
import { listCampaigns } from './campaigns';
import type { Queryable } from './queryable';
import { many } from './queryable';
import { seldom } from './seldom';
import { listSegments } from './segments';
import { goals } from './vocabulary';
import { listRecordedPages } from './visits';

interface Named {
  readonly id: string;
  readonly name: string;
}
interface Counted {
  readonly value: string;
  readonly times: number;
}

const MOST = 100;

/** What is offered to pick from need not be of this very second. */
const FRESH_MS = 5000;

const recordedLately = (db: Queryable, siteId: number): ReturnType<typeof countRecorded> =>
  seldom(db, `recorded ${siteId}`, () => countRecorded(db, siteId), { freshMs: FRESH_MS });

async function countRecorded(db: Queryable, siteId: number) {
  const counted = (value: string, from: string): Promise<Counted[]> =>
    many<Counted & Record<string, unknown>>(
      db,
      `select ${value} as value, count(*)::int as times from ${from} and ${value} is not null group by 1 order by 2 desc, 1 limit ${MOST}`,
      [siteId],
    );
  const visits = `visit where site_id = $1 and started_at > now() - interval '30 days'`;
  const changes = (kind: string): string => `visitor_change where site_id = $1 and kind = '${kind}'`;
  // One after the other: all at once they would keep a busy site's database from everything else.
  const pages = await listRecordedPages(db, siteId);
  const events = await counted('name', `event where site_id = $1 and at > now() - interval '30 days'`);
  const [traits, tags] = [await counted('key', changes('trait')), await counted('key', changes('tag'))];
  const [countries, cities] = [await counted('country', visits), await counted('city', visits)];
  const [sources, utmCampaigns] = [await counted("utm->>'source'", visits), await counted("utm->>'campaign'", visits)];
  const languages = await counted('language', 'visitor where site_id = $1');
  return { pages, events, traits, tags, countries, cities, sources, utmCampaigns, languages };
}

/** What the site has recorded in thirty days, most frequent first, and what it has names for: to pick from instead of typing. */
export async function loadRecorded(db: Queryable, siteId: number) {
  const named = async (list: Promise<readonly Named[]>): Promise<Named[]> => (await list).map(({ id, name }) => ({ id, name }));
  const [recorded, segments, sets, places, campaigns, siteGoals] = await Promise.all([
    recordedLately(db, siteId),
    named(listSegments(db, siteId)),
    many<Named & { patterns: PlainPattern[] } & Record<string, unknown>>(
      db,
      `select id, name, patterns from page_set where site_id = $1 order by name`,
      [siteId],
    ),
    many<Named & Record<string, unknown>>(db, `select id, name from place where site_id = $1 order by name`, [siteId]),
    named(listCampaigns(db, siteId)),
    goals.list(db, siteId),
  ]);
  return {
    ...recorded,
    segments,
    sets,
    places,
    campaigns,
    goals: siteGoals.map(({ id, name, goal }) => ({ id, name, goal })),
  };
}

/** Names for the ids that rules hold. */
export async function loadNames(db: Queryable, siteId: number): Promise<WordsFor> {
  const kinds = ['segment', 'page_set', 'place', 'campaign'] as const;
  const named = await many<Named & { kind: string }>(
    db,
    kinds.map((kind) => `select '${kind}' as kind, id, name from ${kind} where site_id = $1`).join(' union all '),
    [siteId],
  );
  const names = new Map(named.map(({ kind, id, name }) => [`${kind} ${id}`, name]));
  const nameIn =
    (kind: (typeof kinds)[number], what: string) =>
    (id: string): string =>
      names.get(`${kind} ${id}`) ?? `${what} that is gone`;
  return {
    segment: nameIn('segment', 'a segment'),
    set: nameIn('page_set', 'a page set'),
    place: nameIn('place', 'a place'),
    campaign: nameIn('campaign', 'a campaign'),
  };
}
