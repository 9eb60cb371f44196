import type { Dice } from '../dice';
import type { Behaviour } from './people';

export interface Step {
  readonly path: string;
  /** How long the page is looked at, in seconds, and how deep it is read, in percent. */
  readonly seconds: number;
  readonly depth: number;
}

const HUTS = ['/huts/skarn-shelter', '/huts/upper-moss', '/huts/lantern-col', '/huts/three-cairns'];
const ROUTES = ['/routes/ridge-traverse', '/routes/valley-loop'];
const ANYWHERE = [
  '/',
  '/huts',
  ...HUTS,
  '/routes',
  ...ROUTES,
  '/journal',
  '/journal/packing-for-snow',
  '/membership',
  '/offers',
  '/contact',
];

/** Which pages one visit of such a person goes through. */
export function planJourney(behaviour: Behaviour, dice: Dice): Step[] {
  switch (behaviour) {
    case 'bouncer':
      return [step(dice.pick(ANYWHERE), dice, { seconds: 4, depth: 8 })];
    case 'reader':
      return [
        step(dice.pick(['/journal', '/routes', '/']), dice, { seconds: 15, depth: 45 }),
        ...some(dice, [...ROUTES, '/journal/packing-for-snow'], { least: 1, most: 3, seconds: 95, depth: 88 }),
      ];
    case 'comparer':
      return [step('/huts', dice, { seconds: 20, depth: 60 }), ...some(dice, HUTS, { least: 2, most: 5, seconds: 38, depth: 62 })];
    case 'booker':
      return [
        step('/huts', dice, { seconds: 12, depth: 40 }),
        ...some(dice, HUTS, { least: 1, most: 2, seconds: 34, depth: 58 }),
        ...booking(dice, 0.45),
      ];
    case 'member':
      return [
        step(dice.pick(['/', '/membership', '/journal']), dice, { seconds: 18, depth: 40 }),
        ...(dice.chance(0.5) ? booking(dice, 0.7) : some(dice, ANYWHERE, { least: 1, most: 3, seconds: 35, depth: 55 })),
      ];
    case 'wanderer':
      return some(dice, ANYWHERE, { least: 2, most: 5, seconds: 24, depth: 45 });
  }
}

function booking(dice: Dice, finishes: number): Step[] {
  const form = step('/book', dice, { seconds: 55, depth: 70 });
  return dice.chance(finishes) ? [form, step('/book/done', dice, { seconds: 9, depth: 100 })] : [form];
}

function some(
  dice: Dice,
  paths: readonly string[],
  { least, most, seconds, depth }: { least: number; most: number; seconds: number; depth: number },
): Step[] {
  return Array.from({ length: dice.whole(least, most) }, () => step(dice.pick(paths), dice, { seconds, depth }));
}

function step(path: string, dice: Dice, { seconds, depth }: { seconds: number; depth: number }): Step {
  return {
    path,
    seconds: Math.min(900, Math.max(1.5, dice.around(seconds, 0.7))),
    depth: Math.max(0, Math.min(100, depth + dice.between(-28, 24))),
  };
}
