import { LRUCache } from 'lru-cache';
import type { ReadSide } from '../db/readSide';
import { SiteMemory } from './site';

/** The sites that a thread keeps, within a budget in bytes: what was used least is forgotten first, and read again when somebody asks. */
export class Memories {
  readonly #readingOf: (site: number) => Promise<ReadSide>;
  readonly #budget: number;
  readonly #sites = new LRUCache<number, SiteMemory>({ max: 100_000 });

  constructor(readingOf: (site: number) => Promise<ReadSide>, budget: number) {
    this.#readingOf = readingOf;
    this.#budget = budget;
  }

  /** A site that has been moved to another server is read anew. */
  async of(site: number): Promise<SiteMemory> {
    const reading = await this.#readingOf(site);
    const known = this.#sites.get(site);
    const memory = known?.isOf(reading) ? known : new SiteMemory(reading, site);
    this.#sites.set(site, memory);
    return memory;
  }

  get sites(): number[] {
    return [...this.#sites.keys()];
  }

  /** Comes back under the budget as far as it can: the site used last stays, with the days rehearsed last, whatever it takes. */
  trim(): void {
    let bytes = 0;
    for (const memory of this.#sites.values()) bytes += memory?.bytes ?? 0;
    while (bytes > this.#budget && this.#sites.size > 1) {
      const oldest = this.#sites.pop();
      bytes -= oldest?.bytes ?? 0;
    }
    const [last] = this.#sites.values();
    while (last && bytes > this.#budget) {
      const freed = last.forgetSome();
      if (freed === undefined) return;
      bytes -= freed;
    }
  }
}
