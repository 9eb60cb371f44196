// Leads sent on and segments kept in step: connections made and checked, down and back, and what arrived at the other side.
import { createHash } from 'node:crypto';
import { expect, test } from '@playwright/test';
import { faultsOf } from './axe';
import { newCampaign, publish } from './board';
import { ask, COLLECTOR, environmentOf, openStudio, signIn, STUDIO, visit } from './stack';
import { newVisitor, popup } from './visitor';

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
  await page.getByRole('group', { name: 'Where its leads go' }).getByLabel('Mail list', { exact: true }).check();
  await expect.poll(() => ask(`select from campaign_connection where campaign_id = $1`, [campaign])).toHaveLength(1);
  await publish(page, campaign, 'live');
  const email = `sent-${campaign.toLowerCase().replace(/\W/g, '')}@post.example`;
  const arrived = async () =>
    ((await (await page.request.get(`${standins}/lists.json`)).json()) as { body: string; deliveries: Record<string, number> }[]).filter(
      ({ body }) => body.includes(email),
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
  await expect.poll(async () => (await arrived()).map(({ deliveries }) => Object.values(deliveries))).toEqual([[1]]);
  await page.reload();
  await expect(page.getByRole('region', { name: 'What waits, and what failed' })).toContainText('everything for it has been sent');
  const [lead] = await ask<{ id: string }>(`select id from lead where email = $1`, [email]);
  await openStudio(page, `/leads/${lead?.id}`);
  await expect(page.getByRole('region', { name: 'Sent on' })).toContainText(/Mail list: arrived/);
  await page.goto(connection);
  await page.getByRole('button', { name: 'Delete' }).click();
  await page.waitForURL('**/setup/connections');
});

test('a form with its consent, told by a sentence; a purchase from elsewhere closes the goal and joins an audience; consent taken back leaves it', async ({
  page,
  browser,
}) => {
  const standins = environmentOf('studio')['CRINDLE_STANDINS'] ?? '';
  await signIn(page);
  await openStudio(page, '/setup/connections');
  const form = page.getByRole('form', { name: 'New connection' });
  await form.getByLabel('Kind').selectOption('Ad audience');
  await form.getByLabel('Address of the service').fill(standins);
  await form.getByLabel('Audience', { exact: true }).fill('buyers');
  await form.getByLabel(/^Key of the service/).fill('audiences-of-tarnhollow');
  await form.getByLabel('It is in our own network, or on this machine').check();
  await form.getByRole('button', { name: 'Make it' }).click();
  await page.waitForURL(/\/setup\/connections\/conn_/);
  const connection = page.url();
  await page.getByRole('button', { name: 'Check it' }).click();
  await expect(page.getByText('It answers.')).toBeVisible();

  const campaign = await newCampaign(page, {
    goal: { kind: 'event', event: 'bought_elsewhere', days: 7 },
    rule: { pages: { on: [{ op: 'is', value: '/courses' }] }, moment: { kind: 'open' }, pacing: { again: 'always' } },
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
              fields: [
                { kind: 'email', name: 'email', label: 'Your email', required: true },
                { kind: 'choice', name: 'whom', label: 'For whom?', required: true, options: ['Just me', 'A family'] },
                { kind: 'consent', name: 'letters', label: 'You may write to me', required: true },
              ],
              submit: 'Send',
              thanks: 'Thank you.',
            },
          ],
        },
      ],
    },
  });
  // What of a lead goes to the list is said by a sentence.
  const goes = page.getByRole('group', { name: 'Where its leads go' });
  await goes.getByLabel('Hut letters', { exact: true }).check();
  const sentence = page.getByRole('group', { name: 'What goes to Hut letters' });
  await expect(sentence).toContainText('Hut letters gets their email, all answers, and the campaign’s name as a tag.');
  await sentence.getByRole('button', { name: 'Answers' }).click();
  await page.getByLabel('all answers, under their own names').uncheck();
  await page.getByLabel('letters', { exact: true }).uncheck();
  await page.getByLabel('email', { exact: true }).uncheck();
  await page.getByLabel('whom as').fill('plan');
  await page.keyboard.press('Escape');
  await sentence.getByRole('button', { name: 'Tags' }).click();
  await page.getByLabel('Tags, with commas').fill('packing list');
  await page.getByLabel('the campaign’s name, too').uncheck();
  await page.keyboard.press('Escape');
  await expect(sentence).toContainText('the answer to “whom” as “plan”, and tag “packing list”');
  await expect
    .poll(() => ask(`select mapping from campaign_connection where campaign_id = $1`, [campaign]))
    .toEqual([{ mapping: { email: true, answers: [{ answer: 'whom', as: 'plan' }], tags: ['packing list'], campaign: false } }]);
  await sentence.getByRole('button', { name: 'try it with the last lead' }).click();
  await expect(sentence.getByRole('status')).toContainText('It has no lead yet');
  expect(await faultsOf(page)).toEqual([]);
  await publish(page, campaign, 'live');

  const email = `buys-${campaign.toLowerCase().replace(/\W/g, '')}@post.example`;
  const shop = await newVisitor(browser);
  await visit(shop.page, '/courses');
  await popup(shop.page).getByLabel('Your email').fill(email);
  await popup(shop.page).getByLabel('For whom?').selectOption('A family');
  await popup(shop.page).getByLabel('You may write to me').check();
  await popup(shop.page).getByRole('button', { name: 'Send' }).click();
  await expect(popup(shop.page).getByText('Thank you.')).toBeVisible();
  await shop.context.close();
  const listed = async () =>
    ((await (await page.request.get(`${standins}/lists.json`)).json()) as { body: string }[])
      .map(({ body }) => JSON.parse(body) as { email: string })
      .filter((member) => member.email === email);
  await expect.poll(listed).toEqual([{ email, fields: { plan: 'A family' }, tags: ['packing list'] }]);
  await page.reload();
  await page.getByRole('tab', { name: 'Messages' }).click();
  await sentence.getByRole('button', { name: 'try it with the last lead' }).click();
  await expect(sentence.getByRole('status')).toContainText(email);
  await sentence.getByRole('button', { name: 'Send it to Hut letters' }).click();
  await expect(sentence.getByRole('status')).toContainText('It arrived.');

  // A segment of those who bought elsewhere, kept in step with the audience.
  const made = await page.request.post(`${STUDIO}/api/segments`, {
    headers: { origin: STUDIO },
    data: {
      name: `Bought elsewhere ${campaign}`,
      lookback: 90,
      people: { kind: 'did', event: 'bought_elsewhere', times: { min: 1 } },
    },
  });
  const { id: segment } = (await made.json()) as { id: string };
  await openStudio(page, `/segments/${segment}`);
  const kept = page.getByRole('region', { name: 'Kept in step' });
  await kept.getByLabel('Ad audience').press('Space');
  await expect(kept).toContainText(/0 there · compared \d+ s ago/);
  const inAudience = async (): Promise<boolean> =>
    ((await (await page.request.get(`${standins}/audiences.json`)).json()) as { audience: string; person: string }[]).some(
      ({ audience, person }) => audience === 'buyers' && person === createHash('sha256').update(email).digest('hex'),
    );
  expect(await inAudience()).toBe(false);
  const { secret } = (await (await page.request.post(`${STUDIO}/api/site/events-secret`, { headers: { origin: STUDIO } })).json()) as {
    secret: string;
  };
  const bought = await page.request.post(`${COLLECTOR}/events/tarnhollowdemo`, {
    headers: { authorization: `Bearer ${secret}` },
    data: { events: [{ id: `order ${campaign}`, email, event: 'bought_elsewhere', at: Date.now(), props: { value: 80 } }] },
  });
  expect(bought.ok()).toBe(true);
  expect(
    await ask(`select kind from outcome join showing on showing.id = showing_id where campaign_id = $1 and kind = 'converted'`, [campaign]),
  ).toEqual([{ kind: 'converted' }]);
  await kept.getByRole('button', { name: 'Compare now' }).click();
  await expect.poll(inAudience).toBe(true);
  await expect(kept).toContainText('1 there');
  await page.getByText('Its people as CSV').click();
  await expect(page.getByText('That is 1 line.')).toBeVisible();
  expect(await faultsOf(page)).toEqual([]);
  const [csv] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Take out CSV' }).click()]);
  const text = await (await csv.createReadStream()).toArray();
  expect(Buffer.concat(text as Buffer[]).toString()).toBe(`email_sha256\r\n${createHash('sha256').update(email).digest('hex')}\r\n`);

  // A connection that has people cannot be deleted before they are taken out.
  await page.goto(connection);
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText(/It keeps “Bought elsewhere .* in step: end that first/)).toBeVisible();

  const [lead] = await ask<{ id: string }>(`select id from lead where email = $1`, [email]);
  await openStudio(page, `/leads/${lead?.id}`);
  await page.getByRole('button', { name: 'They take it back …' }).click();
  await page.getByRole('button', { name: 'They took it back' }).click();
  await expect(page.getByText(/^They took their consent back/)).toBeVisible();
  await expect.poll(inAudience).toBe(false);
  await expect.poll(listed).toEqual([]);

  await openStudio(page, `/segments/${segment}`);
  // By the keyboard: numbers that are counted meanwhile move what is under a pointer.
  await kept.getByLabel('Ad audience').press('Space');
  await expect.poll(() => ask(`select from kept_segment where segment_id = $1`, [segment]), { timeout: 30_000 }).toEqual([]);
  await publish(page, campaign, 'draft');
  await page.goto(connection);
  await page.getByRole('button', { name: 'Delete' }).click();
  await page.waitForURL('**/setup/connections');
});

test('connections are an owner’s, who alone allows an address in a private network', async ({ page }) => {
  const make = (settings: object) =>
    page.request.post(`${STUDIO}/api/connections`, {
      headers: { origin: STUDIO },
      data: { kind: 'hook', name: 'One more hook', settings: { url: 'http://127.0.0.1:9/hook', ...settings } },
    });
  await signIn(page, 'jonas@tarnhollow.example');
  const refused = await make({});
  expect([refused.status(), await refused.text()]).toEqual([403, expect.stringContaining('ask an owner')]);
  await page.context().clearCookies();
  await signIn(page);
  const made = await make({});
  expect(made.ok()).toBe(true);
  const { id } = (await made.json()) as { id: string };
  const checked = await page.request.post(`${STUDIO}/api/connections/${id}/check`, { headers: { origin: STUDIO } });
  expect(await checked.json()).toMatchObject({ ok: false, note: expect.stringContaining('private network') });
  await page.request.delete(`${STUDIO}/api/connections/${id}`, { headers: { origin: STUDIO } });
});
