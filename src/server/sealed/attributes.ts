import { factsFromRow } from '@/core/facts/facts';
import type { Attributes } from '@/core/sealed/people';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { FACT_COLUMNS } from '../db/visitors';

interface Row {
  [column: string]: unknown;
  /** Numbers, with commas. */
  ids: string;
}

/** What stands of each visitor of a site as such: few different ones, and for each visitor which of them. */
export class AttributesOfVisitors {
  readonly #siteId: number;
  readonly #list: Attributes[] = [];
  readonly #places = new Map<string, number>();
  /** One more than the place in the list; 0 for nobody. */
  #of = new Uint32Array(1024);

  constructor(siteId: number) {
    this.#siteId = siteId;
  }

  get(visitor: number): Attributes | undefined {
    const place = this.#of[visitor];
    return place ? this.#list[place - 1] : undefined;
  }

  /** Reads them of these visitors; of everybody where none are given, and whoever is not there any more is nobody. */
  async load(db: Queryable, visitors?: readonly number[]): Promise<void> {
    const rows = await many<Row>(
      db,
      `select ${FACT_COLUMNS}, string_agg(id::text, ',') as ids
         from visitor where site_id = $1 and ($2::int[] is null or id = any($2)) group by ${FACT_COLUMNS}`,
      [this.#siteId, visitors ?? null],
    );
    if (visitors) for (const visitor of visitors) this.#set(visitor, 0);
    else this.#of.fill(0);
    for (const { ids, ...stored } of rows) {
      const place = this.#placeOf(factsFromRow(stored));
      for (const id of ids.split(',')) this.#set(Number(id), place + 1);
    }
  }

  #set(visitor: number, place: number): void {
    if (visitor >= this.#of.length) {
      const grown = new Uint32Array(Math.max(visitor + 1, this.#of.length * 2));
      grown.set(this.#of);
      this.#of = grown;
    }
    this.#of[visitor] = place;
  }

  #placeOf(attributes: Attributes): number {
    const key = JSON.stringify(attributes);
    let place = this.#places.get(key);
    if (place === undefined) {
      place = this.#list.push(attributes) - 1;
      this.#places.set(key, place);
    }
    return place;
  }
}
