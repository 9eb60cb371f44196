import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { DAY_MS } from '@/core/time/day';
import { beginningIn } from '@/core/results/weekly';
import { seedDemo } from '@/demo/seed';
import { Outbox } from '@/standins/outbox';
import { createAnalysisServer } from '../analysis/server';
import { SiteMemory } from '../analysis/site';
import { work } from '../analysis/work';
import { one } from '../db/queryable';
import { ReadSide } from '../db/readSide';
import { sendMail } from '../mail/mailer';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { sendDue, stopWeekly, wantsWeekly, wantWeekly } from './weekly';

const ZONE = 'Europe/Vienna';
/** A Thursday, and the Monday mornings before and after it. */
const NOW = Date.parse('2026-11-26T12:00:00Z');
const MONDAY = Date.parse('2026-11-30T06:30:00Z');

let database: FreshDatabase;
let analysis: Server;
let outbox: Outbox;
let mailUrl: string;
let member: number;
const before = { ...process.env };
beforeAll(async () => {
  database = await freshDatabase();
  await seedDemo(database.pool, { visits: 900, addresses: ['127.0.0.1:4704'], now: NOW, log: () => undefined });
  const memory = new SiteMemory(new ReadSide(database.pool), 1);
  analysis = createAnalysisServer(
    {
      ask: (task, { onPart, onFailure }) => {
        void (async () => {
          let last: unknown;
          for await (const part of work(memory, task)) last = part ?? last;
          onPart(last, true);
        })().catch((cause: unknown) => onFailure(cause as Error));
        return () => undefined;
      },
    },
    { token: undefined },
  );
  await new Promise<void>((resolve) => analysis.listen(0, '127.0.0.1', resolve));
  process.env['CRINDLE_ANALYSIS_URL'] = `http://127.0.0.1:${(analysis.address() as AddressInfo).port}`;
  delete process.env['CRINDLE_ANALYSIS_TOKEN'];
  process.env['CRINDLE_STUDIO'] = 'http://studio.example/';
  member = (await one<{ id: number }>(database.pool, `select member_id as id from membership where site_id = 1 limit 1`)).id;
});
afterAll(async () => {
  process.env = { ...before };
  analysis.closeAllConnections();
  analysis.close();
  await database.drop();
});
beforeEach(async () => {
  outbox = new Outbox();
  mailUrl = `smtp://127.0.0.1:${await outbox.listen(0, '127.0.0.1')}`;
  await wantWeekly(database.pool, 1, { memberId: member, zone: ZONE, now: NOW });
});
afterEach(async () => {
  await stopWeekly(database.pool, 1, member);
  await outbox.close();
});
const due = (now: number) => sendDue(database.pool, { now, send: (mail) => sendMail(mail, mailUrl) });

test('whoever asked gets a week on its Monday morning, once, with what the rows say', async () => {
  expect(await due(NOW)).toBe(0);
  expect(await due(MONDAY - 2 * 3_600_000)).toBe(0);
  expect((await Promise.all([due(MONDAY), due(MONDAY)])).reduce((sum, sent) => sum + sent)).toBe(1);
  expect(await due(MONDAY + 60_000)).toBe(0);
  expect(outbox.mails).toHaveLength(1);
  const [{ to, subject, text } = { to: '', subject: '', text: '' }] = outbox.mails;
  expect(to).toBe('ines@tarnhollow.example');
  expect(subject).toMatch(/^Tarnhollow Huts, 23 November to 29 November: \d+ bookings$/);
  const [from, until] = [beginningIn(ZONE, '2026-11-23'), beginningIn(ZONE, '2026-11-30')];
  const rows = await one<{ visits: number; booked: number; met: number }>(
    database.pool,
    `select (select count(*)::int from visit where started_at >= at_ms($1) and started_at < at_ms($2)) as visits,
            (select count(*)::int from event join visitor on visitor.id = visitor_id where name = 'booking' and at >= at_ms($1) and at < at_ms($2) and not team) as booked,
            (select count(*)::int from (select visitor_id, min(at) as at from showing where campaign_id = 'camp_warden' group by 1) as firsts
              where at >= at_ms($1) and at < at_ms($2)
                and not exists (select from visitor where visitor.id = firsts.visitor_id and team)) as met`,
    [from, until],
  );
  expect(rows.visits).toBeGreaterThan(20);
  expect(text).toContain(`Visits: ${rows.visits} (`);
  expect(text).toContain(`Bookings: ${rows.booked} (`);
  expect(text).toContain(`Ask the warden\n  ${rows.met} met it`);
  expect(text).toContain('http://studio.example/results?days=7');
  // The next one a week later.
  expect(await due(MONDAY + 7 * DAY_MS)).toBe(1);
});

test('what the mail server does not take is sent the next time, and the same mail twice is one', async () => {
  outbox.fault = { kind: 'error', address: '' };
  await expect(due(MONDAY)).rejects.toThrow('1 of 1 weekly mails were not sent: Error: Message failed: 451 Try again later');
  expect(outbox.mails).toHaveLength(0);
  outbox.fault = { kind: 'none', address: '' };
  expect(await due(MONDAY + 20 * 60_000)).toBe(1);
  // As if it had been taken, and the answer lost.
  await database.pool.query(`update weekly_mail set sent_for = sent_for - 7`);
  expect(await due(MONDAY + 40 * 60_000)).toBe(1);
  expect(outbox.mails).toHaveLength(1);
});

test('whoever stopped it, or has left the site, gets none', async () => {
  expect(await wantsWeekly(database.pool, 1, member)).toBe(true);
  await stopWeekly(database.pool, 1, member);
  expect([await wantsWeekly(database.pool, 1, member), await due(MONDAY)]).toEqual([false, 0]);
  await wantWeekly(database.pool, 1, { memberId: member, zone: ZONE, now: NOW });
  const { role } = await one<{ role: string }>(
    database.pool,
    `delete from membership where site_id = 1 and member_id = $1 returning role`,
    [member],
  );
  expect(await due(MONDAY)).toBe(0);
  await database.pool.query(`insert into membership (site_id, member_id, role) values (1, $1, $2)`, [member, role]);
});
