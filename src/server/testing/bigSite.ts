// A site of some size, on which whatever is asked is explained.
import type { FreshDatabase } from './freshDatabase';
import { createMember, joinSite } from '../db/members';
import { createSite } from '../db/sites';
import { enter } from '../auth/signIn';
import type { Watching } from '../conversations/watch';
import { freshDatabase } from './freshDatabase';
import { explainedPool } from './lookedAt';

const shared = globalThis as { crindlePool?: unknown; crindleDirectory?: unknown; crindleReading?: unknown; crindleWatching?: Watching };
const VISITORS = 20_000;
/** What an answer of a page may look at of one table: some rows for each of its lines. */
export const MOST_OF_A_PAGE = 4_000;
const id = (kind: number, nth: string): string =>
  `(lpad(to_hex(${kind}), 8, '0') || '-0000-7000-8000-' || lpad(to_hex(${nth}), 12, '0'))::uuid`;
/** The first lead there is. */
export const LEAD = '00000006-0000-7000-8000-000000000001';

export interface BigSite {
  readonly database: FreshDatabase;
  readonly siteId: number;
  /** The session of its owner. */
  readonly token: string;
  /** What the studio and the API ask by. */
  readonly explained: ReturnType<typeof explainedPool>;
  /** As it is planned where tables have millions of rows. */
  readonly large: ReturnType<typeof explainedPool>;
  readonly end: () => Promise<void>;
}

export async function bigSite(): Promise<BigSite> {
  const database = await freshDatabase();
  const { id: site } = await createSite(database.pool, { key: 'bigsite0001', name: 'Big', addresses: ['big.example'] });
  const memberId = await createMember(database.pool, { email: 'a@big.example', name: 'A', passwordHash: '' });
  await joinSite(database.pool, { siteId: site, memberId, role: 'owner' });
  const token = await enter(database.pool, memberId, {});
  const at = `now() - nth * interval '1 minute'`;
  // Only what is written counts here, not what is done about it.
  const client = await database.pool.connect();
  await client.query(`set session_replication_role = replica`);
  const put = (count: number, table: string, select: string) =>
    client.query(`insert into ${table} select ${select} from generate_series(1, ${count}) as nth`);
  await put(
    VISITORS,
    'visitor (site_id, id, browser_id, first_seen, last_seen, touched_at)',
    `${site}, nth, ${id(1, 'nth')}, ${at}, ${at}, ${at}`,
  );
  await put(
    VISITORS * 2,
    'visit (site_id, id, visitor_id, started_at, last_at, channel)',
    `${site}, ${id(2, 'nth')}, nth / 2 + 1, ${at}, ${at}, 'direct'`,
  );
  await put(
    VISITORS * 2,
    'page_view (site_id, id, visit_id, visitor_id, at, url)',
    `${site}, ${id(3, 'nth')}, ${id(2, 'nth')}, nth / 2 + 1, ${at}, 'https://big.example/p' || nth % 40`,
  );
  await put(
    VISITORS * 2,
    'showing (site_id, id, campaign_id, visitor_id, visit_id, view_id, at, release)',
    `${site}, ${id(4, 'nth')}, 'camp_big', nth / 2 + 1, ${id(2, 'nth')}, ${id(3, 'nth')}, ${at}, 1`,
  );
  await put(VISITORS, 'outcome (site_id, showing_id, kind, at)', `${site}, ${id(4, 'nth')}, 'clicked', ${at}`);
  await put(
    VISITORS,
    'event (site_id, id, visit_id, view_id, visitor_id, at, name)',
    `${site}, ${id(5, 'nth')}, ${id(2, 'nth')}, ${id(3, 'nth')}, nth / 2 + 1, ${at}, 'booking'`,
  );
  await put(
    VISITORS,
    'lead (site_id, id, campaign_id, showing_id, visitor_id, at, email, fields, url)',
    `${site}, ${id(6, 'nth')}, 'camp_big', ${id(4, 'nth')}, nth / 2 + 1, ${at}, 'w' || nth || '@post.example', '{}', '/p'`,
  );
  // Not to be used again by anybody: its triggers are off.
  client.release(true);
  // Whoever is new gets the next number.
  await database.pool.query(`update site set visitors = $2 where id = $1`, [site, VISITORS]);
  await putOneOfEach(database, site);
  await database.pool.query('analyze');
  const explained = explainedPool(database.url);
  const large = explainedPool(database.url, { asLarge: true });
  shared.crindlePool = explained.pool;
  return {
    database,
    siteId: site,
    token,
    explained,
    large,
    end: async () => {
      await shared.crindleWatching?.end();
      for (const name of ['crindleWatching', 'crindlePool', 'crindleDirectory', 'crindleReading'] as const) delete shared[name];
      await explained.pool.end();
      await large.pool.end();
      await database.drop();
    },
  };
}

/** What the site has names for, one of each, used by the campaign. */
async function putOneOfEach({ pool }: FreshDatabase, siteId: number): Promise<void> {
  const put = (sql: string, ...values: unknown[]) =>
    pool.query(
      `insert into ${sql}`,
      values.map((value) => (typeof value === 'object' ? JSON.stringify(value) : value)),
    );
  const flow = {
    start: 'm',
    messages: [{ id: 'm', format: 'popup', closes: { button: true }, blocks: [{ kind: 'text', text: 'Hello' }] }],
  };
  const people = { kind: 'tagged', tag: 'x' };
  const rule = {
    people: { all: [{ kind: 'segment', id: 'seg_big' }] },
    pages: { on: [{ set: 'set_big' }] },
    moment: { all: [] },
    pacing: {},
  };
  await put(`segment (site_id, id, name, lookback, people) values ($1, 'seg_big', 'Big', 30, $2)`, siteId, people);
  await put(`place (site_id, id, name, shape) values ($1, 'place_big', 'Big', $2)`, siteId, {
    type: 'Circle',
    center: [11, 47],
    radius: 5000,
  });
  await put(`goal (site_id, id, name, goal) values ($1, 'goal_big', 'Big', $2)`, siteId, { kind: 'event', event: 'booking', days: 3 });
  await put(`page_set (site_id, id, name, patterns) values ($1, 'set_big', 'Big', $2)`, siteId, [{ op: 'like', value: '/p*' }]);
  await put(`connection (site_id, id, kind, name, settings) values ($1, 'conn_big', 'hook', 'Big', $2)`, siteId, {
    url: 'https://hook.example/',
    tells: ['lead'],
  });
  await put(
    `campaign (site_id, id, name, position, goal, rule, flow) values ($1, 'camp_big', 'Big', 1, $2, $3, $4)`,
    siteId,
    { kind: 'form' },
    rule,
    flow,
  );
}
