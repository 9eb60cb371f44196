import { createHmac } from 'node:crypto';
import { createDice } from '@/core/random/dice';
import { signedText } from '@/core/wire/signature';
import { findPerson } from '@/server/privacy/find';
import { freePort } from '@/server/testing/freePort';
import { startCollector } from '../../ground';
import { sized } from '../../sized';
import type { Wrongs } from '../ground';
import { batchOf, inWords, makeSite, openOf, send } from '../ground';

const PEOPLE = sized(2_000, 40);
const BROWSERS = 20;
const SECRET = 'faults-secret';
const emailOf = (nth: number): string => `person${nth}@known.example`;

/** A stranger has a list of everybody's emails and says each from browsers of their own, in every way there is: nobody loses or tells anything by it. */
export async function runEmails(): Promise<Wrongs> {
  const { url, pool, siteId } = await makeSite();
  await pool.query(`update site set person_secret = $2 where id = $1`, [siteId, SECRET]);
  const collector = await startCollector(url, await freePort());
  const { port } = collector;
  const dice = createDice('emails');
  const wrongs: string[] = [];
  const say = async (browser: string, items: readonly unknown[]): Promise<void> => {
    const { status, text } = await send(port, { body: batchOf(browser, items) });
    if (status !== 200) wrongs.push(`answered ${status}: ${text.slice(0, 200)}`);
  };
  const uuid = (): string => dice.uuid(Date.now());
  const person = (email: string, more: object) => ({ kind: 'person', id: uuid(), at: Date.now(), email, ...more });
  for (let nth = 0; nth < PEOPLE; nth++) {
    const email = emailOf(nth);
    const signature = createHmac('sha256', SECRET)
      .update(signedText({ id: undefined, email }))
      .digest('hex');
    await say(uuid(), [openOf(uuid(), uuid()), person(email, { signature, traits: { secret: `of ${nth}` } })]);
  }
  await pool.query(
    `insert into lead (site_id, id, campaign_id, visitor_id, at, email, fields, url, consent)
     select $1, gen_random_uuid(), 'camp', id, now(), email, '{}', '/', '[{"text": "You may write to me"}]' from visitor where site_id = $1 and email_signed`,
    [siteId],
  );
  /** All that is known of people, as one text. */
  const known = async (): Promise<string> => {
    const { rows } = await pool.query<{ all: string }>(
      `select md5(string_agg(line, '' order by line)) as all from (
         select concat_ws(' ', id, lower(email), email_signed, customer_id) as line from visitor where site_id = $1 and email_signed
         union all select concat_ws(' ', visitor_id, kind, key, value) from visitor_change where site_id = $1 and is_signed
         union all select concat_ws(' ', id, email, withdrawn_at, consent) from lead where site_id = $1 and consent <> '[]') as lines`,
      [siteId],
    );
    return rows[0]?.all ?? '';
  };
  const before = await known();
  const own = Array.from({ length: BROWSERS }, uuid);
  let said = 0;
  await Promise.all(
    own.map(async (browser, nth) => {
      await say(browser, [openOf(uuid(), uuid())]);
      for (let one = nth; one < PEOPLE; one += BROWSERS, said += 3) {
        const email = emailOf(one);
        await say(browser, [
          person(email, { traits: { secret: 'overwritten', mine: 'x' } }),
          { kind: 'mark', id: uuid(), at: Date.now(), tag: 'of-a-stranger' },
        ]);
        await say(browser, [person(email.toUpperCase(), { customerId: `c${one}` })]);
        await say(browser, [{ kind: 'denied' }]);
      }
    }),
  );
  if ((await known()) !== before) wrongs.push('What was known of people before the stranger came is another now');
  for (let nth = 0; nth < PEOPLE; nth += Math.ceil(PEOPLE / 50)) {
    const found = await findPerson(pool, siteId, { by: 'email', value: emailOf(nth) });
    if (found.visitors.length !== 1) wrongs.push(`${emailOf(nth)} is surely ${found.visitors.length} browsers, expected their own alone`);
    if (found.claims.some(({ also }) => also.length === 0))
      wrongs.push(`${emailOf(nth)}: a browser that says to be everybody would be taken for them`);
  }
  const { rows: joined } = await pool.query<{ n: number }>(`select count(*)::int as n from visitor where site_id = $1`, [siteId]);
  if (joined[0]?.n !== PEOPLE + BROWSERS) wrongs.push(`There are ${joined[0]?.n} visitors, expected ${PEOPLE + BROWSERS}`);
  collector.process.kill('SIGKILL');
  await pool.end();
  console.log(
    `emails: a stranger with ${inWords(PEOPLE)} emails of signed people said each in three ways, ${inWords(said)} requests from ${BROWSERS} browsers; ` +
      (wrongs.length ? `${wrongs.length} WRONG` : 'no consent, trait or join of theirs is another'),
  );
  return wrongs;
}
