// Whether somebody is there to chat: told to the page, and on record for the rehearsals of later.
import type { FastifyInstance } from 'fastify';
import { peopleHold } from '@/core/people/condition';
import { visitorAt } from '@/core/history/record';
import type { BatchAnswer } from '@/core/wire/items';
import { insertCampaign } from '../db/campaigns';
import { saveColleague, setPresence } from '../db/colleagues';
import { createMember, joinSite } from '../db/members';
import { withTransaction } from '../db/pool';
import { many } from '../db/queryable';
import { publish } from '../releases/publish';
import { createSite } from '../db/sites';
import { loadVisitors } from '../db/visitors';

import { parts } from '../testing/collectorUnderTest';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid, openItem } from '../testing/items';
import { createCollector } from './server';

const HOUR = 3_600_000;
let database: FreshDatabase;
let siteId: number;
let member: number;
let server: FastifyInstance;

beforeAll(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] })).id;
  member = await createMember(database.pool, { email: 'ines@site.example', name: 'ines', passwordHash: '' });
  await joinSite(database.pool, { siteId, memberId: member, role: 'agent' });
  await saveColleague(database.pool, siteId, { member, answers: true, title: '', introduction: '', meeting: '', hours: null });
  await withTransaction(database.pool, (tx) =>
    insertCampaign(tx, {
      siteId,
      id: 'camp_1',
      status: 'live',
      document: {
        name: 'Ask us',
        goal: { kind: 'form' },
        rule: { people: { kind: 'staffed', is: true }, moment: { kind: 'exit' } },
        flow: {
          start: 'a',
          messages: [
            {
              id: 'a',
              format: 'popup',
              blocks: [{ kind: 'text', text: 'Somebody is there' }],
              closes: { button: true, dim: true, escape: true },
            },
          ],
        },
      },
    }),
  );
  await publish(database.pool, { siteId, memberId: null, name: 'One', note: '' });
  server = await createCollector({
    pool: database.pool,
    parts,
    perMinute: 100_000,
    locate: async () => undefined,
    askWeather: async () => undefined,
  });
});
afterAll(async () => {
  await server.close();
  await database.drop();
});

const here = (is: boolean): Promise<void> =>
  setPresence(database.pool, siteId, {
    member,
    hereUntil: is ? Date.now() + HOUR : null,
    awayUntil: is ? null : Date.now() + HOUR,
  });

async function post(browser: string, items: unknown[]): Promise<readonly (boolean | null)[] | undefined> {
  const response = await server.inject({
    method: 'POST',
    url: '/c',
    payload: JSON.stringify({ key: 'sitekey123', browser, now: Date.now(), items }),
    headers: {
      'content-type': 'text/plain',
      origin: 'http://site.example',
      'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36',
    },
  });
  return response.json<BatchAnswer>().context?.facts;
}

test('what was told of somebody being there is what a rehearsal finds, at the opening and from the change on', async () => {
  const browser = newUuid();
  const visitAt = Date.now() - 60_000;
  const first = openItem({ at: visitAt });
  await here(false);
  expect(await post(browser, [first])).toEqual([false]);
  const second = openItem({ visit: first.visit, visitAt, at: visitAt + 20_000 });
  // Nothing has changed: nothing more is put on record.
  expect(await post(browser, [second])).toEqual([false]);
  await here(true);
  const changedAt = Date.now();
  expect(
    await post(browser, [
      { kind: 'event', id: newUuid(), view: second.view, visit: first.visit, at: Date.now(), name: 'asked', props: {} },
    ]),
  ).toEqual([true]);
  const noted = await many<{ at: number; value: boolean }>(
    database.pool,
    `select ms(at)::float8 as at, value from visitor_change where kind = 'staffed' order by at`,
  );
  expect(noted).toEqual([
    { at: visitAt, value: false },
    { at: expect.any(Number) as number, value: true },
  ]);
  expect(noted[1]?.at).toBeGreaterThanOrEqual(changedAt);

  const [stored] = await loadVisitors(database.pool, siteId, [1]);
  if (!stored) throw new Error('nobody on record');
  const heldAt = (now: number) =>
    peopleHold({ kind: 'staffed', is: true }, { visitor: visitorAt(stored.record, now), now, lookback: 30, sets: {}, segments: {} });
  expect([heldAt(visitAt), heldAt(second.at), heldAt(changedAt - 1), heldAt(noted[1]?.at ?? 0)]).toEqual([false, false, false, true]);

  // A visit in which nobody asked says nothing, whatever an earlier one said.
  const later = { at: Date.now() + 5 * HOUR, views: [], events: [] };
  const returned = { ...stored.record, visits: [...stored.record.visits, later] };
  expect(
    peopleHold(
      { kind: 'staffed', is: true },
      { visitor: visitorAt(returned, later.at), now: later.at, lookback: 30, sets: {}, segments: {} },
    ),
  ).toBeNull();
});
