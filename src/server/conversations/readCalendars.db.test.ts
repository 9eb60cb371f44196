import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import { createServer } from 'node:http';
import { isStaffed, listColleagues, saveColleague, setCalendar } from '../db/colleagues';
import { createMember, joinSite } from '../db/members';
import { createSite } from '../db/sites';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { readCalendars } from './readCalendars';

const NOON = Date.parse('2026-11-27T12:00:00Z');
const HOUR = 3_600_000;
const ALWAYS = Object.fromEntries(
  [1, 2, 3, 4, 5, 6, 7].map((day) => [
    String(day),
    [
      ['00:00', '12:00'],
      ['12:00', '00:00'],
    ] as const,
  ]),
);
const busy = (from: string, to: string): string =>
  [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//x//EN',
    'BEGIN:VEVENT',
    'UID:a',
    `DTSTART:${from}`,
    `DTEND:${to}`,
    'END:VEVENT',
    'END:VCALENDAR',
  ].join('\r\n');

let database: FreshDatabase;
let siteId: number;
let member: number;
let server: Server;
let url: string;
let answer: { status: number; text: string };
let asked = 0;
beforeEach(async () => {
  asked = 0;
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: [] })).id;
  member = await createMember(database.pool, { email: 'ines@site.example', name: 'ines', passwordHash: '' });
  await joinSite(database.pool, { siteId, memberId: member, role: 'agent' });
  await saveColleague(database.pool, siteId, {
    member,
    answers: true,
    title: '',
    introduction: '',
    meeting: '',
    hours: { zone: 'UTC', week: ALWAYS, off: [] },
  });
  answer = { status: 200, text: busy('20261127T120000Z', '20261127T130000Z') };
  server = createServer((_request, response) => {
    asked++;
    response.statusCode = answer.status;
    response.end(answer.text);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/ines.ics`;
});
afterEach(async () => {
  server.close();
  await database.drop();
});
const read = (now = NOON) => readCalendars(database.pool, { now: () => now });
const isHere = (now = NOON) => isStaffed(database.pool, siteId, now);
const note = async () => (await listColleagues(database.pool, siteId))[0]?.calendar.note;

test('busy by the calendar is away; it is read at once, and then every hour', async () => {
  expect(await isHere()).toBe(true);
  await setCalendar(database.pool, siteId, { member, url, allowPrivate: true, text: null });
  expect(await Promise.all([read(), read()])).toEqual(expect.arrayContaining([1, 0]));
  expect([await isHere(), await isHere(NOON + HOUR)]).toEqual([false, true]);
  expect(await read(NOON + HOUR / 2)).toBe(0);
  answer.text = busy('20261127T140000Z', '20261127T150000Z');
  expect(await read(NOON + HOUR + 1)).toBe(1);
  expect([await isHere(), await isHere(NOON + 2 * HOUR)]).toEqual([true, false]);
  expect(asked).toBe(2);
  // Taken away, nobody is busy any more.
  await setCalendar(database.pool, siteId, { member, url: '', allowPrivate: false, text: null });
  expect(await isHere(NOON + 2 * HOUR)).toBe(true);
});

test('a calendar that cannot be read leaves what was known, and says why', async () => {
  await setCalendar(database.pool, siteId, { member, url, allowPrivate: true, text: null });
  await read();
  for (const [next, why] of [
    [{ status: 500, text: '' }, 'the address answered 500'],
    [{ status: 200, text: '<html>Sign in</html>' }, /no iCalendar file/],
    [{ status: 302, text: '' }, 'the address answered 302'],
  ] as const) {
    answer = next;
    await setCalendar(database.pool, siteId, { member, url, allowPrivate: true, text: null });
    await read();
    expect(await note()).toMatch(why);
    expect(await isHere()).toBe(false);
  }
  await setCalendar(database.pool, siteId, { member, url, allowPrivate: false, text: null });
  await read();
  expect(await note()).toMatch(/private network/);
  answer = { status: 200, text: busy('20261127T140000Z', '20261127T150000Z') };
  await setCalendar(database.pool, siteId, { member, url, allowPrivate: true, text: null });
  await read();
  expect([await note(), await isHere()]).toEqual(['', true]);
});

test('a file is read again each day, for the weeks to come', async () => {
  await setCalendar(database.pool, siteId, { member, url: '', allowPrivate: false, text: busy('20261220T120000Z', '20261220T130000Z') });
  expect(await read()).toBe(1);
  const then = Date.parse('2026-12-20T12:30:00Z');
  expect(await isHere(then)).toBe(true);
  expect(await read(NOON + 23 * HOUR)).toBe(0);
  expect(await read(NOON + 10 * 24 * HOUR)).toBe(1);
  expect(await isHere(then)).toBe(false);
  expect(asked).toBe(0);
});
