import { expect, test } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { madeCampaign } from './board';
import { ask, openStudio, signIn, STUDIO } from './stack';

test('a rule is typed phrase by phrase, a phrase is taken out by Delete and comes back by undo', async ({ page }) => {
  await page.clock.install();
  await signIn(page);
  // Offers that change places while somebody types on: in whichever order these are kept, "zeta… hut" is not the first of "zeta…".
  const zetas: string[] = [];
  const word = `zeta${randomUUID().replace(/[^a-f]/g, '')}`;
  for (const name of [`${word} walk to a hut`, `${word} hut`, `${word} lake and hut`]) zetas.push(await madeCampaign(page, { name }));
  await openStudio(page, '/campaigns');
  // Rehearsed: the screen is at work.
  await expect(page.getByRole('row').nth(1).getByRole('cell').nth(4)).toContainText(/\d/);
  await page.keyboard.press('n');
  await page.waitForURL(/campaigns\/camp_/);
  const sentence = page.getByRole('region', { name: 'The rule as a sentence' });
  await expect(page.getByTestId('sure')).toBeVisible();
  const line = page.getByRole('combobox', { name: 'Type a phrase into the rule' });
  for (const [typed, expected] of [
    ['comparing huts', /in “Comparing huts”/],
    ['/huts/**', /on \/huts\/\*\*/],
    ['except /huts/closed', /except \/huts\/closed/],
    ['20 s', /stay for 20 s/],
    ['once', /once ever/],
    [`${word} hut`, `shown “${word} hut”`],
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
  for (const id of [page.url().replace(/.*\//, ''), ...zetas]) {
    const gone = await page.request.delete(`${STUDIO}/api/campaigns/${id}`, { headers: { origin: STUDIO } });
    expect(gone.status()).toBe(200);
  }
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

test('a rule’s people become a segment, which is opened out again with who else uses it named', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/campaigns/camp_quiet_weeks');
  const sentence = page.getByRole('region', { name: 'The rule as a sentence' });
  const words = () => sentence.getByRole('paragraph').first().innerText();
  const before = await words();
  await sentence.getByRole('button', { name: /Comparing huts/ }).click();
  const people = page.getByRole('region', { name: 'People' });
  await people.getByRole('button', { name: 'open it out' }).click();
  const says = people.getByRole('group', { name: 'What “Comparing huts” says' });
  await expect(says).toContainText('People who viewed /huts/* at least 2 times.');
  await expect(says).toContainText(/too\. Written out, its conditions are changed here alone|Nothing else uses the segment/);
  await says.getByRole('button', { name: 'Write its conditions here' }).click();
  await expect(sentence).toContainText('Show it to people who viewed /huts/* at least 2 times in the last 30 days, on');
  const asSegment = page.waitForResponse((response) => response.url().endsWith('/api/segments') && response.request().method() === 'POST');
  await people.getByRole('button', { name: 'Save these people as a segment' }).click();
  const { id } = (await (await asSegment).json()) as { id: string };
  await expect(sentence).toContainText('people who are in “Viewed /huts/* at least 2 times, last 30 days”');
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  expect(await ask(`select lookback, people from segment where id = $1`, [id])).toEqual([
    { lookback: 540, people: { kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }], times: { min: 2 }, within: 30 } },
  ]);
  // It stays the segment of its name after the screen is loaded anew, and says that this campaign uses it.
  await page.reload();
  await expect(sentence).toContainText('people who are in “Viewed /huts/* at least 2 times, last 30 days”');
  await openStudio(page, `/segments/${id}`);
  await expect(page.getByText('Used by Quiet weeks.')).toBeVisible();
  // As it was before.
  await ask(
    `update campaign set rule = jsonb_set(rule, '{people}', '{"kind":"segment","id":"seg_comparing"}') where id = 'camp_quiet_weeks'`,
  );
  await ask(`delete from segment where id = $1`, [id]);
  await openStudio(page, '/campaigns/camp_quiet_weeks');
  expect(await words()).toBe(before);
});

test('what stands out in a segment is named under its sentence, and fixed there', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/segments/seg_readers');
  const sentence = page.getByRole('region', { name: 'The segment as a sentence' });
  const line = page.getByRole('combobox', { name: 'Type a phrase into the segment' });
  await expect(page.getByRole('region', { name: 'Conditions' })).toHaveCount(0);
  for (const country of ['Austria', 'Germany']) {
    await line.fill(`from ${country}`);
    await page
      .getByRole('option', { name: country === 'Austria' ? /countries AT/ : /countries DE/ })
      .first()
      .click();
  }
  const found = page.getByRole('list', { name: 'What stands out' });
  await expect(found).toContainText(
    'are in countries AT / are in countries DE: It can never hold anybody. The two have nothing in common.',
  );
  await found.getByRole('button', { name: 'Take it out' }).click();
  await expect(found).toHaveCount(0);
  await expect(sentence).not.toContainText('countries DE');
  await sentence.getByRole('button', { name: /countries AT/ }).focus();
  await page.keyboard.press('Delete');
  await expect(sentence).toContainText('People who viewed /routes/** at least 2 times, looking back 30 days.');
  // The lookback is a phrase, too: it leads to its field, and lets go again.
  await sentence.getByRole('button', { name: 'looking back 30 days' }).click();
  await expect(page.getByLabel('Lookback in days')).toBeFocused();
  await sentence.getByRole('button', { name: 'looking back 30 days' }).click();
  await expect(page.getByRole('region', { name: 'Conditions' })).toHaveCount(0);
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
});
