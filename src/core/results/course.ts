// How a difference became known, and how long it takes until it is.
import { DAY_MS } from '../time/day';
import { pair, stratumOf, tallyOf } from './compare';
import { daysToTell } from './planning';
import type { Exposure, ReportOptions } from './report';
import { dayIn, NOTHING, variantGroups } from './report';
import { differenceBy, USUAL_PLAN } from './span';

/** How a difference became known: for each day's end what was known then, of all who had met by then. */
export interface KnownBy {
  readonly day: string;
  readonly met: number;
  readonly difference: number | null;
  readonly span: readonly [number, number];
}

/** Everybody who was dealt something against those who see nothing, or the second variant against the first; empty where there is nothing to compare. */
export function courseOf(visitors: readonly Exposure[], options: ReportOptions): KnownBy[] {
  const { zone = 'UTC', planned = USUAL_PLAN, isOwnGoal, variants = [], looks = 'always' } = options;
  const hasNothing = !isOwnGoal && visitors.some(({ dealt }) => dealt === NOTHING);
  const [base, other] = hasNothing ? [NOTHING, undefined] : [variants[0], variants[1]];
  if (base === undefined || (!hasNothing && other === undefined)) return [];
  const isBase = ({ dealt }: Exposure): boolean => dealt === base;
  const isOther = ({ dealt }: Exposure): boolean => (other === undefined ? dealt !== NOTHING : dealt === other);
  const stratum = stratumOf(options.splits ?? new Map());
  const days = new Map<string, [side: 0 | 1, stratum: string, met: number, successes: number][]>();
  const note = (at: number, ...told: [0 | 1, string, number, number]): void => {
    const day = dayIn(zone, at);
    const found = days.get(day);
    if (found) found.push(told);
    else days.set(day, [told]);
  };
  for (const visitor of visitors) {
    const side = isBase(visitor) ? 1 : isOther(visitor) ? 0 : undefined;
    if (side === undefined) continue;
    note(visitor.met, side, stratum(visitor), 1, 0);
    if (visitor.success !== null) note(visitor.success, side, stratum(visitor), 0, 1);
  }
  const strata = new Map<string, [{ of: number; conversions: number }, { of: number; conversions: number }]>();
  return [...days]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([day, news]): KnownBy => {
      for (const [side, name, met, successes] of news) {
        let found = strata.get(name);
        if (!found)
          strata.set(
            name,
            (found = [
              { of: 0, conversions: 0 },
              { of: 0, conversions: 0 },
            ]),
          );
        found[side].of += met;
        found[side].conversions += successes;
      }
      const all = [...strata.values()];
      const told = differenceBy(
        all.filter((tallies) => tallies.every(({ of }) => of > 0)),
        { planned, looks },
      );
      return {
        day,
        met: all.flat().reduce((sum, { of }) => sum + of, 0),
        difference: told?.difference ?? null,
        span: told ? pair(told.span) : [-1, 1],
      };
    });
}

/** How many more visitors, and at this pace how many more days, until a difference of `points` would be clear. */
export interface StillNeeded {
  readonly visitors: number;
  readonly days: number;
}

/**
 * What is still needed by those who met it so far, as they were dealt, at the pace since the first of them: undefined where nothing is compared, nobody has
 * met it, or everybody or nobody succeeds. `points`: 0.01 is one of a hundred; `to` UTC ms, until when the visitors are.
 */
export function stillNeeded(
  visitors: readonly Exposure[],
  { isOwnGoal, variants = [] }: ReportOptions,
  { points, to }: { points: number; to: number },
): StillNeeded | undefined {
  const groups = variantGroups(visitors, { isOwnGoal, variants, days: 0, now: to });
  const compared = groups.filter(({ against }) => against !== undefined);
  const base = compared[0]?.against;
  const first = visitors.reduce((least, { met }) => Math.min(least, met), Infinity);
  const elapsed = (to - first) / DAY_MS;
  if (!base || elapsed <= 0) return undefined;
  const { conversions, of } = tallyOf(base.sums);
  const rate = conversions / of;
  const taking = of + compared.reduce((sum, { sums }) => sum + sums.met, 0);
  if (rate <= 0 || rate >= 1) return undefined;
  const shares = compared.map(({ sums }) => sums.met / taking);
  const share = of / taking;
  const dealt = base.value === NOTHING ? { nothing: share, variants: shares } : { nothing: 0, variants: [share, ...shares] };
  const perDay = taking / elapsed;
  const days = daysToTell(dealt, { perDay, rate, points });
  if (days === undefined || !Number.isFinite(days)) return undefined;
  const left = Math.max(0, days - elapsed);
  return { visitors: Math.ceil(left * perDay), days: Math.ceil(left) };
}
