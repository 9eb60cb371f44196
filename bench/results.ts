// What results promise, held to simulated campaigns: how often something was called clear that is not, and how often a plan found what it was to find.
import { createDice } from '@/core/random/dice';
import { daysToTell } from '@/core/results/planning';
import type { Looks, Stratum, Values } from '@/core/results/span';
import type { Tally } from '@/core/results/rates';
import { differenceBy, isClear, USUAL_PLAN, valueDifferenceBy } from '@/core/results/span';
import { sized } from './sized';

const WORLDS = sized(300, 15);
const DAYS = 180;
/** The chance that anything is ever called clear that is not. */
const PROMISE = 0.05;
const PERIODS = [7, 30, 90] as const;

type Dice = ReturnType<typeof createDice>;
type Day = readonly [ones: Tally, others: Tally];

/** One day: who was shown it, and the control group. */
function dayOf(dice: Dice, { perDay, holdout, rate, lift = 0 }: { perDay: number; holdout: number; rate: number; lift?: number }): Day {
  const none = (): { of: number; conversions: number } => ({ of: 0, conversions: 0 });
  const groups = [none(), none()] as const;
  for (let one = 0; one < perDay; one++) {
    const isHeld = dice.chance(holdout);
    const group = groups[isHeld ? 1 : 0];
    group.of++;
    if (dice.chance(rate + (isHeld ? 0 : lift))) group.conversions++;
  }
  return groups;
}

const sum = (days: readonly Day[]): Day =>
  [0, 1].map((side) => ({
    of: days.reduce((all, day) => all + (day[side] as Tally).of, 0),
    conversions: days.reduce((all, day) => all + (day[side] as Tally).conversions, 0),
  })) as [Tally, Tally];

function isClearBy(
  strata: readonly Stratum<Tally>[],
  { looks = 'always', planned = USUAL_PLAN }: { looks?: Looks; planned?: number } = {},
): boolean {
  const found = differenceBy(strata, { looks, planned });
  return found !== undefined && isClear(found.span);
}

/** Of so many worlds, by their seed, the share of which something is so. */
const shareOf = (name: string, world: (dice: Dice) => boolean): number =>
  Array.from({ length: WORLDS }, (_, nth) => world(createDice(`${name} ${nth}`))).filter(Boolean).length / WORLDS;

const told = (share: number): string => `${(100 * share).toFixed(1)} of 100`;

/** Was anything called clear on any evening? `seen`: what is looked at on each. */
function everClear(dice: Dice, of: { perDay: number; holdout: number; rate: number }, seen: (days: readonly Day[]) => boolean): boolean {
  const days: Day[] = [];
  for (let day = 0; day < DAYS; day++) {
    days.push(dayOf(dice, of));
    if (seen(days)) return true;
  }
  return false;
}

export function benchResults(): void {
  console.log(
    `Results of ${WORLDS} simulated campaigns each, ${DAYS} evenings; at most ${told(PROMISE)} may ever call something clear that is not`,
  );
  for (const perDay of [100, 1000])
    for (const [holdout, rate] of [
      [0.2, 0.03],
      [0.5, 0.1],
    ] as const) {
      const of = { perDay, holdout, rate };
      const name = `${perDay} a day, ${100 * holdout} % control group, ${100 * rate} % succeed`;
      const fixed = shareOf(`fixed ${name}`, (dice) => {
        let all: Day = [
          { of: 0, conversions: 0 },
          { of: 0, conversions: 0 },
        ];
        return everClear(dice, of, (days) => isClearBy([(all = sum([all, ...days.slice(-1)]))]));
      });
      const rolling = shareOf(`rolling ${name}`, (dice) =>
        everClear(dice, of, (days) => PERIODS.some((last) => isClearBy([sum(days.slice(-last))]))),
      );
      console.log(`  no effect, ${name}: from a fixed start ${told(fixed)}; if periods that roll were read so, ${told(rolling)}`);
    }
  for (const perDay of [100, 500]) {
    const world = (isByStrata: boolean) => (dice: Dice) => {
      const parts: [Day[], Day[]] = [[], []];
      for (let day = 0; day < 120; day++) {
        const part = day < 60 ? 0 : 1;
        parts[part].push(dayOf(dice, part === 0 ? { perDay, holdout: 0.2, rate: 0.2 } : { perDay, holdout: 0.5, rate: 0.1 }));
        const strata = parts.filter((days) => days.length > 0).map(sum);
        if (isClearBy(isByStrata ? strata : [sum(strata)])) return true;
      }
      return false;
    };
    console.log(
      `  no effect, the control group grows from 20 to 50 % while success halves, ${perDay} a day: within each part ${told(shareOf(`drift ${perDay}`, world(true)))}; all together ${told(shareOf(`drift ${perDay}`, world(false)))}`,
    );
  }
  const tails = shareOf('tails', (dice) => {
    const groups = [noValues(), noValues()] as const;
    for (let day = 0; day < DAYS; day++) {
      for (let one = 0; one < 200; one++) {
        const group = groups[dice.chance(0.5) ? 1 : 0];
        group.of++;
        if (!dice.chance(0.1)) continue;
        // Lognormal: one of a hundred is worth thirty of the middle.
        const value = dice.around(50, 1.5);
        group.sum += value;
        group.squares += value * value;
      }
      const found = valueDifferenceBy([groups], { looks: 'always' });
      if (found && isClear(found.span)) return true;
    }
    return false;
  });
  console.log(`  no effect on values with a heavy tail, 200 a day: ${told(tails)}`);
  for (const [rate, points, holdout] of [
    [0.05, 0.02, 0.5],
    [0.1, 0.03, 0.2],
  ] as const) {
    const perDay = 200;
    const days = Math.ceil(daysToTell({ variants: [1 - holdout], nothing: holdout }, { perDay, rate, points }) ?? 0);
    const found = (planned: number) =>
      shareOf(`plan ${rate} ${holdout}`, (dice) => {
        const all: Day[] = [];
        for (let day = 0; day < days; day++) all.push(dayOf(dice, { perDay, holdout, rate, lift: points }));
        return isClearBy([sum(all)], { planned });
      });
    console.log(
      `  ${100 * points} points more than ${100 * rate} %, ${100 * holdout} % control group, planned for ${days} days to be found in 80 of 100: found in ${told(found(days * perDay))} with a span tuned to that, ${told(found(USUAL_PLAN))} with the usual one`,
    );
  }
}

const noValues = (): { of: number; sum: number; squares: number } & Values => ({ of: 0, sum: 0, squares: 0 });
