import type { SiteGoal } from '@/core/campaigns/campaign';
import type { Place, Places, PlaceShape } from '@/core/geo/place';
import type { PageSets, PlainPattern } from '@/core/pages/pattern';
import type { Queryable } from './queryable';
import { many, maybeOne } from './queryable';
import { orNameTaken, Outdated } from './errors';

export interface Stored {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly updatedAt: Date;
}
export type StoredPlace = Stored & Place;
export interface StoredPageSet extends Stored {
  readonly patterns: readonly PlainPattern[];
}

/** Named things of a site with one column of their own. */
class Vocabulary<T extends Stored> {
  readonly #table: string;
  readonly #column: string;

  constructor(table: string, column: string) {
    this.#table = table;
    this.#column = column;
  }

  list(db: Queryable, siteId: number): Promise<T[]> {
    return many<T & Record<string, unknown>>(db, `${this.#select()} where site_id = $1 order by lower(name), id`, [siteId]);
  }

  find(db: Queryable, siteId: number, id: string): Promise<T | undefined> {
    return maybeOne<T & Record<string, unknown>>(db, `${this.#select()} where site_id = $1 and id = $2`, [siteId, id]);
  }

  async insert(db: Queryable, siteId: number, { id, name, body }: { id: string; name: string; body: unknown }): Promise<void> {
    await orNameTaken(name, `${this.#table}_name_unique`, () =>
      db.query(`insert into ${this.#table} (site_id, id, name, ${this.#column}) values ($1, $2, $3, $4)`, [
        siteId,
        id,
        name,
        JSON.stringify(body),
      ]),
    );
  }

  /** The new revision. Refuses to overwrite what somebody saved meanwhile. */
  async update(
    db: Queryable,
    siteId: number,
    { id, name, body, revision }: { id: string; name: string; body: unknown; revision: number },
  ): Promise<number> {
    const row = await orNameTaken(name, `${this.#table}_name_unique`, () =>
      maybeOne<{ revision: number }>(
        db,
        `update ${this.#table} set name = $3, ${this.#column} = $4, revision = revision + 1, updated_at = now()
          where site_id = $1 and id = $2 and revision = $5 returning revision`,
        [siteId, id, name, JSON.stringify(body), revision],
      ),
    );
    if (!row) throw new Outdated();
    return row.revision;
  }

  #select(): string {
    return `select id, name, ${this.#column}, revision, updated_at as "updatedAt" from ${this.#table}`;
  }
}

export const places = new Vocabulary<StoredPlace>('place', 'shape');
/** What a site names as success. */
export interface StoredGoal extends Stored {
  readonly goal: SiteGoal;
}
export const goals = new Vocabulary<StoredGoal>('goal', 'goal');
export const pageSets = new Vocabulary<StoredPageSet>('page_set', 'patterns');

export async function loadPlaces(db: Queryable, siteId: number): Promise<Places> {
  return Object.fromEntries((await places.list(db, siteId)).map(({ id, name, shape }) => [id, { name, shape }]));
}

export async function loadPageSets(db: Queryable, siteId: number): Promise<PageSets> {
  return Object.fromEntries((await pageSets.list(db, siteId)).map(({ id, patterns }) => [id, patterns]));
}

export const insertPlace = (
  db: Queryable,
  siteId: number,
  { id, name, shape }: { id: string; name: string; shape: PlaceShape },
): Promise<void> => places.insert(db, siteId, { id, name, body: shape });

export const insertPageSet = (
  db: Queryable,
  siteId: number,
  { id, name, patterns }: { id: string; name: string; patterns: readonly PlainPattern[] },
): Promise<void> => pageSets.insert(db, siteId, { id, name, body: patterns });
