import { randomUUID } from 'node:crypto';
import { expect, test } from '@playwright/test';
import { startDatabase, stopDatabase } from './database';
import { STUDIO, ask, isUp, killProcess, openStudio, signIn, untilAtWork, uptimeOf } from './stack';

const SITE = `(select id from site where key = 'tarnhollowdemo')`;
const ODD = ['שלום עולם — قائمة المقارنة', '👩‍👩‍👧‍👦 Familien & <b>Freunde</b>', 'W'.repeat(200), '比較している人々'];

test('a process that dies is started again, and Today says so', async ({ page }) => {
  // One that has only just been started is not tried again: it has been up for long enough by then.
  await expect.poll(() => uptimeOf('collector')).toBeGreaterThan(3);
  const wentDown = expect.poll(isUp, { intervals: [10] }).toBe(false);
  killProcess('collector');
  await wentDown;
  await expect.poll(isUp).toBe(true);
  await signIn(page);
  await openStudio(page, '/today');
  await expect(page.getByText(/^The collector was started again/)).toBeVisible();
  await expect(page.getByText(/It had ended by itself, with 137\./)).toBeVisible();
});

test('while what counts is away a screen says so, and counts again once it is back', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/segments/seg_readers');
  const size = page.getByRole('region', { name: 'Size' });
  await expect(size).toContainText('people now');
  await expect.poll(() => uptimeOf('analysis')).toBeGreaterThan(3);
  const ask = (within: number) =>
    page.request.post(`${STUDIO}/api/segments/size`, {
      headers: { origin: STUDIO },
      data: { lookback: 30, people: { kind: 'visits', times: { min: within } } },
    });
  expect((await ask(2)).status()).toBe(200);
  killProcess('analysis');
  const away = await ask(3);
  expect([away.status(), await away.json()]).toEqual([503, { error: expect.objectContaining({ code: 'analysis.away' }) }]);
  await expect.poll(async () => (await ask(3)).status()).toBe(200);
  await openStudio(page, '/segments/seg_readers');
  await expect(size).toContainText('people now');
});

test('while the database is away an open editor keeps what is typed, and saves it when the database is back', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/segments/seg_readers');
  const name = page.getByLabel('Name of the segment');
  const before = await name.inputValue();
  await expect(page.getByRole('region', { name: 'Size' })).toContainText('people now');
  const options = stopDatabase();
  try {
    await name.fill(`${before}, renamed`);
    await expect(page.getByText('The database cannot be reached')).toBeVisible();
    await expect(name).toHaveValue(`${before}, renamed`);
    const other = await page.context().newPage();
    await other.goto(`${STUDIO}/visits`);
    await expect(other.getByText('This screen could not be loaded')).toBeVisible();
    startDatabase(options);
    await other.getByRole('button', { name: 'Load again' }).click();
    await expect(other.getByRole('heading', { name: 'Visits' })).toBeVisible();
    await other.close();
  } finally {
    startDatabase(options);
  }
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  await page.reload();
  await untilAtWork(page);
  await expect(name).toHaveValue(`${before}, renamed`);
  await name.fill(before);
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
});

test('a session that ends while something is edited loses nothing of it', async ({ page, browser }) => {
  await signIn(page);
  await openStudio(page, '/segments/seg_members');
  const name = page.getByLabel('Name of the segment');
  await expect(page.getByRole('region', { name: 'Size' })).toContainText('people now');
  await page.context().clearCookies({ name: 'crindle_session' });
  await name.fill('Members, renamed');
  await expect(page.getByText('You are signed out')).toBeVisible();
  await expect(name).toHaveValue('Members, renamed');
  // Signed in again in another tab of the same browser.
  const other = await browser.newPage();
  await signIn(other);
  await page.context().addCookies(await other.context().cookies());
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  await name.fill('Members');
  await expect(page.getByText('saving')).toBeHidden();
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  await other.close();
});

test('what was deleted elsewhere says so, and keeps what is typed', async ({ page }) => {
  await signIn(page);
  const made = await page.request.post(`${STUDIO}/api/segments`, {
    data: { name: 'To be deleted', lookback: 30, people: { kind: 'known', is: true } },
    headers: { origin: STUDIO },
  });
  const { id } = (await made.json()) as { id: string };
  await openStudio(page, `/segments/${id}`);
  await expect(page.getByRole('region', { name: 'Size' })).toContainText('people now');
  expect((await page.request.delete(`${STUDIO}/api/segments/${id}`, { headers: { origin: STUDIO } })).status()).toBe(200);
  await page.getByLabel('Name of the segment').fill('Still typed');
  await expect(page.getByText('This segment was deleted elsewhere')).toBeVisible();
  await expect(page.getByLabel('Name of the segment')).toHaveValue('Still typed');
  await openStudio(page, `/segments/${id}`);
  await expect(page.getByText('That is not here')).toBeVisible();
});

test('five hundred segments and two hundred campaigns, with names of every kind', async ({ page }) => {
  await signIn(page);
  const people = JSON.stringify({ kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }], times: { min: 1 } });
  await ask(
    `insert into segment (site_id, id, name, lookback, people)
     select ${SITE}, 'seg_many_' || n, case when n <= 4 then ($2::text[])[n] else 'Many ' || n end, 30, $1::jsonb from generate_series(1, 500) as n`,
    [people, ODD],
  );
  await ask(
    `insert into campaign (site_id, id, name, status, position, goal, rule, flow)
     select site_id, 'camp_many_' || n, case when n <= 4 then ($1::text[])[n] else 'Many ' || n end, 'draft', 1000 + n, goal, rule, flow
       from campaign, generate_series(1, 200) as n where site_id = ${SITE} and id = 'camp_packing'`,
    [ODD],
  );
  try {
    await openStudio(page, '/segments');
    await expect(page.locator('[data-row]')).toHaveCount(
      500 +
        Number((await ask<{ n: string }>(`select count(*) as n from segment where id not like 'seg_many%' and site_id = ${SITE}`))[0]?.n),
    );
    await expect(page.getByRole('row').filter({ hasText: 'Many 77' }).first().getByRole('cell').nth(1)).toHaveText(/^[\d,]+$/);
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
    await openStudio(page, '/campaigns');
    await expect(page.getByRole('button', { name: 'Drag Many 200', exact: true })).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
    await page.keyboard.press('Control+k');
    await page.getByRole('combobox', { name: 'Search' }).fill('比較');
    await expect(page.getByRole('option', { name: ODD[3] ?? '' }).first()).toBeVisible();
    await page.keyboard.press('Escape');
    await openStudio(page, '/segments/seg_many_1');
    await expect(page.getByLabel('Name of the segment')).toHaveValue(ODD[0] ?? '');
    await openStudio(page, '/campaigns/camp_many_3');
    await expect(page.getByTestId('sure')).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
  } finally {
    await ask(`delete from segment where id like 'seg_many%'`);
    await ask(`delete from campaign where id like 'camp_many%'`);
  }
});

test('a site of which nothing is known yet: every screen says what to do next', async ({ page }) => {
  const [made] = await ask<{ id: number }>(
    `insert into site (key, name, addresses) values ($1, 'Empty Hollow', '{empty.example}') returning id`,
    [`empty${randomUUID().slice(0, 8)}`],
  );
  const email = `empty-${randomUUID()}@tarnhollow.example`;
  const [member] = await ask<{ id: number }>(
    `insert into member (email, name, password_hash) select $1, 'Nobody Yet', password_hash from member where email = 'ines@tarnhollow.example' returning id`,
    [email],
  );
  await ask(`insert into membership (site_id, member_id, role) values ($1, $2, 'owner')`, [made?.id, member?.id]);
  try {
    await page.goto(`${STUDIO}/sign-in`);
    await page.getByLabel('Email').fill(email);
    await page.getByLabel('Password').fill('lantern-col');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.waitForURL('**/today');
    await expect(page.getByText('The script has not been seen yet')).toBeVisible();
    await expect(page.getByText('Nobody is on the site now')).toBeVisible();
    for (const [path, words] of [
      ['/visits', 'No visits yet'],
      ['/segments', 'No segments yet'],
      ['/segments/overlap', 'Overlap'],
      ['/campaigns', 'No campaigns yet'],
      ['/leads', 'No leads yet'],
      ['/setup', 'Not seen yet'],
      ['/setup/page-sets', 'No page sets yet'],
      ['/setup/places', 'No places yet'],
    ] as const) {
      await openStudio(page, path);
      await expect(page.getByText(words).first()).toBeVisible();
      await expect(page.getByText('could not be loaded')).toBeHidden();
    }
    await openStudio(page, '/campaigns');
    await page.getByRole('button', { name: 'New campaign' }).first().click();
    await page.waitForURL(/camp_/);
    await expect(page.getByTestId('sure')).toBeVisible();
  } finally {
    await ask(`delete from site where id = $1`, [made?.id]);
    await ask(`delete from member where id = $1`, [member?.id]);
  }
});
