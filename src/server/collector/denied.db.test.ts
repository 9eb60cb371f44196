import { createHmac } from 'node:crypto';
import { insertConnection } from '../db/connections';
import { many } from '../db/queryable';
import { setSigning } from '../db/sites';
import type { CollectorUnderTest } from '../testing/collectorUnderTest';
import { collectorUnderTest, NOW, opened } from '../testing/collectorUnderTest';
import { newUuid, showingItem } from '../testing/items';

let tested: CollectorUnderTest;
beforeAll(async () => {
  tested = await collectorUnderTest();
});
afterAll(() => tested.end());

/** A browser that left its email. */
async function lead(email: string, on = tested): Promise<string> {
  const browser = newUuid();
  const open = opened();
  const showing = showingItem(open);
  const where = { view: open.view, visit: open.visit };
  const form = {
    kind: 'form',
    id: newUuid(),
    ...where,
    showing: showing.id,
    campaign: 'camp_1',
    at: NOW,
    url: open.url,
    email,
    fields: {},
  };
  const { answer } = await on.send([open, showing, form], { browser });
  expect(answer.items).toEqual([{ ok: true }, { ok: true }, { ok: true }]);
  return browser;
}

const withdrawn = async () =>
  (await many<{ email: string }>(tested.database.pool, `select email from lead where withdrawn_at is not null order by 1`)).map(
    ({ email }) => email,
  );

test('a browser that wants to be recorded no more takes back what was sent in it, and of nobody who said the same email elsewhere', async () => {
  const anna = await lead('anna@post.example');
  await lead('Anna@post.example');
  await lead('ben@post.example');
  const denied = { kind: 'denied' };
  // One of whom nothing is known has nothing to take back.
  expect((await tested.send([denied])).answer.items).toEqual([{ ok: true }]);
  expect(await withdrawn()).toEqual([]);
  expect((await tested.send([denied], { browser: anna })).answer.items).toEqual([{ ok: true }]);
  expect(await withdrawn()).toEqual(['anna@post.example']);
  // Twice is once, and nothing but that is taken from it.
  const [first] = await many<{ at: Date }>(tested.database.pool, `select withdrawn_at as at from lead where email = 'anna@post.example'`);
  await tested.send([denied], { browser: anna });
  expect(await many(tested.database.pool, `select withdrawn_at as at from lead where email = 'anna@post.example'`)).toEqual([first]);
  expect((await tested.send([{ kind: 'denied', id: newUuid() }], { browser: anna })).answer.items[0]).toMatchObject({ ok: false });
});

test('a stranger who types somebody’s email into a form neither takes their consent back nor takes them off a list', async () => {
  const { pool } = tested.database;
  await insertConnection(pool, tested.site.id, {
    id: 'conn_list',
    name: 'Letters',
    body: { kind: 'list', settings: { url: 'http://list.example', list: 'huts' } },
  });
  const erasures = () => many(pool, `select body ->> 'email' as email from delivery where what = 'erased' order by 1`);
  const sentOn = (email: string) =>
    pool.query(
      `insert into delivery (site_id, id, connection_id, what, lead_id, tries) select site_id, gen_random_uuid(), 'conn_list', 'lead', id, 1 from lead where email = $1`,
      [email],
    );
  const carla = await lead('carla@post.example');
  const stranger = await lead('carla@post.example');
  await sentOn('carla@post.example');
  await tested.send([{ kind: 'denied' }], { browser: stranger });
  const left = await many(pool, `select from lead where email = 'carla@post.example' and withdrawn_at is null`);
  expect([left.length, await erasures()]).toEqual([1, []]);
  // Nobody is left who agreed by that email: it goes from the list as well.
  await tested.send([{ kind: 'denied' }], { browser: carla });
  expect(await erasures()).toEqual([{ email: 'carla@post.example' }]);
});

test('where the site signs emails a form makes nobody known, and whose email is signed takes everything back that was sent by it', async () => {
  process.env['CRINDLE_SECRET_KEY'] ??= Buffer.alloc(32, 7).toString('base64');
  const email = 'dora@post.example';
  const signing = await collectorUnderTest();
  await setSigning(signing.database.pool, signing.site.id, { secret: 'kept on the server', isRequired: true });
  const [dora, other] = [await lead(email, signing), await lead(email, signing)];
  const emails = () => signing.rows(`select email from visitor order by id`);
  expect(await emails()).toEqual([{ email: null }, { email: null }]);
  const signature = createHmac('sha256', 'kept on the server').update(`\n${email}`).digest('hex');
  const person = { kind: 'person', id: newUuid(), at: NOW, email, signature };
  expect((await signing.send([person], { browser: dora })).answer.items).toEqual([{ ok: true }]);
  const left = async () => (await signing.rows(`select id from lead where withdrawn_at is null`)).length;
  await signing.send([{ kind: 'denied' }], { browser: other });
  expect(await left()).toBe(1);
  await lead(email, signing);
  await signing.send([{ kind: 'denied' }], { browser: dora });
  expect(await left()).toBe(0);
  await signing.end();
});

test('what is no address, or several, makes nobody known; a form is a lead with whatever stands in it', async () => {
  const typed = await lead('one@post.example, two@post.example');
  expect(await many(tested.database.pool, `select email from visitor where browser_id = $1`, [typed])).toEqual([{ email: null }]);
  const person = { kind: 'person', id: newUuid(), at: NOW, email: 'one@post.example, two@post.example' };
  expect((await tested.send([person], { browser: typed })).answer.items).toMatchObject([
    { ok: false, message: expect.stringContaining('expected one email address') as string },
  ]);
});
