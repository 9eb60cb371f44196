export interface Dice {
  /** From 0 up to but not including 1. */
  readonly next: () => number;
  readonly between: (low: number, high: number) => number;
  readonly whole: (low: number, high: number) => number;
  readonly chance: (share: number) => boolean;
  readonly pick: <T>(from: readonly T[]) => T;
  /** Picks by weight. */
  readonly weighted: <T>(from: readonly (readonly [T, number])[]) => T;
  /** Log-normal with the given median; `spread` is the standard deviation of the logarithm. */
  readonly around: (median: number, spread: number) => number;
  readonly uuid: (at: number) => string;
}

/**
 * Chance that repeats: the same seed gives the same throws. FNV-1a for the seed, mulberry32 for the stream. Among some hundred thousand seeds
 * there are two that throw alike; the ids that they make differ all the same.
 */
export function createDice(seed: string): Dice {
  let state = fnv(seed, 0x811c9dc5);
  const apart = fnv(seed, 0x2f0b4c47) & 0xffffff;
  const next = (): number => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
  const pick = <T>(from: readonly T[]): T => from[Math.floor(next() * from.length)] as T;
  const hex = (digits: number, mixedWith = 0): string => (Math.floor(next() * 16 ** digits) ^ mixedWith).toString(16).padStart(digits, '0');
  return {
    next,
    between: (low, high) => low + next() * (high - low),
    whole: (low, high) => Math.floor(low + next() * (high - low + 1)),
    chance: (share) => next() < share,
    pick,
    weighted: (from) => {
      let rest = next() * from.reduce((sum, [, weight]) => sum + weight, 0);
      for (const [value, weight] of from) if ((rest -= weight) < 0) return value;
      return (from.at(-1) as (typeof from)[0])[0];
    },
    around: (median, spread) => {
      const normal = Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next());
      return median * Math.exp(spread * normal);
    },
    uuid: (at) => {
      const time = Math.floor(at).toString(16).padStart(12, '0');
      return `${time.slice(0, 8)}-${time.slice(8)}-7${hex(3)}-${pick(['8', '9', 'a', 'b'])}${hex(3)}-${hex(6)}${hex(6, apart)}`;
    },
  };
}

/** FNV-1a, 32 bits, from a given start. */
function fnv(text: string, start: number): number {
  let state = start;
  for (let index = 0; index < text.length; index++) state = Math.imul(state ^ text.charCodeAt(index), 0x01000193);
  return state;
}
