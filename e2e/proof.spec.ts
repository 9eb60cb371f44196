// What is proven besides the difference: goals that campaigns share, the ways through a flow, what was foretold, and the week by mail.
import { expect, test } from '@playwright/test';
import { faultsOf } from './axe';
import { newCampaign, publish } from './board';
import { ask, environmentOf, openStudio, signIn, STUDIO, visit } from './stack';
import { newVisitor, popup } from './visitor';

test('the way through a flow and how it was closed are recorded, and drawn on the storyboard', async ({ page, browser }) => {
  await signIn(page);
  const closes = { button: true, dim: true, escape: true };
  const id = await newCampaign(page, {
    rule: { pages: { on: [{ op: 'is', value: '/contact' }] }, moment: { kind: 'open' }, pacing: { again: 'always' } },
    flow: {
      start: 'ask',
      messages: [
        {
          id: 'ask',
          format: 'popup',
          closes,
          blocks: [
            { kind: 'heading', text: 'A question' },
            { kind: 'buttons', buttons: [{ label: 'Go on', does: [{ kind: 'message', id: 'more' }] }] },
          ],
        },
        { id: 'more', format: 'popup', closes, blocks: [{ kind: 'heading', text: 'More of it' }] },
      ],
    },
  });
  await publish(page, id, 'live');
  try {
    const shop = await newVisitor(browser);
    await visit(shop.page, '/contact');
    await expect(popup(shop.page)).toContainText('A question');
    await popup(shop.page).getByRole('button', { name: 'Go on' }).click();
    await expect(popup(shop.page)).toContainText('More of it');
    await shop.page.keyboard.press('Escape');
    await expect(popup(shop.page)).toHaveCount(0);
    // Whoever closes the first at once, by its button.
    const other = await newVisitor(browser);
    await visit(other.page, '/contact');
    await popup(other.page).getByRole('button', { name: 'Close' }).click();
    await expect(popup(other.page)).toHaveCount(0);
    const recorded = () =>
      ask<{ how: string | null; path: string | null }>(
        `select how, (select string_agg(message, ' ' order by at) from flow_step where showing_id = showing.id) as path
           from showing left join outcome on outcome.showing_id = showing.id and kind = 'dismissed' where campaign_id = $1 order by showing.at`,
        [id],
      );
    // Whoever pressed a button has not dismissed anything.
    await expect.poll(recorded).toEqual([
      { how: null, path: 'more' },
      { how: 'button', path: null },
    ]);
    await Promise.all([shop.context.close(), other.context.close()]);
  } finally {
    await publish(page, id, 'draft');
  }
  await openStudio(page, `/campaigns/${id}`);
  await page.getByRole('tab', { name: 'Messages' }).click();
  await page.getByRole('button', { name: 'Ways taken' }).click();
  await expect(page.getByText('seen in 2 of 2 showings · 1 on to more, 1 closed')).toBeVisible();
  await expect(page.getByText('seen in 1 of 2 showings · 1 pressed and done')).toBeVisible();
  await page.getByRole('button', { name: 'Without the ways taken' }).click();
  await expect(page.getByText(/seen in/)).toHaveCount(0);
  await openStudio(page, `/campaigns/${id}?tab=results`);
  await expect(page.getByRole('region', { name: 'From its moment to success' })).toContainText('1 closed it: 1 by its close button.');
  // It is in no release any more, so nothing is foretold of it.
  await expect(page.getByRole('region', { name: /^Foretold and came/ })).toContainText('No whole day has been live');
});

test('what is live is rehearsed over whole days beside what came; a table more is told apart by choice and stays in the address', async ({
  page,
}) => {
  await signIn(page);
  await openStudio(page, '/campaigns/camp_packing?tab=results');
  const foretold = page.getByRole('region', { name: /^Foretold and came/ });
  await expect(foretold).toContainText(/\d+ foretold by rehearsing what is live over these days, \d+ came/);
  await expect(foretold.getByRole('img')).toHaveAttribute('aria-label', /^Foretold and came: /);
  await page.getByLabel('and told apart by').selectOption({ label: 'page of the first meeting' });
  await expect(page.getByRole('rowheader', { name: /^\/journal\// }).first()).toBeVisible();
  await page.reload();
  await expect(page.getByRole('rowheader', { name: /^\/journal\// }).first()).toBeVisible();
  await page.getByLabel('and told apart by').selectOption({ label: 'whether they were in “Route readers” by then' });
  await expect(page.getByRole('rowgroup').filter({ hasText: 'In “Route readers” by then' })).toBeVisible();
  expect(await faultsOf(page)).toEqual([]);
});

test('a goal is made in Setup, counted by a campaign, changed for it, made the main one on Today, and left to it', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/setup/goals');
  await expect(page.getByRole('row').filter({ hasText: 'Bookings' })).toContainText('main goal, counted on Today');
  await page.getByRole('button', { name: 'New goal' }).click();
  await page.waitForURL(/\/setup\/goals\/goal_/);
  const goal = page.url().split('/').at(-1) ?? '';
  await page.getByLabel('Name').fill('Kits put in the basket');
  await page.getByLabel('Event').fill('kit_added');
  await expect(page.getByText(/^saved/)).toBeVisible();
  await expect(page.getByRole('heading', { name: /^Reached (\d+ times in 30 days|by nobody)/ })).toBeVisible();
  expect(await faultsOf(page)).toEqual([]);
  const id = await newCampaign(page);
  await page.getByLabel('Goal').selectOption({ label: '“Kits put in the basket”' });
  await expect(page.getByText('“kit_added” within 3 days.')).toBeVisible();
  const goalOf = async () => (await ask<{ goal: object }>(`select goal from campaign where id = $1`, [id]))[0]?.goal;
  await expect.poll(goalOf).toEqual({ kind: 'event', event: 'kit_added', days: 3, named: goal });
  await openStudio(page, `/setup/goals/${goal}`);
  await expect(page.getByText(/^Used by/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Days' }).fill('9');
  await expect.poll(goalOf).toEqual({ kind: 'event', event: 'kit_added', days: 9, named: goal });
  try {
    await page.getByRole('button', { name: 'Make it the main goal' }).click();
    await expect(page.getByRole('button', { name: 'Not the main goal any more' })).toBeVisible();
    await openStudio(page, '/today');
    await expect(page.getByRole('region', { name: 'Today against a usual day' })).toContainText('Kits put in the basket');
  } finally {
    await page.request.put(`${STUDIO}/api/goals/main`, { headers: { origin: STUDIO }, data: { goal: 'goal_booking' } });
  }
  await openStudio(page, `/setup/goals/${goal}`);
  await page.getByRole('button', { name: 'Delete' }).click();
  await page.waitForURL('**/setup/goals');
  await expect.poll(goalOf).toEqual({ kind: 'event', event: 'kit_added', days: 9 });
});

test('last week is mailed at once to whoever asks, and each Monday to whoever wants it', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/results?days=90');
  const wish = page.getByLabel(/^Mail me the week’s results each Monday, to ines@tarnhollow\.example/);
  await wish.check();
  const wanted = () => ask(`select zone from weekly_mail join member on member.id = member_id where email = 'ines@tarnhollow.example'`);
  await expect.poll(async () => (await wanted()).length).toBe(1);
  await page.reload();
  await expect(wish).toBeChecked();
  await page.getByRole('button', { name: 'Send last week’s now' }).click();
  await expect(page.getByText('Last week’s results are on their way to ines@tarnhollow.example')).toBeVisible();
  const outbox = await page.request.get(`${environmentOf('studio')['CRINDLE_STANDINS']}/outbox.json`);
  // Others are written to meanwhile.
  const mail = ((await outbox.json()) as { to: string; subject: string; text: string }[]).find(
    ({ to, subject }) => to === 'ines@tarnhollow.example' && subject.includes('bookings'),
  );
  expect(mail?.subject).toMatch(/^Tarnhollow Huts, \d+ \w+ to \d+ \w+: \d+ bookings$/);
  expect(mail?.text).toContain(`${STUDIO}/results?days=7`);
  await wish.uncheck();
  await expect.poll(async () => (await wanted()).length).toBe(0);
  // The lines of all campaigns as a drawing, and as a table.
  const [svg] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'results as SVG' }).click()]);
  expect(svg.suggestedFilename()).toBe('results.svg');
  const csv = await (await page.request.get(`${STUDIO}/results.csv?zone=UTC`)).text();
  expect(csv).toContain('Greeting from the newsletter,variant,nothing,');
  expect(csv).toContain('Ask the warden,variant,');
});
