/** A request's items that wait to be written. */
export interface Queued {
  readonly from: string;
  readonly entries: readonly unknown[];
}

/**
 * What waits to be written, in order for each sender, and every sender in turn: whoever sends much waits behind themselves alone.
 * Sizes are in items.
 */
export class FairQueue<T extends Queued> {
  /** Senders in the order of their turns. */
  readonly #senders = new Map<string, { waiting: T[]; items: number }>();
  readonly #most: number;
  readonly #mostOfOne: number;
  #items = 0;

  constructor({ most, mostOfOne }: { most: number; mostOfOne: number }) {
    this.#most = most;
    this.#mostOfOne = mostOfOne;
  }

  get items(): number {
    return this.#items;
  }

  /** False where too much waits already, of this sender or of all. A request larger than that is taken where nothing waits. */
  put(one: T): boolean {
    const sender = this.#senders.get(one.from) ?? { waiting: [], items: 0 };
    const { length } = one.entries;
    if (this.#items > 0 && this.#items + length > this.#most) return false;
    if (sender.items > 0 && sender.items + length > this.#mostOfOne) return false;
    sender.waiting.push(one);
    sender.items += length;
    this.#items += length;
    this.#senders.set(one.from, sender);
    return true;
  }

  /** One request of each sender after the other, up to so many items; at least one request where there is any. */
  take(items: number): T[] {
    const taken: T[] = [];
    for (let left = items; this.#senders.size > 0;) {
      const [[from, sender]] = this.#senders as unknown as [[string, { waiting: T[]; items: number }]];
      const first = sender.waiting[0] as T;
      if (taken.length > 0 && first.entries.length > left) break;
      sender.waiting.shift();
      taken.push(first);
      left -= first.entries.length;
      sender.items -= first.entries.length;
      this.#items -= first.entries.length;
      // To the end of the row.
      this.#senders.delete(from);
      if (sender.waiting.length > 0) this.#senders.set(from, sender);
    }
    return taken;
  }
}
