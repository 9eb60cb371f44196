import { many } from '../db/queryable';
import type { CollectorUnderTest } from '../testing/collectorUnderTest';
import { collectorUnderTest, NOW, opened } from '../testing/collectorUnderTest';
import { newUuid, showingItem } from '../testing/items';

let tested: CollectorUnderTest;
beforeAll(async () => {
  tested = await collectorUnderTest();
});
afterAll(() => tested.end());

/** A browser that left its email. */
async function lead(email: string, browser = newUuid()): Promise<string> {
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
  const { answer } = await tested.send([open, showing, form], { browser });
  expect(answer.items).toEqual([{ ok: true }, { ok: true }, { ok: true }]);
  return browser;
}

const withdrawn = async () =>
  (await many<{ email: string }>(tested.database.pool, `select email from lead where withdrawn_at is not null order by 1`)).map(
    ({ email }) => email,
  );

test('a browser that wants to be recorded no more takes the consent of whoever left an email in it back, of nobody else', async () => {
  const anna = await lead('anna@post.example');
  await lead('Anna@post.example');
  await lead('ben@post.example');
  const denied = { kind: 'denied' };
  // One of whom nothing is known has nothing to take back.
  expect((await tested.send([denied])).answer.items).toEqual([{ ok: true }]);
  expect(await withdrawn()).toEqual([]);
  expect((await tested.send([denied], { browser: anna })).answer.items).toEqual([{ ok: true }]);
  expect(await withdrawn()).toEqual(['Anna@post.example', 'anna@post.example']);
  // Twice is once, and nothing but that is taken from it.
  const [first] = await many<{ at: Date }>(tested.database.pool, `select withdrawn_at as at from lead where email = 'anna@post.example'`);
  await tested.send([denied], { browser: anna });
  expect(await many(tested.database.pool, `select withdrawn_at as at from lead where email = 'anna@post.example'`)).toEqual([first]);
  expect((await tested.send([{ kind: 'denied', id: newUuid() }], { browser: anna })).answer.items[0]).toMatchObject({ ok: false });
});
