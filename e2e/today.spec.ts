import { expect, test } from '@playwright/test';
import { signIn, STUDIO, untilAtWork, visit } from './stack';
import { newVisitor } from './visitor';

test('whoever comes to the site appears on Today, with the page they are on and what they do', async ({ page, browser }) => {
  await signIn(page);
  // The root leads on by itself.
  await page.goto(STUDIO);
  await page.waitForURL('**/today');
  await untilAtWork(page);
  await expect(page).toHaveURL(`${STUDIO}/today`);
  await expect(page.getByRole('heading', { name: /on the site now/ })).toBeVisible();
  const shopper = await newVisitor(browser);
  await visit(shopper.page, '/contact');
  const pages = page.getByRole('region', { name: 'Pages they are on' });
  await expect(pages.getByText('/contact')).toBeVisible();
  await shopper.page.evaluate(() => (window as unknown as { crindle: { did: (name: string) => void } }).crindle.did('asked_on_today'));
  const happening = page.getByRole('region', { name: 'As it happens' });
  await expect(happening.getByText('asked_on_today')).toBeVisible();
  // The next page of the same visit, without anything done here.
  await visit(shopper.page, '/');
  await expect(page.getByRole('listitem').filter({ hasText: '2 pages' }).first()).toBeVisible();
  await shopper.context.close();
});

test('a time zone that is none is named, and who is signed out gets no stream', async ({ page, request }) => {
  await signIn(page);
  const refused = await page.request.get(`${STUDIO}/api/today?zone=Mars/Olympus`);
  expect(refused.status()).toBe(422);
  expect(await refused.text()).toContain('Mars/Olympus');
  expect((await request.get(`${STUDIO}/api/live`)).status()).toBe(401);
});
