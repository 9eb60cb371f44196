import type { Dice } from '../dice';

export type Behaviour = 'bouncer' | 'reader' | 'comparer' | 'booker' | 'member' | 'wanderer';

/** One simulated person: who they are does not change between their visits. */
export interface Person {
  readonly browserId: string;
  readonly behaviour: Behaviour;
  readonly device: { readonly category: 'desktop' | 'tablet' | 'phone'; readonly os: string; readonly browser: string };
  readonly town: { readonly city: string; readonly country: string; readonly zone: string; readonly language: string };
  readonly email?: string;
}

const TOWNS: readonly (readonly [Person['town'], number])[] = [
  [{ city: 'Innsbruck', country: 'AT', zone: 'Europe/Vienna', language: 'de-AT' }, 14],
  [{ city: 'Graz', country: 'AT', zone: 'Europe/Vienna', language: 'de-AT' }, 8],
  [{ city: 'Munich', country: 'DE', zone: 'Europe/Berlin', language: 'de-DE' }, 18],
  [{ city: 'Nuremberg', country: 'DE', zone: 'Europe/Berlin', language: 'de-DE' }, 6],
  [{ city: 'Zürich', country: 'CH', zone: 'Europe/Zurich', language: 'de-CH' }, 10],
  [{ city: 'Bolzano', country: 'IT', zone: 'Europe/Rome', language: 'it-IT' }, 9],
  [{ city: 'Trento', country: 'IT', zone: 'Europe/Rome', language: 'it-IT' }, 5],
  [{ city: 'Lyon', country: 'FR', zone: 'Europe/Paris', language: 'fr-FR' }, 6],
  [{ city: 'Brno', country: 'CZ', zone: 'Europe/Prague', language: 'cs-CZ' }, 4],
  [{ city: 'Leeds', country: 'GB', zone: 'Europe/London', language: 'en-GB' }, 9],
];
const DEVICES: readonly (readonly [Person['device'], number])[] = [
  [{ category: 'phone', os: 'Android', browser: 'Chrome' }, 32],
  [{ category: 'phone', os: 'iOS', browser: 'Safari' }, 24],
  [{ category: 'desktop', os: 'Windows', browser: 'Chrome' }, 18],
  [{ category: 'desktop', os: 'Windows', browser: 'Microsoft Edge' }, 7],
  [{ category: 'desktop', os: 'macOS', browser: 'Safari' }, 8],
  [{ category: 'desktop', os: 'Linux', browser: 'Firefox' }, 4],
  [{ category: 'tablet', os: 'iOS', browser: 'Safari' }, 7],
];
const BEHAVIOURS: readonly (readonly [Behaviour, number])[] = [
  ['bouncer', 32],
  ['reader', 18],
  ['comparer', 16],
  ['booker', 12],
  ['member', 6],
  ['wanderer', 16],
];
const FIRST = ['anna', 'jonas', 'mira', 'tomas', 'lena', 'paul', 'ines', 'karel', 'sofia', 'hugo', 'elin', 'marek'];
const LAST = ['brandl', 'okafor', 'lindqvist', 'novak', 'ferrari', 'keller', 'moreau', 'hill', 'zeller', 'costa'];

export function createPerson(dice: Dice, bornAt: number): Person {
  const behaviour = dice.weighted(BEHAVIOURS);
  const isKnown = behaviour === 'member' || dice.chance(0.04);
  const email = `${dice.pick(FIRST)}.${dice.pick(LAST)}${dice.whole(1, 999)}@post.example`;
  return {
    browserId: dice.uuid(bornAt),
    behaviour,
    device: dice.weighted(DEVICES),
    town: dice.weighted(TOWNS),
    ...(isKnown ? { email } : {}),
  };
}

/** How likely a person comes again after a visit. */
export const RETURNS: Readonly<Record<Behaviour, number>> = {
  bouncer: 0.12,
  reader: 0.45,
  comparer: 0.6,
  booker: 0.55,
  member: 0.75,
  wanderer: 0.35,
};
