import type { PlaceShape } from '@/core/geo/place';
import { isInPlace } from '@/core/geo/place';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { seldom, WATCHED_MS } from '../db/seldom';

const DAYS = 30;

export interface Spot {
  readonly lat: number;
  readonly lon: number;
  readonly people: number;
  /** Radius within which these positions are right, in metres; null where nobody said. */
  readonly accuracy: number | null;
}

/** Where the visitors of the last thirty days were when they last came; on a large site not of this very minute. */
export const listSpots = (db: Queryable, siteId: number): Promise<Spot[]> =>
  seldom(db, `spots ${siteId}`, () => findSpots(db, siteId), { quickMs: WATCHED_MS });

function findSpots(db: Queryable, siteId: number): Promise<Spot[]> {
  return many<Spot & Record<string, unknown>>(
    db,
    `select lat, lon, count(*)::int as people, max(accuracy) as accuracy
       from (select distinct on (visitor_id) lat, lon, accuracy from visit
              where site_id = $1 and lat is not null and started_at > now() - make_interval(days => $2) order by visitor_id, started_at desc) as last
      group by lat, lon order by count(*) desc, lat, lon`,
    [siteId, DAYS],
  );
}

export interface InPlace {
  readonly inside: number;
  /** Visitors of the last thirty days whose position is known. */
  readonly located: number;
  /** How exact half of the positions are at least, in metres. */
  readonly accuracy: number | null;
}

/** How many of them are in a place. */
export function countIn(shape: PlaceShape, spots: readonly Spot[]): InPlace {
  let [inside, located] = [0, 0];
  for (const spot of spots) {
    located += spot.people;
    if (isInPlace(shape, spot) === true) inside += spot.people;
  }
  return { inside, located, accuracy: accuracyOf(spots) };
}

/** How exact half of the positions are at least, in metres; null where nobody said. */
export const accuracyOf = (spots: readonly Spot[]): number | null =>
  medianOf(spots.flatMap(({ accuracy, people }) => (accuracy === null ? [] : [{ accuracy, people }])));

function medianOf(known: { accuracy: number; people: number }[]): number | null {
  const half = known.reduce((sum, { people }) => sum + people, 0) / 2;
  let sum = 0;
  for (const { accuracy, people } of known.sort((a, b) => a.accuracy - b.accuracy)) {
    sum += people;
    if (sum >= half) return accuracy;
  }
  return null;
}
