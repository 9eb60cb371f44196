import { z } from 'zod';
import type { Truth } from '../../rules/truth';
import { or } from '../../rules/truth';
import type { WordsFor } from '../../rules/words';
import type { Places } from '../../geo/place';
import { isInPlace } from '../../geo/place';
import type { Location } from '../../history/visitor';
import type { Subject } from '../subject';

const names = () => z.array(z.string().min(1).max(200)).min(1).max(300).optional();

export const locationSchema = () =>
  z.strictObject({
    kind: z.literal('location'),
    countries: z
      .array(z.string().regex(/^[A-Z]{2}$/))
      .min(1)
      .max(300)
      .optional(),
    regions: names(),
    cities: names(),
    places: names(),
  });
export type LocationCondition = z.infer<ReturnType<typeof locationSchema>>;

/** Any listed one holds. A part of the location that was not found leaves its list unknown; so does a place that no longer exists. */
export function locationHolds(
  { countries, regions, cities, places }: LocationCondition,
  { visitor: { location }, places: known }: Subject,
): Truth {
  if (!location) return null;
  const lower = location.city?.toLowerCase();
  return or([
    listHolds(countries, location.country),
    listHolds(regions, location.region),
    listHolds(
      cities?.map((city) => city.toLowerCase()),
      lower,
    ),
    or((places ?? []).map((id) => placeHolds(id, location, known))),
  ]);
}

function placeHolds(id: string, location: Location, places: Places | undefined): Truth {
  const place = places && Object.hasOwn(places, id) ? places[id] : undefined;
  return place ? isInPlace(place.shape, location) : null;
}

function listHolds(list: readonly string[] | undefined, found: string | undefined): Truth {
  if (!list) return false;
  return found === undefined ? null : list.includes(found);
}

export function locationWords({ countries, regions, cities, places }: LocationCondition, words: WordsFor): string {
  const lists = [
    ...(countries ? [`countries ${countries.join(', ')}`] : []),
    ...(regions ? [`regions ${regions.join(', ')}`] : []),
    ...(cities ? [`cities ${cities.join(', ')}`] : []),
    ...(places ? [`places ${places.map((id) => `“${words.place(id)}”`).join(', ')}`] : []),
  ];
  return `are in ${lists.length ? lists.join(' or ') : 'nowhere'}`;
}
