import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { withTransaction } from './pool';
import { isUnavailable, many, one } from './queryable';

let database: FreshDatabase;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

test('a connection that dies between two statements of a transaction fails that one, and nothing else', async () => {
  const { pool } = database;
  const attempt = withTransaction(pool, async (tx) => {
    const { pid } = await one<{ pid: number }>(tx, 'select pg_backend_pid() as pid');
    await many(pool, 'select pg_terminate_backend($1)', [pid]);
    // Time for the news to come while nobody is asking anything.
    await new Promise((resolve) => setTimeout(resolve, 200));
    await one(tx, 'select 1 as still');
  });
  const cause: unknown = await attempt.catch((reason: unknown) => reason);
  expect(cause).toBeInstanceOf(Error);
  expect(isUnavailable(cause)).toBe(true);
  expect(await withTransaction(pool, (tx) => one(tx, 'select 2 as next'))).toEqual({ next: 2 });
});
