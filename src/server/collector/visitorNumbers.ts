import { LRUCache } from 'lru-cache';
import type pg from 'pg';
import { one } from '../db/queryable';

/** A block is as large as what was asked for lately, up to this: a site of few visitors is dealt no more numbers than it needs. */
const LARGEST_BLOCK = 256;
/** Within so many ms of the last block the next one is twice as large. */
const SOON_MS = 2000;

interface Dealt {
  readonly free: number[];
  /** Of the last block. */
  size: number;
  at: number;
}

/**
 * Numbers of new visitors, taken from the site in blocks, so that collectors do not wait for each other's transactions. They stay nearly
 * dense: posting lists are as long as the largest.
 */
export class VisitorNumbers {
  private readonly sites = new LRUCache<number, Dealt>({ max: 10_000 });

  constructor(
    private readonly pool: pg.Pool,
    private readonly now: () => number = () => performance.now(),
  ) {}

  /** `count` numbers that nobody else has, rising. */
  async take(siteId: number, count: number): Promise<number[]> {
    const dealt = this.dealtOf(siteId);
    const taken = dealt.free.splice(0, count);
    const missing = count - taken.length;
    if (missing === 0) return taken;
    const isSoon = this.now() - dealt.at < SOON_MS;
    const size = Math.max(missing, isSoon ? Math.min(dealt.size * 2, LARGEST_BLOCK) : 0);
    const { last } = await one<{ last: number }>(
      this.pool,
      `update site set visitors = visitors + $2 where id = $1 returning visitors as last`,
      [siteId, size],
    );
    const block = Array.from({ length: size }, (_, index) => last - size + 1 + index);
    const own = block.splice(0, missing);
    dealt.free.push(...block);
    dealt.size = size;
    dealt.at = this.now();
    return [...taken, ...own];
  }

  /** What was taken and came to nothing is dealt again. */
  giveBack(siteId: number, numbers: readonly number[]): void {
    const { free } = this.dealtOf(siteId);
    free.push(...numbers);
    free.sort((a, b) => a - b);
  }

  private dealtOf(siteId: number): Dealt {
    const known = this.sites.get(siteId) ?? { free: [], size: 1, at: -Infinity };
    this.sites.set(siteId, known);
    return known;
  }
}

/** Numbers for one transaction: taken before it begins, because whoever is in one must not wait for another connection. */
export class Dealing {
  private readonly numbers: VisitorNumbers;
  private readonly reserved = new Map<number, number[]>();
  private readonly taken: (readonly [siteId: number, numbers: readonly number[]])[] = [];

  private constructor(numbers: VisitorNumbers) {
    this.numbers = numbers;
  }

  /** As many as `most` says for each site, at the most, will be needed. */
  static async begin(numbers: VisitorNumbers, most: ReadonlyMap<number, number>): Promise<Dealing> {
    const dealing = new Dealing(numbers);
    for (const [siteId, count] of most) dealing.reserved.set(siteId, await numbers.take(siteId, count));
    return dealing;
  }

  /** @throws RangeError beyond what was reserved. */
  take(siteId: number, count: number): readonly number[] {
    const reserved = this.reserved.get(siteId) ?? [];
    if (reserved.length < count) throw new RangeError(`${count} numbers of site ${siteId} are wanted, ${reserved.length} were reserved`);
    const numbers = reserved.splice(0, count);
    this.taken.push([siteId, numbers]);
    return numbers;
  }

  /** What was not needed is dealt again; what was taken as well, if it came to nothing. */
  end({ failed }: { failed: boolean }): void {
    for (const [siteId, numbers] of [...this.reserved, ...(failed ? this.taken : [])]) this.numbers.giveBack(siteId, numbers);
    this.reserved.clear();
    this.taken.length = 0;
  }
}
