// One person: what is on record is given out and erased, with a receipt; and how long what is kept.
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { faultsOf } from './axe';
import { ask, openStudio, signIn, visit } from './stack';
import { browserIdOf, newVisitor } from './visitor';

test('a visitor is found by their browser, given out as JSON and erased with a receipt; how long is kept is set in days', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const shop = await newVisitor(browser);
  await visit(shop.page, '/contact');
  const id = await browserIdOf(shop.page);
  await shop.context.close();
  const [row] = await ask<{ id: number }>(`select id from visitor where browser_id = $1`, [id]);
  await openStudio(page, `/visitors/${row?.id}`);
  await page.getByRole('link', { name: 'give out or erase what is on record' }).click();
  const form = page.getByRole('form', { name: 'One person' });
  await expect(form.getByLabel('Which')).toHaveValue(id);
  await form.getByRole('button', { name: 'Look' }).click();
  await expect(form.getByRole('status')).toContainText('One browser: ');
  expect(await faultsOf(page)).toEqual([]);
  const [file] = await Promise.all([page.waitForEvent('download'), form.getByRole('link', { name: 'Everything as JSON' }).click()]);
  const given = JSON.parse(readFileSync(await file.path(), 'utf8')) as { visitor: { browser_id: string }[]; page_view: { url: string }[] };
  expect(given.visitor).toMatchObject([{ browser_id: id }]);
  expect(given.page_view[0]?.url).toContain('/contact');
  await form.getByRole('button', { name: 'Erase them for good' }).click();
  expect(await ask(`select id from visitor where browser_id = $1`, [id])).toHaveLength(1);
  await form.getByRole('button', { name: 'Yes: it cannot be brought back' }).click();
  await expect(form.getByRole('status')).toContainText('Erased: ');
  await expect(page.getByRole('region', { name: 'Receipts' }).getByRole('listitem').first()).toContainText(
    'by Ines Rauch, found by browser’s id',
  );
  expect(await ask(`select id from visitor where browser_id = $1`, [id])).toEqual([]);
  await form.getByRole('button', { name: 'Look' }).click();
  await expect(form.getByRole('status')).toContainText('Nobody is on record by that.');

  const long = page.getByRole('form', { name: 'How long it is kept' });
  try {
    await long.getByLabel(/^Visits/).fill('3');
    await long.getByRole('button', { name: 'Save' }).click();
    await expect(long.getByRole('alert')).toContainText('visits: met 3, expected');
    // What would go is said before it is saved.
    await long.getByLabel(/^Visits/).fill('10');
    const [{ count = 0 } = {}] = await ask<{ count: number }>(
      `select count(*)::int from visit join site on site.id = site_id and key = 'tarnhollowdemo' where started_at < (now() at time zone 'UTC')::date - 10`,
    );
    expect(count).toBeGreaterThan(1);
    await expect(long.getByRole('status')).toHaveText(
      `Once saved, ${count.toLocaleString('en-GB')} visits will be deleted tonight, for good.`,
    );
    await long.getByLabel(/^Visits/).fill('400');
    await expect(long.getByRole('status')).toHaveText('Nothing that is on record now would go.');
    await long.getByLabel('Conversations').fill('90');
    await long.getByRole('button', { name: 'Save' }).click();
    await expect(page.getByText('visits for 400 days')).toBeVisible();
    expect(
      await ask(`select keep_visits as visits, keep_leads as leads, keep_conversations as talks from site where key like 'tarnhollow%'`),
    ).toEqual([{ visits: 400, leads: null, talks: 90 }]);
  } finally {
    await ask(`update site set keep_visits = null, keep_conversations = null`);
  }
});

test('two people who say their emails in one browser are kept apart: told, left out unless ticked, and taken back by one click', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const shop = await newVisitor(browser);
  await visit(shop.page, '/contact');
  const id = await browserIdOf(shop.page);
  const [one, other] = [`first-${id.slice(-8)}@post.example`, `second-${id.slice(-8)}@post.example`];
  const said = (email: string) => ask<{ id: number }>(`select id from visitor where browser_id = $1 and email = $2`, [id, email]);
  for (const email of [one, other]) {
    await shop.page.evaluate(
      (who) => (window as unknown as { crindle: { person: (p: object) => void } }).crindle.person({ email: who }),
      email,
    );
    await expect.poll(() => said(email)).toHaveLength(1);
  }
  await shop.context.close();
  const [row] = await said(other);

  await openStudio(page, `/setup/privacy?${new URLSearchParams({ by: 'email', value: one })}`);
  const form = page.getByRole('form', { name: 'One person' });
  await form.getByRole('button', { name: 'Look' }).click();
  const claim = form.getByRole('checkbox', { name: `Visitor ${row?.id}` });
  await expect(claim).not.toBeChecked();
  await expect(form.getByRole('status')).toContainText(`It says to be ${other}, too`);
  await expect(form.getByRole('status')).not.toContainText('page looked at');
  expect(await faultsOf(page)).toEqual([]);
  await claim.check();
  await expect(form.getByRole('status')).toContainText('1 page looked at');

  await openStudio(page, `/visitors/${row?.id}`);
  const who = page.getByRole('region', { name: 'Who they say they are' });
  await expect(who.getByRole('listitem')).toHaveCount(2);
  const mistaken = who.getByRole('listitem').filter({ hasText: other });
  await expect(mistaken).toContainText('not signed by the site');
  await mistaken.getByRole('button', { name: 'This is not them' }).click();
  await mistaken.getByRole('button', { name: 'Take it off this visitor' }).click();
  await expect(who.getByRole('listitem')).toHaveCount(1);
  expect(await said(one)).toHaveLength(1);
});

test('what a job could not do is told on Today and in the log, tried once more when asked to, and put aside', async ({ page }) => {
  await signIn(page);
  const subject = `copy-${Date.now()}`;
  await ask(
    `insert into failed_task (site_id, job, subject, name, words, times, at, next_at)
     select id, 'mail copy', $1, 'The conversation of visitor 7', '451 try later', 3, now(), now() + interval '6 hours' from site where key like 'tarnhollow%'`,
    [subject],
  );
  try {
    await openStudio(page, '/today');
    await page.getByRole('link', { name: 'See what, and why' }).click();
    const line = page.getByRole('region', { name: 'What could not be done' }).getByRole('listitem').filter({ hasText: '451 try later' });
    await expect(line).toContainText('Mailing a copy of a conversation: The conversation of visitor 7');
    await expect(line).toContainText('Tried 3 times');
    expect(await faultsOf(page)).toEqual([]);
    await line.getByRole('button', { name: 'Try it now' }).click();
    await expect.poll(() => ask(`select from failed_task where subject = $1 and next_at <= now()`, [subject])).toHaveLength(1);
    await line.getByRole('button', { name: 'Put it aside' }).click();
    await expect(line).toHaveCount(0);
    expect(await ask(`select from failed_task where subject = $1`, [subject])).toEqual([]);
  } finally {
    await ask(`delete from failed_task where subject = $1`, [subject]);
  }
});
