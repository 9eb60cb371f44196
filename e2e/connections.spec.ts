// Leads sent on: a connection made and checked, down and back, and what arrived at the other side.
import { expect, test } from '@playwright/test';
import { newCampaign, publish } from './board';
import { ask, environmentOf, faultsOf, newVisitor, openStudio, popup, signIn, visit } from './stack';

test('a lead is sent on to a mail list that is down, waits there with its reason, and arrives once it is back', async ({
  page,
  browser,
}) => {
  const standins = environmentOf('studio')['CRINDLE_STANDINS'] ?? '';
  const fault = (what: string) => page.request.put(`${standins}/faults/lists`, { data: { fault: what } });
  await signIn(page);
  await openStudio(page, '/setup/connections');
  const form = page.getByRole('form', { name: 'New connection' });
  await form.getByLabel('Kind').selectOption('Mail list');
  await form.getByLabel('Address of the service').fill('not an address');
  await form.getByLabel('List', { exact: true }).fill('letters');
  await form.getByLabel(/^Key of the service/).fill('lists-of-tarnhollow');
  await form.getByRole('button', { name: 'Make it' }).click();
  await expect(form.getByRole('alert')).toContainText(/settings\.url: met "not an address"/);
  await form.getByLabel('Address of the service').fill(standins);
  await form.getByLabel('It is in our own network, or on this machine').check();
  expect(await faultsOf(page)).toEqual([]);
  await form.getByRole('button', { name: 'Make it' }).click();
  await page.waitForURL(/\/setup\/connections\/conn_/);
  const connection = page.url();
  await page.getByRole('button', { name: 'Check it' }).click();
  await expect(page.getByText('It answers.')).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'check' }).first()).toContainText('200');
  // The key is nowhere to be seen, and encrypted where it is kept.
  expect(await page.content()).not.toContain('lists-of-tarnhollow');
  const id = connection.split('/').at(-1);
  expect(await ask(`select position('lists-of' in encode(secret, 'escape')) as at from connection where id = $1`, [id])).toEqual([
    { at: 0 },
  ]);

  const campaign = await newCampaign(page, {
    rule: { pages: { on: [{ op: 'is', value: '/contact' }] }, moment: { kind: 'open' }, pacing: { again: 'always' } },
    flow: {
      start: 'ask',
      messages: [
        {
          id: 'ask',
          format: 'popup',
          closes: { button: true, dim: true, escape: true },
          blocks: [
            {
              kind: 'form',
              fields: [{ kind: 'email', name: 'email', label: 'Your email', required: true }],
              submit: 'Send',
              thanks: 'Thank you.',
            },
          ],
        },
      ],
    },
  });
  await page.getByRole('group', { name: 'Where its leads go' }).getByLabel('Mail list').check();
  await expect.poll(() => ask(`select from campaign_connection where campaign_id = $1`, [campaign])).toHaveLength(1);
  await publish(page, campaign, 'live');
  const email = `sent-${campaign.toLowerCase().replace(/\W/g, '')}@post.example`;
  const arrived = async () =>
    ((await (await page.request.get(`${standins}/lists.json`)).json()) as { body: string; times: number }[]).filter(({ body }) =>
      body.includes(email),
    );
  await fault('error');
  try {
    const shop = await newVisitor(browser);
    await visit(shop.page, '/contact');
    await popup(shop.page).getByLabel('Your email').fill(email);
    await popup(shop.page).getByRole('button', { name: 'Send' }).click();
    await expect(popup(shop.page).getByText('Thank you.')).toBeVisible();
    await shop.context.close();
    await expect
      .poll(() => ask(`select reason from delivery join lead on lead.id = lead_id where email = $1 and tries > 0`, [email]))
      .toEqual([{ reason: 'answered 500' }]);
  } finally {
    await fault('none');
    await publish(page, campaign, 'draft');
  }
  expect(await arrived()).toEqual([]);
  await page.goto(connection);
  await expect(page.getByRole('region', { name: 'What waits, and what failed' })).toContainText(`${email}waits until`);
  expect(await faultsOf(page)).toEqual([]);
  await page.getByRole('button', { name: 'Send all again' }).click();
  await expect.poll(async () => (await arrived()).map(({ times }) => times)).toEqual([1]);
  await page.reload();
  await expect(page.getByRole('region', { name: 'What waits, and what failed' })).toContainText('everything for it has been sent');
  const [lead] = await ask<{ id: string }>(`select id from lead where email = $1`, [email]);
  await openStudio(page, `/leads/${lead?.id}`);
  await expect(page.getByRole('region', { name: 'Sent on' })).toContainText(/Mail list: arrived/);
  await page.goto(connection);
  await page.getByRole('button', { name: 'Delete' }).click();
  await page.waitForURL('**/setup/connections');
});
