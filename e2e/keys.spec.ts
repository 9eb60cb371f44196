import { expect, test } from '@playwright/test';
import { openStudio, signIn, STUDIO, untilAtWork } from './stack';

test('areas, rows and the filter are reached by keys, and typing stays typing', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/today');
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('s');
  await page.waitForURL(`${STUDIO}/segments`);
  const rows = page.locator('[data-row]');
  await expect(rows.first()).toBeVisible();
  await page.keyboard.press('j');
  await expect(rows.nth(0)).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await expect(rows.nth(1)).toBeFocused();
  await page.keyboard.press('k');
  await expect(rows.nth(0)).toBeFocused();
  // What can be done with the row.
  await page.keyboard.press('.');
  await expect(page.getByRole('menuitem', { name: 'Duplicate' })).toBeVisible();
  await page.keyboard.press('Escape');
  await rows.nth(0).focus();
  const href = await rows.nth(0).getAttribute('href');
  await page.keyboard.press('e');
  await page.waitForURL(`${STUDIO}${href}`);

  await openStudio(page, '/visits');
  await page.keyboard.press('/');
  const line = page.getByRole('combobox', { name: 'Filter visits' });
  await expect(line).toBeFocused();
  await page.keyboard.type('gs?');
  await expect(line).toHaveValue('gs?');
  await expect(page).toHaveURL(`${STUDIO}/visits`);
  await page.keyboard.press('Escape');
  await page.locator('h1').click();
  await page.keyboard.press('?');
  const sheet = page.getByRole('dialog', { name: 'Keys' });
  await expect(sheet).toContainText('g c');
  await page.keyboard.press('Escape');
  await expect(sheet).toBeHidden();
});

test('search finds segments, campaigns, pages and actions, from the keyboard alone', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/campaigns');
  await page.keyboard.press('Control+k');
  const field = page.getByRole('combobox', { name: 'Search' });
  await field.fill('comparing');
  await expect(page.getByRole('option').first()).toContainText(/comparing/i);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/segments\/seg_comparing$/);

  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Search' }).fill('/book/pay');
  await page.getByRole('option', { name: '/book/pay' }).first().click();
  await page.waitForURL(/\/visits\?page=%2Fbook%2Fpay$/);
  await expect(page.getByText('saw /book/pay')).toBeVisible();

  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Search' }).fill('dark');
  await page.getByRole('option', { name: 'Use dark colours' }).click();
  const background = () => page.evaluate(() => getComputedStyle(document.documentElement).backgroundColor);
  await expect.poll(background).toBe('rgb(18, 24, 22)');
  await page.reload();
  await untilAtWork(page);
  expect(await background()).toBe('rgb(18, 24, 22)');
  await page.getByRole('button', { name: /, account$/ }).click();
  await page.getByRole('menuitem', { name: 'Light colours' }).click();
  await expect.poll(background).toBe('rgb(246, 247, 244)');
});

test('the guide leads through the job, remembers where it stood, and stays away once left', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/today');
  const guide = page.getByRole('region', { name: 'Guide' });
  await expect(guide).toContainText('1 of 6');
  await guide.getByRole('button', { name: 'Next' }).click();
  await guide.getByRole('link', { name: 'Go to Visits' }).click();
  await page.waitForURL(`${STUDIO}/visits`);
  await page.reload();
  await untilAtWork(page);
  await expect(guide).toContainText('2 of 6');
  await guide.getByRole('button', { name: 'Leave the guide' }).click();
  await expect(guide).toBeHidden();
  await page.reload();
  await untilAtWork(page);
  await expect(page.getByRole('heading', { name: 'Visits' })).toBeVisible();
  await expect(guide).toBeHidden();
  await page.getByRole('button', { name: /, account$/ }).click();
  await page.getByRole('menuitem', { name: 'Guide' }).click();
  await expect(guide).toContainText('1 of 6');
});
