import { LRUCache } from 'lru-cache';
import type pg from 'pg';
import type { Queryable } from './queryable';
import { many, maybeOne } from './queryable';

/** Where a site is may be known for this long; whoever moves one waits for longer. */
export const KNOWN_MS = 1000;

/** Nothing of the site may be written for some seconds. */
export class SiteMoving extends Error {
  readonly code = 'site.moving';
  constructor(readonly siteId: number) {
    super('The site is being moved to another server; nothing was taken, try again in some seconds');
  }
}

/** A PostgreSQL server: the home one, which has the directory, or a node. */
export interface Server {
  /** Undefined: the home server. */
  readonly name: string | undefined;
  readonly pool: pg.Pool;
}

interface Whereabouts extends Server {
  readonly isHeld: boolean;
}

/** What transactions and statements are asked of: a pool, or whatever finds the right one. */
export type Database = Pick<pg.Pool, 'query' | 'connect'>;

/** Which server holds which site, and a pool for each server. */
export class Directory {
  readonly home: pg.Pool;
  readonly #makePool: (url: string) => pg.Pool;
  readonly #now: () => number;
  readonly #pools = new Map<string, pg.Pool>();
  readonly #known = new LRUCache<number, { readonly at: number; readonly found: Promise<Whereabouts> }>({ max: 20_000 });
  readonly #routed = new LRUCache<number, Database>({ max: 20_000 });

  constructor(home: pg.Pool, makePool: (url: string) => pg.Pool, now: () => number = () => performance.now()) {
    this.home = home;
    this.#makePool = makePool;
    this.#now = now;
  }

  /** The server of a site, as it was a second ago at most; a site that is not on record is at home. */
  find(siteId: number): Promise<Whereabouts> {
    const known = this.#known.get(siteId);
    if (known && this.#now() - known.at < KNOWN_MS) return known.found;
    const looked = { at: this.#now(), found: this.#look(siteId) };
    this.#known.set(siteId, looked);
    looked.found.catch(() => this.#known.peek(siteId) === looked && this.#known.delete(siteId));
    return looked.found;
  }

  /** The server of a site to write to. @throws SiteMoving */
  async findToWrite(siteId: number): Promise<Server> {
    const found = await this.find(siteId);
    if (found.isHeld) throw new SiteMoving(siteId);
    return found;
  }

  /** The database of a site, wherever it is by then; the same object for the same site. While the site is being moved it can be read. */
  of(siteId: number): Database {
    let routed = this.#routed.get(siteId);
    if (!routed) {
      routed = new RoutedDatabase(this, siteId) as unknown as Database;
      this.#routed.set(siteId, routed);
    }
    return routed;
  }

  /** Every server with the sites that may be written there. */
  async servers(): Promise<(Server & { readonly sites: readonly number[] })[]> {
    const nodes = await many<{ name: string; url: string }>(this.home, `select name, url from node order by name`);
    const sites = await many<{ id: number; node: string | null }>(this.home, `select id, node from site where held_at is null order by id`);
    const sitesOf = (name: string | null): number[] => sites.filter(({ node }) => node === name).map(({ id }) => id);
    return [
      { name: undefined, pool: this.home, sites: sitesOf(null) },
      ...nodes.map(({ name, url }) => ({ name, pool: this.#poolOf(url), sites: sitesOf(name) })),
    ];
  }

  async end(): Promise<void> {
    await Promise.all([...this.#pools.values()].map((pool) => pool.end()));
  }

  async #look(siteId: number): Promise<Whereabouts> {
    const row = await maybeOne<{ name: string | null; url: string | null; held: boolean }>(
      this.home,
      `select node as name, url, held_at is not null as held from site left join node on node.name = site.node where id = $1`,
      [siteId],
    );
    if (!row?.url) return { name: undefined, pool: this.home, isHeld: row?.held ?? false };
    return { name: row.name ?? undefined, pool: this.#poolOf(row.url), isHeld: row.held };
  }

  #poolOf(url: string): pg.Pool {
    let pool = this.#pools.get(url);
    if (!pool) {
      pool = this.#makePool(url);
      this.#pools.set(url, pool);
    }
    return pool;
  }
}

class RoutedDatabase {
  readonly #directory: Directory;
  readonly #siteId: number;

  constructor(directory: Directory, siteId: number) {
    this.#directory = directory;
    this.#siteId = siteId;
  }

  async query(statement: string | pg.QueryConfig, values?: unknown[]): Promise<pg.QueryResult> {
    const text = typeof statement === 'string' ? statement : statement.text;
    const { pool } = /^\s*(select|with recursive)\b/i.test(text)
      ? await this.#directory.find(this.#siteId)
      : await this.#directory.findToWrite(this.#siteId);
    return typeof statement === 'string' ? pool.query(statement, values) : pool.query(statement);
  }

  async connect(): Promise<pg.PoolClient> {
    return (await this.#directory.findToWrite(this.#siteId)).pool.connect();
  }
}

/** Members stand on a node, too, because rows there name them; they sign in at home alone. */
export async function copyMembers(home: Queryable, { siteId, to }: { siteId: number; to: Queryable }): Promise<void> {
  const members = await many<{ id: number; email: string; name: string; role: string }>(
    home,
    `select member.id, email, member.name, role from member join membership on membership.member_id = member.id where site_id = $1`,
    [siteId],
  );
  await to.query(
    `insert into member (id, email, name, password_hash) overriding system value
     select id, email, name, '' from jsonb_to_recordset($1::jsonb) as m(id int, email text, name text)
     on conflict (id) do update set email = excluded.email, name = excluded.name`,
    [JSON.stringify(members)],
  );
  const of = [siteId, JSON.stringify(members)];
  const listed = `jsonb_to_recordset($2::jsonb) as m(id int, role text)`;
  await to.query(`delete from membership where site_id = $1 and not exists (select from ${listed} where m.id = member_id)`, of);
  await to.query(
    `insert into membership (site_id, member_id, role) select $1, id, role from ${listed}
     on conflict (site_id, member_id) do update set role = excluded.role`,
    of,
  );
}
