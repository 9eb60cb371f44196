// A confidence sequence for the difference of two rates: an interval that holds at all looks together, however often and
// whenever one looks. For each group, the likelihood of its conversions under a mixture of rates (Beta(1/2, 1/2)) over the
// likelihood under a supposed rate is a martingale that starts at 1 if the supposition is right (Robbins, 1970; Howard,
// Ramdas, McAuliffe and Sekhon, "Time-uniform, nonparametric, nonasymptotic confidence sequences", Annals of Statistics
// 49, 2021). So is the product over the two groups (cf. Turner, Ly and Grünwald, "Generic E-variables for exact sequential
// k-sample tests", JSPI 230, 2024). By Ville's inequality (1939) it ever exceeds 1/alpha with a chance of at most alpha.
// A difference is ruled out when the product exceeds 1/alpha for every pair of rates with that difference.
import betaln from '@stdlib/math-base-special-betaln';
import type { Interval, Tally } from './rates';

const PRIOR = 0.5;
const LOG_BETA_OF_PRIOR = Math.log(Math.PI); // of Beta(1/2, 1/2)
const STEPS = 52;

/** Natural logarithm of the evidence against a supposed rate, as a function of it; grows without bound if the rate is wrong. */
function logEvidence({ conversions, of }: Tally): (rate: number) => number {
  const mixed = betaln(conversions + PRIOR, of - conversions + PRIOR) - LOG_BETA_OF_PRIOR;
  return (rate) => mixed - times(conversions, Math.log(rate)) - times(of - conversions, Math.log1p(-rate));
}

/** Nothing times minus infinity is nothing: no conversion speaks against a rate of 0. */
const times = (count: number, logarithm: number): number => (count === 0 ? 0 : count * logarithm);

/**
 * Natural logarithm of the evidence against the first rate being `difference` above the second, for the pair of rates
 * that fits best. It is convex in the second rate, so its slope has one zero, found by bisection.
 */
export function logEvidenceAgainst(difference: number, first: Tally, second: Tally): number {
  let [low, high] = [Math.max(0, -difference), Math.min(1, 1 - difference)];
  for (let step = 0; step < STEPS; step++) {
    const middle = (low + high) / 2;
    if (slope(first, middle + difference) + slope(second, middle) < 0) low = middle;
    else high = middle;
  }
  const rate = (low + high) / 2;
  return logEvidence(first)(Math.min(1, Math.max(0, rate + difference))) + logEvidence(second)(rate);
}

/** How the evidence changes with the supposed rate. */
const slope = ({ conversions, of }: Tally, rate: number): number => (of - conversions) / (1 - rate) - conversions / rate;

/** The interval for the first rate less the second that stays valid however often one looks. [-1, 1] while nothing is known. */
export function differenceSequence(first: Tally, second: Tally, alpha = 0.05): Interval {
  const limit = Math.log(1 / alpha);
  const best = (first.of ? first.conversions / first.of : 0.5) - (second.of ? second.conversions / second.of : 0.5);
  const isRuledOut = (difference: number): boolean => logEvidenceAgainst(difference, first, second) > limit;
  const edge = (outer: number): number => {
    if (!isRuledOut(outer)) return outer;
    let [inside, outside] = [best, outer];
    for (let step = 0; step < STEPS; step++) {
      const middle = (inside + outside) / 2;
      if (isRuledOut(middle)) outside = middle;
      else inside = middle;
    }
    return outside;
  };
  return { low: edge(-1), high: edge(1) };
}

/** An always-valid chance that the two rates are the same; at most this often does it ever fall this low if they are. */
export const sameRateChance = (first: Tally, second: Tally): number => Math.min(1, Math.exp(-logEvidenceAgainst(0, first, second)));
