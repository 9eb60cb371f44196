import { factColumns } from '@/core/facts/facts';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { many } from './queryable';

let database: FreshDatabase;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

test('each fact has its columns, of its type, and what is found out late the instant that it was said for', async () => {
  const there = await many<{ name: string; type: string }>(
    database.pool,
    `select column_name as name, udt_name as type from information_schema.columns where table_name = 'visitor' and table_schema = 'public'`,
  );
  const types = { text: 'text', boolean: 'bool', integer: 'int4', float8: 'float8' };
  expect(there).toEqual(expect.arrayContaining(factColumns().map(({ name, type }) => ({ name, type: types[type] }))));
  expect(there).toEqual(expect.arrayContaining(factColumns('piece').map(({ name }) => ({ name: `${name}_at`, type: 'timestamptz' }))));
});
