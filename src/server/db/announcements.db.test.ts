import { createServer, connect } from 'node:net';
import type { Socket } from 'node:net';
import pg from 'pg';
import { eventually } from '../testing/eventually';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import type { Announcements } from './announcements';
import { listenForAnnouncements } from './announcements';
import { createSite, setPrivacy, setSigning } from './sites';

let database: FreshDatabase;
let listening: Announcements;
let heard: (string | undefined)[];
beforeAll(async () => {
  database = await freshDatabase();
});
afterEach(() => listening.end());
afterAll(() => database.drop());

const listen = (url = database.url): void => {
  heard = [];
  listening = listenForAnnouncements(database.pool, {
    connect: () => new pg.Client({ connectionString: url }),
    heard: (site) => void heard.push(site),
  });
};
const sure = () => eventually(() => listening.isSure(), 'announcements are heard');

test('what is kept of a site is announced as it is committed, and nothing else', async () => {
  const { id } = await createSite(database.pool, { key: 'announcedkey', name: 'Site', addresses: ['a.example'] });
  listen();
  await sure();
  expect(heard).toEqual([undefined]);
  heard.length = 0;
  await database.pool.query(`update site set visitors = visitors + 1 where id = $1`, [id]);
  await setPrivacy(database.pool, id, { consent: 'asked', keptParameters: [] });
  await setSigning(database.pool, id, { isRequired: true });
  await database.pool.query(
    `insert into release (site_id, number, name, note, document, facts, hash) values ($1, 1, '', '', '{}', '{}', 'h')`,
    [id],
  );
  await database.pool.query('begin; delete from release where site_id = $1; rollback'.replace('$1', String(id)));
  await database.pool.query(`delete from site where id = $1`, [id]);
  await eventually(() => heard.length >= 5, 'five things were announced');
  // A release that goes with its site has no key to tell any more.
  expect(heard.map((key) => key ?? 'announcedkey')).toEqual(Array(5).fill('announcedkey'));
});

test('a connection that breaks is opened again, and what was missed is looked for', async () => {
  listen();
  await sure();
  heard.length = 0;
  await database.pool.query(
    `select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and query like 'listen%' and pid <> pg_backend_pid()`,
  );
  await eventually(() => heard.includes(undefined), 'it says that something may have been missed');
  expect(listening.isSure()).toBe(true);
});

test('a connection that is open and hears nothing is not believed', async () => {
  // Takes whatever is said to it and answers as the database does, but passes on no announcement.
  const sockets = new Set<Socket>();
  const { port, hostname } = new URL(database.url);
  const silent = createServer((socket) => {
    const behind = connect(Number(port), hostname);
    sockets.add(socket).add(behind);
    for (const each of [socket, behind]) each.on('error', () => undefined);
    socket.pipe(behind);
    behind.on('data', (bytes) => void (bytes[0] === 0x41 || socket.write(bytes)));
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => silent.once('listening', resolve));
  const url = new URL(database.url);
  url.port = String((silent.address() as { port: number }).port);
  const said = jest.spyOn(database.pool, 'query');
  listen(url.href);
  await eventually(() => said.mock.calls.length > 0, 'it tries whether it hears');
  await said.mock.results[0]?.value;
  await createSite(database.pool, { key: 'unheardkey', name: 'Site', addresses: [] });
  await database.pool.query(`update site set addresses = '{b.example}' where key = 'unheardkey'`);
  expect(listening.isSure()).toBe(false);
  expect(heard).toEqual([]);
  for (const socket of sockets) socket.destroy();
  silent.close();
  said.mockRestore();
});
