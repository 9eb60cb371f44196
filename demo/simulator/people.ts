import type { FactValues } from '@/core/facts/facts';
import type { Dice } from '@/core/random/dice';
import type { Town } from '../towns';
import { TOWNS } from '../towns';

export type Behaviour = 'bouncer' | 'reader' | 'comparer' | 'booker' | 'learner' | 'member' | 'wanderer';

/** One simulated person: who they are does not change between their visits. */
export interface Person {
  readonly browserId: string;
  readonly behaviour: Behaviour;
  readonly device: Device;
  readonly town: Town;
  readonly email?: string;
  /** What the site says of a member who has signed in. */
  readonly member?: {
    readonly id: string;
    readonly first_name: string;
    readonly plan: string;
    readonly nights: number;
    readonly joined: string;
  };
  readonly team?: true;
}

/** What is known of them as such; of what nobody is made up with nothing is. */
export const factsOfPerson = ({ device: { category, os, browser }, town: { language, zone }, team }: Person): FactValues => ({
  device: { category, os, browser },
  language,
  zone,
  team: team === true,
});

export interface Device {
  readonly category: 'desktop' | 'tablet' | 'phone';
  readonly os: string;
  readonly browser: string;
  readonly touchPoints: number;
  readonly userAgent: string;
}

const device = (category: Device['category'], os: string, browser: string, userAgent: string): Device => ({
  category,
  os,
  browser,
  touchPoints: category === 'desktop' ? 0 : 5,
  userAgent: `Mozilla/5.0 ${userAgent}`,
});
const CHROME = 'AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0';

const DEVICES: readonly (readonly [Device, number])[] = [
  [device('phone', 'Android', 'Chrome', `(Linux; Android 14; K) ${CHROME} Mobile Safari/537.36`), 32],
  [
    device(
      'phone',
      'iOS',
      'Safari',
      '(iPhone; CPU iPhone OS 18_1 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.1 Mobile/15E148 Safari/604.1',
    ),
    24,
  ],
  [device('desktop', 'Windows', 'Chrome', `(Windows NT 10.0; Win64; x64) ${CHROME} Safari/537.36`), 18],
  [device('desktop', 'Windows', 'Microsoft Edge', `(Windows NT 10.0; Win64; x64) ${CHROME} Safari/537.36 Edg/141.0.0.0`), 7],
  [
    device(
      'desktop',
      'macOS',
      'Safari',
      '(Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.1 Safari/605.1.15',
    ),
    8,
  ],
  [device('desktop', 'Linux', 'Firefox', '(X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0'), 4],
  [
    device(
      'tablet',
      'iOS',
      'Safari',
      '(iPad; CPU OS 18_1 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.1 Mobile/15E148 Safari/604.1',
    ),
    7,
  ],
];
const BEHAVIOURS: readonly (readonly [Behaviour, number])[] = [
  ['bouncer', 31],
  ['reader', 17],
  ['comparer', 15],
  ['booker', 12],
  ['learner', 5],
  ['member', 6],
  ['wanderer', 14],
];
const FIRST = ['Anna', 'Jonas', 'Mira', 'Tomas', 'Lena', 'Paul', 'Ines', 'Karel', 'Sofia', 'Hugo', 'Elin', 'Marek'];
const LAST = ['brandl', 'okafor', 'lindqvist', 'novak', 'ferrari', 'keller', 'moreau', 'hill', 'zeller', 'costa'];

export function createPerson(dice: Dice, bornAt: number): Person {
  const behaviour = dice.weighted(BEHAVIOURS);
  const first = dice.pick(FIRST);
  const isMember = behaviour === 'member';
  const isKnown = isMember || dice.chance(0.04);
  const number = dice.whole(1, 9999);
  return {
    browserId: dice.uuid(bornAt),
    behaviour,
    device: dice.weighted(DEVICES),
    town: dice.weighted(TOWNS),
    ...(isKnown ? { email: `${first.toLowerCase()}.${dice.pick(LAST)}${number}@post.example` } : {}),
    ...(isMember
      ? {
          member: {
            id: `m-${number}`,
            first_name: first,
            plan: dice.chance(0.4) ? 'family' : 'single',
            nights: dice.whole(1, 40),
            joined: `20${dice.whole(12, 25)}-0${dice.whole(1, 9)}-1${dice.whole(0, 9)}`,
          },
        }
      : {}),
    ...(dice.chance(0.002) ? { team: true as const } : {}),
  };
}

/** How likely a person comes again after a visit. */
export const RETURNS: Readonly<Record<Behaviour, number>> = {
  bouncer: 0.12,
  reader: 0.45,
  comparer: 0.6,
  booker: 0.55,
  learner: 0.5,
  member: 0.75,
  wanderer: 0.35,
};
