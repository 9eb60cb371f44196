import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { or } from '../../logic/truth';
import type { WordsFor } from '../../pages/names';
import type { Places } from '../../geo/place';
import { isInPlace } from '../../geo/place';
import type { Location } from '../../history/visitor';
import type { Subject } from '../subject';
import type { PeopleKind } from '../kind';
import { called } from '../../typing/spoken';
import type { Vocabulary } from '../../typing/vocabulary';
import { countryCalled } from '../../typing/worldNames';
import { listExample, maybe, shape } from '../../testing/examples';

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

export const locationKind: PeopleKind<LocationCondition, 'server'> = {
  kind: 'location',
  topic: 'comeFrom',
  schema: locationSchema,
  holds: locationHolds,
  words: locationWords,
  found: (_condition, { visitor }) =>
    [visitor.location?.city, visitor.location?.region, visitor.location?.country].filter(Boolean).join(', ') || 'no location found',
  judgedIn: 'server',
  isSupplied: true,
  counting: { by: 'record', of: () => 'place' },
  changes: {},
  reasoning: {
    lists: (a, b) => {
      const only = ({ countries, regions, cities, places }: LocationCondition) => (regions || cities || places ? undefined : countries);
      return [[only(a), only(b)]];
    },
    impossible: ({ countries, regions, cities, places }) =>
      countries || regions || cities || places?.length ? undefined : 'No country, region, city or place is named.',
  },
  editor: {
    label: 'Is in a place',
    make: (recorded) => ({ kind: 'location', countries: [recorded?.countries[0]?.value ?? 'AT'] }),
    rows: [[{ field: 'own', part: 'location' }]],
  },
  typed: ({ raw, text, isNegated, amounts }, { places, cities, countries }) => {
    const plain = (isNegated ? text : raw).replace(/[“”"]/g, '');
    const stripped = plain.replace(
      /^(?:(?:are|is|who|people|visitors?|live|lives|living|located|based|come|comes|coming|somewhere)\s+)*/i,
      '',
    );
    const explicit =
      /^(?:(?:from|in|near|within|around|inside|at)\b\s*)?(?:the\s+)?(countr(?:y|ies)|regions?|cit(?:y|ies)|towns?|places?)?\s*:?\s*(.*)$/i.exec(
        stripped,
      );
    const isExplicit = /^(?:from|in|near|within|around|inside)\b/i.test(stripped) || explicit?.[1] !== undefined;
    // "countries AT, DE or cities Graz"
    let part = explicit?.[1]?.toLowerCase() ?? '';
    const found = (explicit?.[2] ?? '')
      .split(/\s*,\s*|\s+or\s+/i)
      .filter((name) => name !== '')
      .map((name) => {
        const own = /^(countr(?:y|ies)|regions?|cit(?:y|ies)|towns?|places?)\s+(.+)$/i.exec(name);
        part = own?.[1]?.toLowerCase() ?? part;
        return placeCalled(own?.[2] ?? name, part, { places, cities, countries });
      });
    if (found.length === 0) return [];
    const least = Math.min(...found.map((one) => one?.sureness ?? 0));
    if (least === 0) return [];
    const list = (key: 'countries' | 'regions' | 'cities' | 'places'): Partial<LocationCondition> => {
      const values = found.flatMap((one) => (one?.part === key ? [one.value] : []));
      return values.length ? { [key]: values } : {};
    };
    const leaf: LocationCondition = { kind: 'location', ...list('countries'), ...list('regions'), ...list('cities'), ...list('places') };
    if (amounts.length && least < 1) return [];
    return [{ leaf, sureness: least >= 1 ? (isExplicit ? 3.05 : 2.5) : isExplicit ? least + 0.4 : least }];
  },
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('location' as const),
      countries: maybe(fc, listExample(fc, ['AT', 'DE', 'IT'])),
      cities: maybe(fc, listExample(fc, ['graz', 'Munich'])),
    }),
};

interface Met {
  readonly part: 'countries' | 'regions' | 'cities' | 'places';
  readonly value: string;
  readonly sureness: number;
}

/** `part` is what was said to be meant ("cities"), or empty. */
function placeCalled(
  name: string,
  part: string,
  { places, cities, countries }: Pick<Vocabulary, 'places' | 'cities' | 'countries'>,
): Met | undefined {
  const code =
    countryCalled(name) ??
    (/^[A-Z]{2}$/.test(name) ? name : undefined) ??
    countries.find(({ value }) => value === name.toUpperCase() && part !== '')?.value;
  if (code !== undefined && !/^(?:cit|town|place|region)/.test(part)) return { part: 'countries', value: code, sureness: 1 };
  if (/^region/.test(part)) return { part: 'regions', value: name, sureness: 1 };
  const [place] = called(name, places, (one) => one.name);
  const [city] = called(name, cities, ({ value }) => value);
  if (city && !/^place/.test(part) && city.sureness >= (place?.sureness ?? 0))
    return { part: 'cities', value: city.one.value, sureness: city.sureness };
  if (place && !/^(?:cit|town)/.test(part)) return { part: 'places', value: place.one.id, sureness: place.sureness };
  return /^(?:cit|town)/.test(part) ? { part: 'cities', value: name, sureness: 1 } : undefined;
}
