// Every condition of the rule language can be added, filled in and saved.
import type { Locator, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { ask, openFamily, signIn, STUDIO, takeFrom } from './stack';

async function newCampaign(page: Page): Promise<string> {
  await signIn(page);
  await page.goto(`${STUDIO}/campaigns`);
  await page.getByRole('button', { name: 'New campaign', exact: true }).click();
  await page.waitForURL('**/campaigns/camp_*');
  return page.url().split('/').at(-1) ?? '';
}

async function addAll(page: Page, region: Locator): Promise<number> {
  const add = region.getByRole('button', { name: 'Add a condition' }).last();
  await add.click();
  const names = (await page.getByRole('menuitem').allTextContents()).filter((name) => !name.startsWith('A group'));
  await page.keyboard.press('Escape');
  for (const name of names) {
    await takeFrom(page, add, name);
  }
  return names.length;
}

const kindsIn = (rule: object): string[] =>
  [...new Set([...JSON.stringify(rule).matchAll(/"kind":"(\w+)"/g)].map(([, kind]) => kind ?? ''))].sort();

test('every people condition', async ({ page }) => {
  const id = await newCampaign(page);
  await openFamily(page, 'People who');
  const people = page.getByRole('region', { name: 'People' });
  expect(await addAll(page, people)).toBe(23);
  // What is missing is named, and nothing is saved over it.
  await expect(page.getByText(/rule\.people\.all\.\d+\.(id|campaign): met ""/)).toBeVisible();
  // What the site has recorded most is there already.
  await expect(people.getByLabel('Tag')).not.toHaveValue('');
  await people.getByLabel('Tag').fill('family');
  await people.getByLabel('Segment').selectOption({ index: 1 });
  await people.getByLabel('Campaign').selectOption({ index: 1 });
  await people.getByLabel('Cookie').fill('seen');
  await people.getByLabel('Add a test of the source').selectOption('utm_campaign');
  await people.getByLabel('utm_campaign', { exact: true }).fill('first-snow');
  await people.getByLabel('Add to the location').selectOption('cities');
  await people.getByLabel('cities', { exact: true }).fill('Graz, Munich');
  await people.getByRole('button', { name: 'with a property' }).click();
  await people.getByLabel('Property 1', { exact: true }).fill('nights');
  await people.getByLabel('Property 1, value, how').selectOption('range');
  await people.getByRole('button', { name: 'between some hours' }).click();
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  const [stored] = await ask<{ rule: { people: object } }>('select rule from campaign where id = $1', [id]);
  expect(kindsIn(stored?.rule.people ?? {})).toHaveLength(23);
  await page.reload();
  await openFamily(page, 'People who');
  await expect(people.getByLabel('cities', { exact: true })).toHaveValue('Graz, Munich');
  await expect(people.getByLabel('Property 1', { exact: true })).toHaveValue('nights');
});

test('every moment, and all of pacing', async ({ page }) => {
  const id = await newCampaign(page);
  await openFamily(page, 'Moment when');
  expect(await addAll(page, page.getByRole('region', { name: 'Moment' }))).toBe(11);
  await openFamily(page, 'Pacing how often');
  const pacing = page.getByRole('region', { name: 'Pacing' });
  await pacing.getByLabel('How often').selectOption('each');
  await pacing.getByLabel('stop once they have converted').uncheck();
  await pacing.getByLabel(/only if nothing else/).check();
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  const [stored] = await ask<{ rule: { moment: object; pacing: object } }>('select rule from campaign where id = $1', [id]);
  expect(kindsIn(stored?.rule.moment ?? {})).toHaveLength(11);
  expect(stored?.rule.pacing).toMatchObject({ again: 'each', stop: { converted: false }, alone: true });
});
