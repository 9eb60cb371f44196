// Two people at one thing, and what is deleted by mistake.
import { expect, test } from '@playwright/test';
import { madeCampaign } from './board';
import { ask, openStudio, signIn, STUDIO } from './stack';

test('two people who edit the same campaign see each other, and the one who comes later does not overwrite', async ({ page, browser }) => {
  await signIn(page);
  await openStudio(page, '/campaigns/camp_quiet_weeks');
  await expect(page.getByText('this open too')).toBeHidden();
  const jonas = await (await browser.newContext()).newPage();
  await signIn(jonas, 'jonas@tarnhollow.example');
  await openStudio(jonas, '/campaigns/camp_quiet_weeks');
  await expect(jonas.getByText('Ines Rauch has this open too')).toBeVisible();
  await expect(page.getByText('Jonas Weir has this open too')).toBeVisible();

  const name = page.getByLabel('Name of the campaign');
  const before = await name.inputValue();
  await name.fill(`${before}, by Ines`);
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  await expect(page.getByText('A newer version was saved elsewhere')).toBeHidden();
  await expect(jonas.getByText('A newer version was saved elsewhere')).toBeVisible();
  await jonas.getByRole('button', { name: 'Load it' }).click();
  await expect(jonas.getByLabel('Name of the campaign')).toHaveValue(`${before}, by Ines`);

  await jonas.close();
  await expect(page.getByText('Jonas Weir has this open too')).toBeHidden();
  await name.fill(before);
  await expect(page.getByText('saving')).toBeHidden();
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
});

test('a segment that was deleted by mistake comes back whole, from its editor and from the list', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/segments');
  await page.getByRole('button', { name: 'New segment', exact: true }).first().click();
  await page.waitForURL('**/segments/seg_*');
  const id = new URL(page.url()).pathname.split('/').at(-1);
  const stored = () => ask(`select row_to_json(segment)::text as row from segment where id = '${id}'`);
  const name = page.getByLabel('Name of the segment');
  await name.fill('Deleted by mistake');
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  const before = await stored();
  expect(before).toHaveLength(1);

  await page.getByRole('button', { name: 'Delete' }).click();
  await page.waitForURL('**/segments');
  expect(await stored()).toEqual([]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('link', { name: 'Deleted by mistake', exact: true })).toBeVisible();
  expect(await stored()).toEqual(before);

  await page.getByRole('button', { name: 'Actions for Deleted by mistake' }).click();
  await page.getByRole('menuitem', { name: 'Delete' }).click();
  await expect(page.getByRole('link', { name: 'Deleted by mistake', exact: true })).toBeHidden();
  // Long after the note about it has gone.
  await openStudio(page, '/setup/deleted');
  await page.getByRole('button', { name: 'Bring back Deleted by mistake' }).click();
  await expect(page.getByText('“Deleted by mistake” is back')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Bring back Deleted by mistake' })).toBeHidden();
  expect(await stored()).toEqual(before);
  const gone = await page.request.post(`${STUDIO}/api/trash`, { data: { kind: 'segment', id }, headers: { origin: STUDIO } });
  expect([gone.status(), ((await gone.json()) as { error: { message: string } }).error.message]).toEqual([
    404,
    expect.stringContaining('no longer kept'),
  ]);
  await page.request.delete(`${STUDIO}/api/segments/${id}`, { headers: { origin: STUDIO } });
});

test('a copy of a campaign is a draft of its own, with all that the campaign had', async ({ page }) => {
  await signIn(page);
  const id = await madeCampaign(page);
  const [{ name = '' } = {}] = await ask<{ name: string }>(`select name from campaign where id = $1`, [id]);
  await openStudio(page, '/campaigns');
  for (const copy of [`${name}, copy`, `${name}, copy 2`]) {
    await page.getByRole('button', { name: `Actions for ${name}`, exact: true }).click();
    await page.getByRole('menuitem', { name: 'Make a copy' }).click();
    await expect(page.getByRole('link', { name: copy, exact: true })).toBeVisible();
  }
  const all = await ask<{ status: string }>(
    `select other.status from campaign as own join campaign as other on other.name like own.name || ', copy%' and other.rule = own.rule
        and other.flow = own.flow and other.goal = own.goal where own.id = $1`,
    [id],
  );
  expect(all).toEqual([{ status: 'draft' }, { status: 'draft' }]);
});
