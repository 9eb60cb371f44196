// A lead from the form to the list: what was answered and agreed to, found again, tagged, taken out and erased.
import { expect, test } from '@playwright/test';
import { faultsOf } from './axe';
import { newCampaign, publish, saved } from './board';
import { ask, COLLECTOR, openStudio, signIn, STUDIO, visit } from './stack';
import { newVisitor, popup } from './visitor';

test('a form sent is a lead with its answers and the words agreed to, found by a typed filter, tagged, noted, taken out, and erased', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const id = await newCampaign(page, {
    rule: { pages: { on: [{ op: 'is', value: '/contact' }] }, moment: { kind: 'open' }, pacing: { again: 'always' } },
    flow: {
      start: 'ask',
      messages: [
        {
          id: 'ask',
          format: 'popup',
          closes: { button: true, dim: true, escape: true },
          blocks: [
            { kind: 'heading', text: 'Hut letters' },
            {
              kind: 'form',
              fields: [
                { kind: 'email', name: 'email', label: 'Your email', required: true },
                { kind: 'choice', name: 'plan', label: 'For whom?', options: ['Just me', 'A family'] },
                { kind: 'consent', name: 'letters', label: 'You may write to me about huts', required: true },
                { kind: 'consent', name: 'share', label: 'You may share it with the wardens' },
              ],
              submit: 'Send',
              thanks: 'Thank you.',
            },
          ],
        },
      ],
    },
  });
  // Beside a consent a link says where to read what is agreed to.
  await openStudio(page, `/campaigns/${id}`);
  await page.getByRole('tab', { name: 'Messages' }).click();
  await page.getByLabel('Field 3 of ask').click();
  await page.getByRole('toolbar', { name: 'Tools: Form' }).getByRole('button', { name: 'What this is: Form' }).click();
  await page.getByRole('checkbox', { name: 'with a link' }).first().check();
  await page.getByLabel('Words of the link in “You may write to me about huts”').fill('What we write');
  await page.getByLabel('Address of the link in “You may write to me about huts”').fill('/journal');
  await page.keyboard.press('Escape');
  await expect(page.locator('[data-drawn=ask]').getByRole('link', { name: 'What we write', includeHidden: true })).toHaveCount(1);
  await saved(page);
  const email = `walker-${id.toLowerCase().replace(/\W/g, '')}@post.example`;
  await publish(page, id, 'live');
  try {
    const shop = await newVisitor(browser);
    await visit(shop.page, '/contact');
    await popup(shop.page).getByLabel('Your email').fill(email);
    await popup(shop.page).getByLabel('For whom?').selectOption('A family');
    await expect(popup(shop.page).getByRole('link', { name: 'What we write' })).toHaveAttribute('href', /^https?:\/\/[^/]+\/journal$/);
    await popup(shop.page).getByLabel('You may write to me about huts').check();
    await popup(shop.page).getByRole('button', { name: 'Send' }).click();
    await expect(popup(shop.page).getByText('Thank you.')).toBeVisible();
    await expect
      .poll(() => ask(`select consent, fields from lead where email = $1`, [email]))
      .toEqual([
        {
          consent: [{ name: 'letters', words: 'You may write to me about huts What we write (/journal)' }],
          fields: expect.objectContaining({ plan: 'A family', letters: true, share: false }) as unknown,
        },
      ]);
    await shop.context.close();
  } finally {
    await publish(page, id, 'draft');
  }

  await openStudio(page, '/leads');
  const filter = page.getByLabel('Filter leads');
  await filter.fill('plan: family');
  await page.getByRole('option', { name: 'who answered plan: family' }).click();
  await page.waitForURL(/answer=plan%3Dfamily/);
  await filter.fill(email);
  await page.getByRole('option', { name: `with “${email}”` }).click();
  const rows = page.getByRole('row').filter({ hasText: '@' });
  await expect(rows).toHaveCount(1);
  await expect(rows).toContainText('A family · agreed');
  expect(await faultsOf(page)).toEqual([]);
  await page.getByLabel(`Choose ${email}`).check();
  const together = page.getByRole('group', { name: 'Chosen leads' });
  await together.getByLabel('Tag for the chosen leads').fill('warm');
  await together.getByRole('button', { name: 'Tag', exact: true }).click();
  await expect(rows).toContainText('warm');

  await rows.getByRole('link', { name: email }).click();
  await page.waitForURL(/\/leads\/[0-9a-f-]{36}$/);
  await expect(page.getByRole('heading', { name: email })).toBeVisible();
  await expect(page.getByRole('region', { name: 'Answers' })).toContainText('For whom?A family');
  await expect(page.getByRole('region', { name: 'Answers' })).toContainText('“You may write to me about huts What we write (/journal)”');
  await expect(page.getByRole('region', { name: 'Answers' })).not.toContainText('“You may share it');
  await expect(page.getByRole('region', { name: 'The visit' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Note' }).fill('Rings on Friday');
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  expect(await ask(`select note, tags from lead where email = $1`, [email])).toEqual([{ note: 'Rings on Friday', tags: ['warm'] }]);
  expect(await faultsOf(page)).toEqual([]);

  const csv = await (await page.request.get(`${STUDIO}/leads.csv?tag=warm&q=${encodeURIComponent(email)}`)).text();
  const [head = '', line = ''] = csv.split('\r\n');
  expect(line.split(',')[head.split(',').indexOf('plan')]).toBe('A family');
  expect(line).toContain('You may write to me about huts What we write (/journal),,warm,Rings on Friday');
  const lines = (await (await page.request.get(`${STUDIO}/leads.jsonl?q=${encodeURIComponent(email)}`)).text()).trimEnd().split('\n');
  expect(lines.map((one) => (JSON.parse(one) as { email: string }).email)).toEqual([email]);

  await page.getByRole('button', { name: 'Erase …' }).click();
  await page.getByRole('button', { name: 'Erase it' }).click();
  await page.waitForURL('**/leads');
  expect(await ask(`select from lead where email = $1`, [email])).toEqual([]);
});

test('what happened elsewhere is reported by the site’s own server, with the secret that Setup makes, and counts for the campaign', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const id = await newCampaign(page, {
    goal: { kind: 'event', event: 'rang_up', days: 3 },
    rule: { pages: { on: [{ op: 'is', value: '/contact' }] }, moment: { kind: 'open' }, pacing: { again: 'always' } },
  });
  await publish(page, id, 'live');
  const email = `ringer-${id.toLowerCase().replace(/\W/g, '')}@post.example`;
  const shop = await newVisitor(browser);
  await visit(shop.page, '/contact');
  await expect(popup(shop.page)).toBeVisible();
  await shop.page.evaluate(
    (who) => (window as unknown as { crindle: { person: (given: object) => void } }).crindle.person({ email: who }),
    email,
  );
  await expect.poll(() => ask(`select from visitor where email = $1`, [email])).toHaveLength(1);
  await shop.context.close();

  await openStudio(page, '/setup');
  const events = page.getByRole('region', { name: 'Events from your server' });
  await events.getByRole('button', { name: /^Make a (new )?secret$/ }).click();
  const secret = (await events.getByRole('status').locator('code').textContent()) ?? '';
  expect(secret).toMatch(/^[\w-]{43}$/);
  const report = (authorization: string, event = 'rang_up') =>
    page.request.post(`${COLLECTOR}/events/tarnhollowdemo`, {
      headers: { authorization, 'content-type': 'application/json' },
      data: { events: [{ id: `call ${id}`, email, event, at: Date.now() }] },
    });
  expect((await report('Bearer guessed')).status()).toBe(403);
  for (const isNew of [true, false]) expect(await (await report(`Bearer ${secret}`)).json()).toEqual({ events: [{ ok: true, isNew }] });
  const converted = () =>
    ask(`select from outcome join showing on showing.id = showing_id where campaign_id = $1 and kind = 'converted'`, [id]);
  expect(await converted()).toHaveLength(1);
  await publish(page, id, 'draft');
  await openStudio(page, `/campaigns/${id}?tab=results`);
  await expect(page.getByRole('region', { name: 'The answer' })).toContainText('100.0 % do “rang_up”');
});
