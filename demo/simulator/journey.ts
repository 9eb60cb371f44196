import type { Dice } from '@/core/random/dice';
import { PAGES } from '../site/pages';
import type { Behaviour } from './people';

export interface JourneyStep {
  readonly path: string;
  /** How long the page is looked at, in seconds, and how deep it is read, in percent. */
  readonly seconds: number;
  readonly depth: number;
}

const pathsOf = (...kinds: string[]): string[] => PAGES.filter(({ kind }) => kinds.includes(kind)).map(({ path }) => path);
const HUTS = pathsOf('hut').filter((path) => path !== '/huts/closed');
const ROUTES = pathsOf('route');
const ARTICLES = pathsOf('article');
const KITS = pathsOf('kit');
const ANYWHERE = pathsOf(
  'home',
  'huts',
  'hut',
  'routes',
  'route',
  'journal',
  'article',
  'gear',
  'kit',
  'courses',
  'membership',
  'offers',
  'contact',
);

/** The booking, with how many go on from each step to the next. */
const FUNNEL: readonly (readonly [string, number, number])[] = [
  ['/book', 55, 0.66],
  ['/book/guests', 18, 0.82],
  ['/book/extras', 30, 0.78],
  ['/book/pay', 42, 0.74],
  ['/book/done', 9, 0],
];

/** Which pages one visit of such a person goes through. `keen` is how much likelier than usual they go on in the booking. */
export function planJourney(behaviour: Behaviour, dice: Dice, { isSnowing }: { isSnowing: boolean }): JourneyStep[] {
  const plan = planUsual(behaviour, dice);
  // Snow makes people think of the course that they have put off.
  if (!isSnowing || behaviour === 'bouncer' || !dice.chance(0.3)) return plan;
  return [...plan, ...course(dice)];
}

function planUsual(behaviour: Behaviour, dice: Dice): JourneyStep[] {
  switch (behaviour) {
    case 'bouncer':
      return [step(dice.pick(ANYWHERE), dice, { seconds: 4, depth: 8 })];
    case 'reader':
      return [
        step(dice.pick(['/journal', '/routes', '/']), dice, { seconds: 15, depth: 45 }),
        ...some(dice, [...ROUTES, ...ARTICLES], { least: 1, most: 3, seconds: 95, depth: 88 }),
      ];
    case 'comparer':
      return [
        step('/huts', dice, { seconds: 20, depth: 60 }),
        ...some(dice, HUTS, { least: 2, most: 5, seconds: 38, depth: 62 }),
        ...(dice.chance(0.2) ? [step('/offers', dice, { seconds: 25, depth: 70 })] : []),
        ...(dice.chance(0.22) ? booking(dice) : []),
      ];
    case 'booker':
      return [
        step('/huts', dice, { seconds: 12, depth: 40 }),
        ...some(dice, HUTS, { least: 1, most: 2, seconds: 34, depth: 58 }),
        ...(dice.chance(0.25) ? some(dice, KITS, { least: 1, most: 1, seconds: 25, depth: 60 }) : []),
        ...booking(dice),
      ];
    case 'learner':
      return [step('/journal/how-to-read-a-bulletin', dice, { seconds: 70, depth: 80 }), ...course(dice)];
    case 'member':
      return [
        step(dice.pick(['/', '/account', '/journal']), dice, { seconds: 18, depth: 40 }),
        ...(dice.chance(0.5) ? booking(dice) : some(dice, ANYWHERE, { least: 1, most: 3, seconds: 35, depth: 55 })),
      ];
    case 'wanderer':
      return [
        ...some(dice, ANYWHERE, { least: 2, most: 5, seconds: 24, depth: 45 }),
        ...(dice.chance(0.2) ? [step('/membership', dice, { seconds: 40, depth: 85 })] : []),
      ];
  }
}

const course = (dice: Dice): JourneyStep[] => [
  step('/courses', dice, { seconds: 18, depth: 50 }),
  step('/courses/avalanche-awareness', dice, { seconds: 65, depth: 80 }),
];

/** The booking as far as they get. */
export function booking(dice: Dice): JourneyStep[] {
  const steps: JourneyStep[] = [];
  for (const [path, seconds, goesOn] of FUNNEL) {
    steps.push(step(path, dice, { seconds, depth: path === '/book/done' ? 100 : 70 }));
    if (!dice.chance(goesOn)) break;
  }
  return steps;
}

/** What is left of the booking from the last step seen, gone through to its end. */
export function finishBooking(after: string | undefined, dice: Dice): JourneyStep[] {
  const from = FUNNEL.findIndex(([path]) => path === after) + 1;
  return FUNNEL.slice(from).map(([path, seconds]) => step(path, dice, { seconds, depth: 80 }));
}

function some(
  dice: Dice,
  paths: readonly string[],
  { least, most, seconds, depth }: { least: number; most: number; seconds: number; depth: number },
): JourneyStep[] {
  return Array.from({ length: dice.whole(least, most) }, () => step(dice.pick(paths), dice, { seconds, depth }));
}

function step(path: string, dice: Dice, { seconds, depth }: { seconds: number; depth: number }): JourneyStep {
  return {
    path,
    seconds: Math.min(900, Math.max(1.5, dice.around(seconds, 0.7))),
    depth: Math.max(0, Math.min(100, depth + dice.between(-28, 24))),
  };
}
