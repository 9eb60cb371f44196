// Who somebody says they are without a signature: kept apart from everybody else, and taken back.
import { randomBytes } from 'node:crypto';
import { many } from '../db/queryable';
import type { CollectorUnderTest } from '../testing/collectorUnderTest';
import { collectorUnderTest, opened } from '../testing/collectorUnderTest';
import { newUuid } from '../testing/items';
import { dump, leftIn, signed, useSecret } from '../testing/marks';
import { listSayings, undoClaim } from '../visitors/claims';
import type { Person } from './find';
import { findPerson as find, personOf } from './find';
import { erasePerson, exportPerson } from './person';

const before = { ...process.env };
let tested: CollectorUnderTest;
beforeEach(async () => {
  process.env['CRINDLE_SECRET_KEY'] = randomBytes(32).toString('base64');
  tested = await collectorUnderTest();
});
afterEach(async () => {
  process.env = { ...before };
  await tested.end();
});

test('two emails that one browser said without a signature are two people: what is given out of one has nothing of the other, nor is it erased', async () => {
  const { pool } = tested.database;
  const siteId = tested.site.id;
  const shared = newUuid();
  const [anna, ben] = ['anna@post.example', 'ben@post.example'];
  const open = opened();
  const person = (email: string, at: number, traits: Record<string, string>) => ({ kind: 'person', id: newUuid(), at, email, traits });
  const form = (email: string, at: number) => ({
    ...{ kind: 'form', id: newUuid(), view: open.view, visit: open.visit, showing: newUuid(), campaign: 'camp', at, url: open.url, email },
    fields: { said: `field of ${email}` },
  });
  await tested.send(
    [
      open,
      person(anna, open.at + 1000, { called: 'trait-anna' }),
      form(anna, open.at + 2000),
      person(ben, open.at + 3000, { town: 'trait-ben' }),
      form(ben, open.at + 4000),
    ],
    { browser: shared },
  );
  const [{ id: visitor } = { id: 0 }] = await many<{ id: number }>(pool, `select id from visitor`);
  const text = async (who: Person): Promise<string> => {
    let all = '';
    for await (const part of exportPerson(pool, siteId, who)) all += part;
    return all;
  };
  const marks = (email: string) => [email, `field of ${email}`, `trait-${email.split('@')[0] ?? ''}`];
  const found = await find(pool, siteId, { by: 'email', value: anna });
  expect(found).toMatchObject({ visitors: [], emails: [anna], claims: [{ visitor, visits: 1, also: [ben] }] });
  const apart = await text(personOf(found));
  expect([leftIn(apart, marks(anna)), leftIn(apart, marks(ben))]).toEqual([marks(anna), []]);
  // Whoever looks may say that the browser is theirs all the same: then what was done there goes along, and no form of somebody else.
  const taken = personOf(found, [visitor]);
  expect(leftIn(await text(taken), [open.url, `field of ${ben}`])).toEqual([open.url]);

  await erasePerson(pool, siteId, { person: personOf(found), by: 'Ines', foundBy: 'email' });
  const after = dump(tested);
  expect([leftIn(after, marks(anna)), leftIn(after, marks(ben))]).toEqual([[], marks(ben)]);
  expect(await many(pool, `select email, email_signed as signed from visitor`)).toEqual([{ email: ben, signed: false }]);
});

test('a claim never takes the place of what was signed, and neither is one with the other', async () => {
  const { pool } = tested.database;
  const siteId = tested.site.id;
  const secret = await useSecret(tested);
  const [own, stranger] = [newUuid(), newUuid()];
  const email = 'carla@post.example';
  const [first, second] = [opened(), opened()];
  await tested.send(
    [
      first,
      signed(secret, { at: first.at + 1000, email }),
      { kind: 'person', id: newUuid(), at: first.at + 2000, email: 'somebody@post.example' },
    ],
    { browser: own },
  );
  await tested.send([second, { kind: 'person', id: newUuid(), at: second.at + 1000, email }], { browser: stranger });
  expect(await many(pool, `select email, email_signed as signed from visitor order by id`)).toEqual([
    { email, signed: true },
    { email, signed: false },
  ]);
  const found = await find(pool, siteId, { by: 'email', value: email });
  expect([found.visitors.length, found.claims.length]).toEqual([1, 1]);
  const [claim] = found.claims;
  // Taken back, it is found no more, and what is signed cannot be taken back here.
  const undo = { by: 'email', value: email.toUpperCase() } as const;
  expect(await undoClaim(pool, siteId, { visitor: claim?.visitor ?? 0, ...undo })).toBe(true);
  expect(await undoClaim(pool, siteId, { visitor: claim?.visitor ?? 0, ...undo })).toBe(false);
  expect(await undoClaim(pool, siteId, { visitor: found.visitors[0] ?? 0, ...undo })).toBe(false);
  expect((await find(pool, siteId, { by: 'email', value: email })).claims).toEqual([]);
  expect(await listSayings(pool, siteId, found.visitors[0] ?? 0)).toMatchObject([
    { by: 'email', value: 'somebody@post.example', isClaim: true },
    { by: 'email', value: email, isClaim: false },
  ]);
  expect(await many(pool, `select email from visitor order by id`)).toEqual([{ email }, { email: null }]);
});
