import { expect, test } from '@playwright/test';
import { ask, openStudio, signIn, STUDIO, untilAtWork } from './stack';

const number = (text: string | null): number => Number((text ?? '').replace(/[^\d]/g, ''));

test('visits are filtered by typing, the filter stands in the address, and what it finds is what is on record', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/visits');
  const line = page.getByRole('combobox', { name: 'Filter visits' });
  for (const [typed, words] of [
    ['phone', 'on a phone'],
    ['/book/pay', 'saw /book/pay'],
  ] as const) {
    await line.fill(typed);
    await expect(page.getByRole('option', { name: words }).first()).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: `Without “${words}”` })).toBeVisible();
  }
  await expect(page).toHaveURL(/\?device=phone&page=%2Fbook%2Fpay$/);
  const note = page.getByText(/ of .* visits, by /);
  await expect(note).toBeVisible();
  const [row] = await ask<{ visits: number }>(
    `select count(distinct visit_id)::int as visits from page_view join visitor on visitor.site_id = page_view.site_id and visitor.id = page_view.visitor_id
      where device_category = 'phone' and url ~ '^[a-z]+://[^/]+/book/pay/?([?#].*)?$'
        and page_view.site_id = (select id from site where key = 'tarnhollowdemo')`,
  );
  expect(row?.visits).toBeGreaterThan(0);
  expect(number((await note.textContent())?.split(' of ')[0] ?? '')).toBe(row?.visits);

  // The same from the address, and back by the browser's own button.
  await page.reload();
  await untilAtWork(page);
  await expect(page.getByText('saw /book/pay')).toBeVisible();
  await line.focus();
  await page.keyboard.press('Backspace');
  await expect(page).toHaveURL(/\?device=phone$/);
  await page.goBack();
  await expect(page.getByText('saw /book/pay')).toBeVisible();
});

test('a list of all visits is drawn where one looks, to its very end', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/visits');
  const rows = page.locator('[data-row]');
  await expect(rows.first()).toBeVisible();
  const newest = await rows.first().getAttribute('href');
  await page.evaluate(() => window.scrollTo(0, document.documentElement.scrollHeight));
  await expect.poll(async () => (await rows.count()) > 0 && (await rows.last().getAttribute('href')) !== newest).toBe(true);
  // However many there are, only some are in the page.
  expect(await rows.count()).toBeLessThan(60);
  const [oldest] = await ask<{ view: string }>(
    `select page_view.id as view from page_view join visit on visit.site_id = page_view.site_id and visit.id = visit_id
      where visit.id = (select id from visit where site_id = (select id from site where key = 'tarnhollowdemo') order by started_at, id desc limit 1)
      order by at desc limit 1`,
  );
  await expect(rows.last()).toHaveAttribute('href', new RegExp(`view=${oldest?.view}$`));
});

test('what is no filter is named and left out, and a filter that nobody meets says so', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/visits?device=fridge&source=email');
  await expect(page.getByText('Left out of the filter', { exact: false })).toContainText('fridge');
  await expect(page.getByText('from email')).toBeVisible();
  await openStudio(page, '/visits?page=/no-such-page&device=phone');
  await expect(page.getByText('No recorded visit meets all of this')).toBeVisible();
  const refused = await page.request.get(`${STUDIO}/api/visits?asOf=soon&device=fridge`);
  expect(refused.status()).toBe(422);
  const { error } = (await refused.json()) as { error: { issues: { path: string[] }[] } };
  expect(error.issues.map(({ path }) => path[0])).toEqual(['asOf', 'device']);
});
