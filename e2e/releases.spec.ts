import { expect, test } from '@playwright/test';
import { newCampaign, publish, publishAllTheSame, saved } from './board';
import { ask, openStudio, signIn, STUDIO, visit } from './stack';
import { moveToLeave, newVisitor, popup, settled } from './visitor';

const rule = { pages: { on: [{ op: 'is', value: '/contact' }] }, moment: { kind: 'delay', seconds: 0 } };

test('what would be published is said in words; a release is gone back to, and compared', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page, { rule: { ...rule, pages: { on: [{ op: 'is', value: '/no-such-page' }] } } });
  const [{ name = '' } = {}] = await ask<{ name: string }>(`select name from campaign where id = $1`, [id]);
  await publish(page, id, 'live');
  const [{ number: first = 0 } = {}] = await ask<{ number: number }>(`select max(number) as number from release`);
  try {
    await page.getByRole('textbox', { name: 'Heading of ask' }).fill('Second');
    await saved(page);
    await page.getByRole('button', { name: `Publish release ${first + 1}` }).click();
    const panel = page.getByRole('dialog');
    await expect(panel.getByText(`${name} says or looks otherwise in “ask”`)).toBeVisible();
    await panel.getByLabel('Note').fill('spring words');
    await publishAllTheSame(panel);
    await expect(page.getByText(`Release ${first + 1} is live`)).toBeVisible();
    await openStudio(page, '/setup/releases');
    const line = page.getByRole('listitem').filter({ has: page.getByText('spring words') });
    await expect(line).toContainText(`${name} says or looks otherwise in “ask”.`);
    await page.getByRole('button', { name: `Go back to release ${first}`, exact: true }).click();
    await page.getByLabel('Why').fill('too early');
    await page
      .getByRole('button', { name: `Go back to release ${first}`, exact: true })
      .last()
      .click();
    await expect(page.getByText(`Release ${first + 2} is live: what ${first} was`)).toBeVisible();
    await page.getByLabel(`Compare release ${first + 2} with`).selectOption(String(first));
    await expect(page.getByRole('region', { name: 'Compared' })).toContainText('The two are the same.');
    await page.getByLabel(`Compare release ${first + 2} with`).selectOption(String(first + 1));
    await expect(page.getByRole('region', { name: 'Compared' })).toContainText('says or looks otherwise in “ask”');
    const documents = await ask<{ words: string }>(
      `select document -> 'campaigns' as words from release where number in ($1, $2) order by number`,
      [first, first + 2],
    );
    expect(documents[0]).toEqual(documents[1]);
  } finally {
    await publish(page, id, 'draft');
  }
});

test('a campaign is paused at once, goes on, and begins at its instant, without a release', async ({ page, browser }) => {
  await signIn(page);
  const id = await newCampaign(page, { rule });
  await publish(page, id, 'live');
  const number = async () => (await ask<{ number: number }>(`select max(number) as number from release`))[0]?.number;
  const before = await number();
  try {
    const isShown = async (): Promise<boolean> => {
      const { context, page: site } = await newVisitor(browser);
      await visit(site, '/contact');
      await settled(site);
      const shown = await popup(site).isVisible();
      if (shown) await expect(popup(site).getByRole('heading')).toHaveText('First');
      await context.close();
      return shown;
    };
    expect(await isShown()).toBe(true);
    await openStudio(page, `/campaigns/${id}`);
    await page.getByRole('button', { name: 'Pause now' }).click();
    await expect(page.getByRole('button', { name: 'Let it go on' })).toBeVisible();
    expect(await isShown()).toBe(false);
    await page.getByRole('button', { name: 'Let it go on' }).click();
    await expect(page.getByRole('button', { name: 'Pause now' })).toBeVisible();
    expect(await isShown()).toBe(true);
    // It waits for its start, which the worker carries out.
    await page.getByRole('button', { name: 'Schedule' }).click();
    await page.getByLabel('Starts').fill('2100-01-01T09:00:00');
    await page.getByLabel('Ends').fill('2099-01-01T09:00:00');
    await page.getByRole('button', { name: 'Set', exact: true }).click();
    await expect(page.getByRole('alert').filter({ hasText: 'an end after the start' })).toBeVisible();
    await page.getByLabel('Ends').fill('2101-01-01T09:00:00');
    await page.getByRole('button', { name: 'Set', exact: true }).click();
    await expect(page.getByText(/waits for its start in release/)).toBeVisible();
    expect(await isShown()).toBe(false);
    await ask(`update campaign set starts_at = now() + interval '2 seconds' where id = $1`, [id]);
    await expect
      .poll(async () => (await ask<{ status: string }>(`select status from campaign where id = $1`, [id]))[0]?.status)
      .toBe('live');
    expect(await isShown()).toBe(true);
    expect(await number()).toBe(before);
    // All of it stands in the log, with who did it.
    const [{ name = '' } = {}] = await ask<{ name: string }>(`select name from campaign where id = $1`, [id]);
    await openStudio(page, `/setup/log?${new URLSearchParams({ q: name })}`);
    const told = page.getByRole('list', { name: 'Changes' }).getByRole('listitem');
    await expect(told).toContainText([
      `Campaign ${name} begun, as set by itself`,
      `Campaign ${name} scheduled by Ines Rauch`,
      `Campaign ${name} switched on by Ines Rauch`,
      `Campaign ${name} paused by Ines Rauch`,
      `Campaign ${name} switched on by Ines Rauch`,
      `Campaign ${name} made by Ines Rauch`,
    ]);
    await told.nth(1).getByText('What it was and is').click();
    await expect(told.nth(1).getByText('"startsAt"')).toBeVisible();
    // Only who may edit pauses.
    const stranger = await browser.newContext();
    expect(
      (await stranger.request.post(`${STUDIO}/api/campaigns/${id}`, { headers: { origin: STUDIO }, data: { status: 'paused' } })).status(),
    ).toBe(401);
    await stranger.close();
  } finally {
    await publish(page, id, 'draft');
  }
});

test('pausing, going on and going back reach a page that stays open within a minute', async ({ page, browser }) => {
  await signIn(page);
  const id = await newCampaign(page, { rule: { pages: rule.pages, moment: { kind: 'exit' }, pacing: { again: 'always' } } });
  await publish(page, id, 'live');
  const [{ number: first = 0 } = {}] = await ask<{ number: number }>(`select max(number) as number from release`);
  const setStatus = async (status: string): Promise<void> => {
    const answer = await page.request.post(`${STUDIO}/api/campaigns/${id}`, { headers: { origin: STUDIO }, data: { status } });
    expect(answer.ok()).toBe(true);
  };
  try {
    const { context, page: site } = await newVisitor(browser);
    await site.clock.install();
    await visit(site, '/contact');
    await settled(site);
    await setStatus('paused');
    // A minute in which nothing is done on the page but that it goes on asking.
    const minute = async (): Promise<void> => {
      for (let tens = 0; tens < 6; tens++) {
        await site.clock.runFor(10_000);
        await settled(site);
      }
    };
    await minute();
    await moveToLeave(site);
    await expect(popup(site)).toBeHidden();
    await setStatus('live');
    await minute();
    await moveToLeave(site);
    await expect(popup(site).getByRole('heading')).toHaveText('First');
    await site.keyboard.press('Escape');
    await expect(popup(site)).toBeHidden();
    // Other words, and back to what was.
    await page.getByRole('textbox', { name: 'Heading of ask' }).fill('Second');
    await saved(page);
    await publish(page, id, 'live');
    const back = await page.request.post(`${STUDIO}/api/releases/${first}/back`, { headers: { origin: STUDIO }, data: { note: '' } });
    expect(back.ok()).toBe(true);
    await minute();
    await visit(site, '/contact');
    await settled(site);
    await moveToLeave(site);
    await expect(popup(site).getByRole('heading')).toHaveText('First');
    await context.close();
  } finally {
    await publish(page, id, 'draft');
  }
});

test('of two who publish at once the second sees what the first did', async ({ page, browser }) => {
  await signIn(page);
  const id = await newCampaign(page, { rule: { ...rule, pages: { on: [{ op: 'is', value: '/no-such-page' }] } } });
  const jonas = await (await browser.newContext()).newPage();
  await signIn(jonas, 'jonas@tarnhollow.example');
  try {
    const on = await page.request.post(`${STUDIO}/api/campaigns/${id}`, { headers: { origin: STUDIO }, data: { status: 'live' } });
    expect(on.ok()).toBe(true);
    await openStudio(page, '/campaigns');
    await openStudio(jonas, '/campaigns');
    const open = async (who: typeof page) => {
      await who.getByRole('button', { name: /^Publish release \d+$/ }).click();
      const panel = who.getByRole('dialog', { name: /^Publish release \d+$/ });
      await expect(panel.getByLabel('Note')).toBeVisible();
      return panel;
    };
    const [ines, other] = [await open(page), await open(jonas)];
    await publishAllTheSame(ines);
    await expect(page.getByText(/^Release \d+ is live$/)).toBeVisible();
    // The panel that stays open shows by itself that nothing is left.
    await expect(other.getByText(/^Nothing is changed since release \d+\.$/)).toBeVisible();
    await expect(other.getByRole('button', { name: /^Publish release \d+$/ })).toBeDisabled();
    // Whoever had it open before that is told, by the server.
    const late = await jonas.request.post(`${STUDIO}/api/releases`, {
      headers: { origin: STUDIO },
      data: { name: '', note: '', seen: 'as it was' },
    });
    expect([late.status(), ((await late.json()) as { error: { message: string } }).error.message]).toEqual([
      409,
      expect.stringMatching(/nothing was published now\. Release \d+ is of Ines Rauch/),
    ]);
    // And the campaign's own history has it.
    await openStudio(page, `/campaigns/${id}`);
    await page.getByRole('tab', { name: 'History' }).click();
    await expect(page.getByRole('list', { name: 'History' }).getByRole('listitem').first()).toContainText(
      /Release \d+: given to visitors by Ines Rauch/,
    );
  } finally {
    await jonas.context().close();
    await publish(page, id, 'draft');
  }
});
