import type pg from 'pg';
import { many } from '../db/queryable';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';

/** Segments, page sets and places of a site as they are now. */
export class SiteKnown {
  readonly #db: pg.Pool;
  readonly #siteId: number;

  constructor(db: pg.Pool, siteId: number) {
    this.#db = db;
    this.#siteId = siteId;
  }

  /** Changes with every one of them that is saved, made or deleted; far less to read than all of them. */
  async fingerprint(): Promise<string> {
    const ids = (table: string): string => `(select string_agg(id || ' ' || revision, ',' order by id) from ${table} where site_id = $1)`;
    const rows = await many(this.#db, `select ${ids('segment')} as segments, ${ids('page_set')} as sets, ${ids('place')} as places`, [
      this.#siteId,
    ]);
    return JSON.stringify(rows);
  }

  async load() {
    const [sets, places, segments] = await Promise.all([
      loadPageSets(this.#db, this.#siteId),
      loadPlaces(this.#db, this.#siteId),
      segmentBodies(this.#db, this.#siteId),
    ]);
    return { sets, places, segments };
  }
}
