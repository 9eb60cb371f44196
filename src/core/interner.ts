/** A list in which everything stands once, with the places in it by a key. */
export class Interner<T> {
  readonly list: T[] = [];
  readonly #index = new Map<string, number>();

  indexOf(key: string, make: () => T): number {
    let index = this.#index.get(key);
    if (index === undefined) {
      index = this.list.push(make()) - 1;
      this.#index.set(key, index);
    }
    return index;
  }
}
