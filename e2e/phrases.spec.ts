import { expect, test } from '@playwright/test';
import { openStudio, signIn, STUDIO } from './stack';

test('a rule is typed phrase by phrase, a phrase is taken out by Delete and comes back by undo', async ({ page }) => {
  await page.clock.install();
  await signIn(page);
  await openStudio(page, '/campaigns');
  // Rehearsed: the screen is at work.
  await expect(page.getByRole('row').nth(1).getByRole('cell').nth(4)).toContainText(/\d/);
  await page.keyboard.press('n');
  await page.waitForURL(/campaigns\/camp_/);
  const sentence = page.getByRole('region', { name: 'The rule as a sentence' });
  await expect(page.getByTestId('sure')).toBeVisible();
  const line = page.getByRole('combobox', { name: 'Type a phrase into the rule' });
  for (const [typed, expected] of [
    ['comparing', /in “Comparing huts”/],
    ['/huts/**', /on \/huts\/\*\*/],
    ['except /huts/closed', /except \/huts\/closed/],
    ['20 s', /stay for 20 s/],
    ['once', /once ever/],
  ] as const) {
    await line.pressSequentially(typed);
    await expect(page.getByRole('option').first()).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(sentence).toContainText(expected);
    await expect(line).toHaveValue('');
  }
  await page.clock.fastForward(1000); // Changes that follow each other closely are undone together.
  await sentence.getByRole('button', { name: /stay for 20 s/ }).focus();
  await page.keyboard.press('Delete');
  await expect(sentence).not.toContainText('stay for 20 s');
  await page.keyboard.press('Control+z');
  await expect(sentence).toContainText('stay for 20 s');
  await expect(page.getByText(/^saved( \d\d:\d\d)?$/)).toBeVisible();
  const gone = await page.request.delete(page.url().replace('/campaigns/', '/api/campaigns/'), { headers: { origin: STUDIO } });
  expect(gone.status()).toBe(200);
});

test('a segment is typed phrase by phrase; a phrase leads to its condition, and Delete takes it out', async ({ page }) => {
  await page.clock.install();
  await signIn(page);
  await openStudio(page, '/segments');
  await page.getByRole('button', { name: 'New segment', exact: true }).first().click();
  await page.waitForURL('**/segments/seg_*');
  const sentence = page.getByRole('region', { name: 'The segment as a sentence' });
  const line = page.getByRole('combobox', { name: 'Type a phrase into the segment' });
  for (const [typed, expected] of [
    ['/routes/**', /viewed \/routes\/\*\*/],
    ['3 visits', /made at least 3 visits/],
  ] as const) {
    await line.pressSequentially(typed);
    await expect(page.getByRole('option').first()).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(sentence).toContainText(expected);
  }
  const visits = sentence.getByRole('button', { name: /made at least 3 visits/ });
  await visits.focus();
  await page.keyboard.press('Enter');
  await expect(
    page
      .getByRole('region', { name: 'Conditions' })
      .getByLabel(/Visits/)
      .first(),
  ).toBeFocused();
  await page.clock.fastForward(1000); // Changes that follow each other closely are undone together.
  await visits.focus();
  await page.keyboard.press('Delete');
  await expect(sentence).not.toContainText('made at least 3 visits');
  await expect(sentence).toContainText('viewed /routes/**');
  await page.keyboard.press('Control+z');
  await expect(sentence).toContainText('made at least 3 visits');
  await expect(page.getByText(/^saved( \d\d:\d\d)?$/)).toBeVisible();
  const gone = await page.request.delete(page.url().replace('/segments/', '/api/segments/'), { headers: { origin: STUDIO } });
  expect(gone.status()).toBe(200);
});
