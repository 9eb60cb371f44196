/** Where the demo's visitors live. The addresses are from the ranges that are kept for examples (RFC 5737) and belong to nobody. */
export interface Town {
  readonly city: string;
  readonly country: string;
  readonly region: string;
  readonly lat: number;
  readonly lon: number;
  readonly zone: string;
  readonly language: string;
}

const town = (city: string, country: string, region: string, at: readonly [number, number], zone: string, language: string): Town => ({
  city,
  country,
  region,
  lat: at[0],
  lon: at[1],
  zone,
  language,
});

/** With how many visitors come from each. */
export const TOWNS: readonly (readonly [Town, number])[] = [
  [town('Innsbruck', 'AT', 'Tyrol', [47.27, 11.39], 'Europe/Vienna', 'de-AT'), 14],
  [town('Graz', 'AT', 'Styria', [47.07, 15.44], 'Europe/Vienna', 'de-AT'), 8],
  [town('Munich', 'DE', 'Bavaria', [48.14, 11.58], 'Europe/Berlin', 'de-DE'), 18],
  [town('Nuremberg', 'DE', 'Bavaria', [49.45, 11.08], 'Europe/Berlin', 'de-DE'), 6],
  [town('Zürich', 'CH', 'Zurich', [47.38, 8.54], 'Europe/Zurich', 'de-CH'), 10],
  [town('Bolzano', 'IT', 'South Tyrol', [46.5, 11.35], 'Europe/Rome', 'it-IT'), 9],
  [town('Trento', 'IT', 'Trentino', [46.07, 11.12], 'Europe/Rome', 'it-IT'), 5],
  [town('Lyon', 'FR', 'Auvergne-Rhône-Alpes', [45.76, 4.84], 'Europe/Paris', 'fr-FR'), 6],
  [town('Brno', 'CZ', 'South Moravia', [49.2, 16.61], 'Europe/Prague', 'cs-CZ'), 4],
  [town('Leeds', 'GB', 'England', [53.8, -1.55], 'Europe/London', 'en-GB'), 9],
];

/** How exact a town is as a location: metres around its middle. */
export const TOWN_ACCURACY = 20_000;

/** An example address for a town: its last number divided by ten names the town. */
export const addressIn = (town: Town, nth: number): string =>
  `203.0.113.${TOWNS.findIndex(([one]) => one.city === town.city) * 10 + (nth % 10)}`;

export function townOf(address: string): Town | undefined {
  const found = /^203\.0\.113\.(\d{1,3})$/.exec(address);
  return found ? TOWNS[Math.floor(Number(found[1]) / 10)]?.[0] : undefined;
}
