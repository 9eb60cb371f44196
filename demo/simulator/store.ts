import type pg from 'pg';
import { factColumns, storedFacts } from '@/core/facts/facts';
import { withTransaction } from '@/server/db/pool';
import { one } from '@/server/db/queryable';
import { TOWN_ACCURACY } from '../towns';
import { copyInto } from './copy';
import { factsOfPerson } from './people';
import type { SimulatedLife, SimulatedVisit } from './simulate';

const LIVES_AT_ONCE = 1500;

export interface Stored {
  readonly visits: number;
  readonly showings: number;
}

/** Writes simulated lives into the same tables as the collector, some hundreds at a time. Visitors are numbered on from those that the site has. */
export async function storeLives(
  pool: pg.Pool,
  siteId: number,
  lives: Iterable<SimulatedLife>,
  { release, onProgress = () => undefined }: { release: number; onProgress?: (visits: number) => void },
): Promise<Stored> {
  const stored = { visits: 0, showings: 0 };
  let full: SimulatedLife[] = [];
  let writing = Promise.resolve();
  // The next lives are made while the last ones are being written.
  const flush = async (): Promise<void> => {
    await writing;
    writing = storeTogether(pool, siteId, full, release);
    writing.catch(() => undefined); // Told by whoever awaits it next.
    stored.visits += full.reduce((sum, { visits }) => sum + visits.length, 0);
    stored.showings += full.reduce((sum, { visits }) => sum + visits.reduce((all, { showings }) => all + showings.length, 0), 0);
    full = [];
    onProgress(stored.visits);
  };
  for (const life of lives) {
    full.push(life);
    if (full.length >= LIVES_AT_ONCE) await flush();
  }
  if (full.length) await flush();
  await writing;
  return stored;
}

async function storeTogether(pool: pg.Pool, siteId: number, lives: readonly SimulatedLife[], release: number): Promise<void> {
  const { visitors } = await one<{ visitors: number }>(pool, `update site set visitors = visitors + $2 where id = $1 returning visitors`, [
    siteId,
    lives.length,
  ]);
  const first = visitors - lives.length + 1;
  await withTransaction(pool, async (tx) => {
    // Nothing of these rows is sealed yet, and they refer to one another: what checks that would take as long as writing them.
    await tx.query(
      `select set_config('session_replication_role', 'replica', true) from pg_roles where rolname = current_user and rolsuper`,
    );
    await storeChunk(
      tx as pg.PoolClient,
      siteId,
      lives.map((life, nth) => ({ life, number: first + nth })),
      release,
    );
  });
}

const iso = (at: number): string => new Date(at).toISOString();
const endOf = ({ at, views }: SimulatedVisit): number => (views.at(-1)?.at ?? at) + (views.at(-1)?.leaveMs ?? 0);

/** Who looked for an ad blocker is not simulated. */
const FACTS_OF_PEOPLE = factColumns('open', 'agent', 'studio');

async function storeChunk(
  client: pg.ClientBase,
  site: number,
  chunk: readonly { life: SimulatedLife; number: number }[],
  release: number,
): Promise<void> {
  await copyInto(
    client,
    'visitor',
    ['site_id', 'id', 'browser_id', 'first_seen', 'last_seen', 'email', 'customer_id', ...FACTS_OF_PEOPLE.map(({ name }) => name)],
    chunk.map(({ life: { person, visits }, number }) => [
      site,
      number,
      person.browserId,
      iso(visits[0]?.at ?? 0),
      iso(Math.max(...visits.map(endOf))),
      person.email ?? null,
      person.member?.id ?? null,
      ...Object.values(storedFacts(factsOfPerson(person), FACTS_OF_PEOPLE)),
    ]),
  );
  await copyInto(
    client,
    'visitor_change',
    ['site_id', 'visitor_id', 'at', 'kind', 'key', 'value', 'id'],
    chunk.flatMap(({ life, number }) =>
      changesOf(life).map(({ at, kind, key, value, id }) => [site, number, iso(at), kind, key, JSON.stringify(value), id]),
    ),
  );
  const visits = chunk.flatMap(({ life, number }) => life.visits.map((visit) => ({ visit, number })));
  await copyInto(
    client,
    'visit',
    [
      'site_id',
      'id',
      'visitor_id',
      'started_at',
      'last_at',
      'channel',
      'referrer',
      'utm',
      'country',
      'region',
      'city',
      'lat',
      'lon',
      'accuracy',
      'weather',
    ],
    visits.map(({ visit, number }) => {
      const { country, region, city, lat, lon } = visit.person.town;
      const { id, at, channel, referrer = null, utm, weather } = visit;
      return [
        site,
        id,
        number,
        iso(at),
        iso(endOf(visit)),
        channel,
        referrer,
        utm,
        country,
        region,
        city,
        lat,
        lon,
        TOWN_ACCURACY,
        weather,
      ];
    }),
  );
  const views = visits.flatMap(({ visit, number }) => visit.views.map((view) => ({ view, visit: visit.id, number })));
  await copyInto(
    client,
    'page_view',
    [
      'site_id',
      'id',
      'visit_id',
      'visitor_id',
      'at',
      'url',
      'title',
      'labels',
      'cannot_scroll',
      'watched',
      'engaged_ms',
      'scroll',
      'leave_ms',
    ],
    views.map(({ view, visit, number }) => {
      const { id, at, url, title, labels, watched, engagedMs, scroll, leaveMs } = view;
      return [site, id, visit, number, iso(at), url, title, labels, false, watched, engagedMs, scroll, leaveMs];
    }),
  );
  await copyInto(
    client,
    'signal_piece',
    ['site_id', 'view_id', 'piece', 'signals'],
    views.map(({ view }) => [site, view.id, 0, JSON.stringify(view.signals)]),
  );
  await copyInto(
    client,
    'event',
    ['site_id', 'id', 'visit_id', 'view_id', 'visitor_id', 'at', 'name', 'props'],
    visits.flatMap(({ visit, number }) =>
      visit.events.map(({ id, viewId, at, name, props }) => [site, id, visit.id, viewId, number, iso(at), name, props]),
    ),
  );
  await storeShowings(client, site, visits, release);
}

type Change = { at: number; kind: string; key: string; value: unknown; id: string };

/** A message is met first, and then does what it does. */
const TAGGED_AFTER_MS = 5;

function changesOf({ person, visits }: SimulatedLife): Change[] {
  const at = (visits[0]?.at ?? 0) + 100;
  const id = person.browserId;
  return [
    ...(person.email ? [{ at, kind: 'identity', key: 'email', value: person.email, id }] : []),
    ...(person.member ? [{ at, kind: 'identity', key: 'id', value: person.member.id, id }] : []),
    ...Object.entries(person.member ?? {}).flatMap(([key, value]) => (key === 'id' ? [] : [{ at, kind: 'trait', key, value, id }])),
    ...visits.flatMap(({ showings }) =>
      showings.flatMap((showing) =>
        showing.shown && showing.tag
          ? [{ at: showing.at + TAGGED_AFTER_MS, kind: 'tag', key: showing.tag, value: true, id: showing.id }]
          : [],
      ),
    ),
  ];
}

async function storeShowings(
  client: pg.ClientBase,
  site: number,
  visits: readonly { visit: SimulatedVisit; number: number }[],
  release: number,
): Promise<void> {
  const showings = visits.flatMap(({ visit, number }) => visit.showings.map((showing) => ({ showing, visit: visit.id, number })));
  await copyInto(
    client,
    'showing',
    ['site_id', 'id', 'campaign_id', 'visitor_id', 'visit_id', 'view_id', 'at', 'release', 'shown', 'variant'],
    showings.map(({ showing, visit, number }) => {
      const { id, campaign, viewId, at, shown, variant = null } = showing;
      return [site, id, campaign, number, visit, viewId, iso(at), release, shown, variant];
    }),
  );
  await copyInto(
    client,
    'outcome',
    ['site_id', 'showing_id', 'kind', 'at', 'how'],
    showings.flatMap(({ showing }) => showing.outcomes.map(({ kind, at, how }) => [site, showing.id, kind, iso(at), how ?? null])),
  );
  await copyInto(
    client,
    'flow_step',
    ['site_id', 'showing_id', 'at', 'message'],
    showings.flatMap(({ showing: { id, steps = [] } }) => steps.map(({ at, message }) => [site, id, iso(at), message])),
  );
  await copyInto(
    client,
    'lead',
    ['site_id', 'id', 'campaign_id', 'showing_id', 'visitor_id', 'at', 'email', 'fields', 'url', 'consent'],
    showings.flatMap(({ showing, number }) =>
      showing.email
        ? [
            [
              site,
              showing.id,
              showing.campaign,
              showing.id,
              number,
              iso(showing.outcomes[0]?.at ?? showing.at),
              showing.email,
              { email: showing.email, ...showing.fields },
              showing.url,
              JSON.stringify(showing.consent ?? []),
            ],
          ]
        : [],
    ),
  );
}
