import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { openStudio, signIn, STUDIO, untilAtWork } from './stack';
import { drawn } from './visitor';

const json = (value: unknown) => ({ name: 'file.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(value)) });

test('a page set shows what it matches and nearly matches as it is typed, is saved, and is refused to go while it is used', async ({
  page,
}) => {
  await page.clock.install();
  await signIn(page);
  await openStudio(page, '/setup/page-sets');
  await page.getByRole('button', { name: 'New page set' }).click();
  await page.waitForURL(/page-sets\/set_/);
  await page.getByLabel('Name of the page set').fill('Hut pages of the test');
  await page.getByRole('combobox', { name: 'Page 1', exact: true }).fill('/huts');
  await expect(page.getByRole('heading', { name: /^1 recorded page matches/ })).toBeVisible();
  const near = page.getByRole('region', { name: 'Nearly' });
  await expect(near).toContainText('below a page that is named');
  // Changes that follow each other closely are undone together.
  await page.clock.fastForward(1000);
  const first = (await near.getByRole('button').first().getAttribute('aria-label')) ?? '';
  await near.getByRole('button').first().click();
  await expect(page.getByRole('heading', { name: /^2 recorded pages match/ })).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Page 2', exact: true })).toHaveValue(first.replace('Add ', ''));
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('heading', { name: /^1 recorded page matches/ })).toBeVisible();
  await expect(page.getByText(/^saved( \d\d:\d\d)?$/)).toBeVisible();
  await page.reload();
  await untilAtWork(page);
  await expect(page.getByLabel('Name of the page set')).toHaveValue('Hut pages of the test');
  await page.getByRole('button', { name: 'Delete' }).click();
  await page.waitForURL(`${STUDIO}/setup/page-sets`);
  await expect(page.getByRole('link', { name: 'Hut pages of the test' })).toBeHidden();

  const used = await page.request.delete(`${STUDIO}/api/page-sets/set_booking`, { headers: { origin: STUDIO } });
  expect(used.status()).toBe(409);
  expect(await used.text()).toContain('It is used by');
});

test('a place is made around a town, drawn on the map, undone, and says who is there', async ({ page }) => {
  await page.clock.install();
  await signIn(page);
  await openStudio(page, '/setup/places');
  await page.getByRole('button', { name: 'New place' }).click();
  await page.waitForURL(/places\/place_/);
  const who = page.getByRole('region', { name: 'Who is there' });
  // Counted: the screen is at work.
  await expect(who).toContainText('whose location is known');
  await page.getByRole('combobox', { name: 'Town' }).pressSequentially('munich');
  await expect(page.getByRole('option', { name: /Munich.*DE/ })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(who).toContainText('a circle of 30 km around 48.14° N');
  await page.getByLabel('Radius in kilometres').fill('2');
  await expect(who).toContainText('Smaller than the location is exact');
  await page.getByLabel('Radius in kilometres').fill('60');
  await expect(who).not.toContainText('Smaller than');
  const count = async (): Promise<number> => Number(((await who.locator('b').textContent()) ?? '').replace(/\D/g, ''));
  await expect.poll(count).toBeGreaterThan(0);
  await page.clock.fastForward(1000); // Changes that follow each other closely are undone together.

  // By hand: an area of three corners instead of the circle.
  const map = page.getByRole('application', { name: 'Map of the place' });
  await expect(map.locator('path').first()).toBeAttached();
  await page.getByRole('button', { name: 'Draw an area' }).click();
  const box = await map.boundingBox();
  if (!box) throw new Error('The map has no place');
  const corners = [
    [100, 100],
    [400, 120],
    [250, 300],
    [100, 100],
  ] as const;
  for (const [x, y] of corners) {
    await page.mouse.move(box.x + x, box.y + y, { steps: 4 });
    await page.mouse.click(box.x + x, box.y + y);
    await drawn(page);
  }
  await expect(who).toContainText('an area of 3 corners');
  await page.getByText('As GeoJSON').click();
  await expect(page.getByLabel('The shape as GeoJSON')).toHaveValue(/"Polygon"/);
  await page
    .getByLabel('The shape as GeoJSON')
    .fill('{"type":"Feature","geometry":{"type":"Polygon","coordinates":[[[0,0],[1,1],[1,0],[0,1],[0,0]]]}}');
  await page.getByRole('button', { name: 'Use this shape' }).click();
  await expect(page.getByText(/edges do not cross/)).toBeVisible();
  await page.getByLabel('The shape as GeoJSON').blur();
  await page.keyboard.press('Control+z');
  await expect(who).toContainText('a circle of 60 km');
  await expect(page.getByText(/^saved( \d\d:\d\d)?$/)).toBeVisible();
  await page.getByRole('button', { name: 'Delete' }).click();
  await page.waitForURL(`${STUDIO}/setup/places`);
});

test('places go out as GeoJSON and come in again, and a file with a mistake brings nothing', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/setup/places');
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Take out GeoJSON' }).click();
  const taken = JSON.parse(readFileSync(await (await download).path(), 'utf8')) as { features: { properties: { name: string } }[] };
  expect(taken.features.length).toBeGreaterThan(0);
  const before = await page.locator('[data-row]').count();
  const renamed = {
    ...taken,
    features: taken.features.map((feature, index) => ({ ...feature, properties: { ...feature.properties, name: `Come in ${index}` } })),
  };
  await page.getByLabel('Bring in GeoJSON, file').setInputFiles(json(renamed));
  await expect(page.locator('[data-row]')).toHaveCount(before + taken.features.length);
  // The same names again are refused whole.
  await page.getByLabel('Bring in GeoJSON, file').setInputFiles(json(renamed));
  await expect(page.getByText(/Nothing of file\.json was brought in.*already called “Come in 0”/)).toBeVisible();
  await page
    .getByLabel('Bring in GeoJSON, file')
    .setInputFiles(json({ type: 'FeatureCollection', features: [{ type: 'Feature', geometry: { type: 'LineString' } }] }));
  await expect(page.getByText(/LineString/)).toBeVisible();
  await expect(page.locator('[data-row]')).toHaveCount(before + taken.features.length);
  for (let index = 0; index < taken.features.length; index++) {
    await page.getByRole('link', { name: `Come in ${index}` }).click();
    await page.getByRole('button', { name: 'Delete' }).click();
    await page.waitForURL(`${STUDIO}/setup/places`);
  }
});

test('segments are duplicated, taken out and brought in with what they name, and compared with each other', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/segments/seg_comparing');
  await expect(page.getByText(/of them (is|are) live: a change here reaches visitors with the next release/)).toBeVisible();
  const name = await page.getByLabel('Name of the segment').inputValue();
  await page.getByRole('button', { name: 'Duplicate' }).click();
  await page.waitForURL((url) => !url.pathname.endsWith('seg_comparing'));
  await expect(page.getByLabel('Name of the segment')).toHaveValue(`${name} copy`);
  const copy = page.url().split('/').at(-1) ?? '';
  const overlap = page.getByRole('region', { name: 'Overlap with other segments' });
  await expect(overlap.getByRole('listitem').first()).toContainText('100 %');

  const [taken] = (await (await page.request.get(`${STUDIO}/segments.json?id=${copy}`)).json()) as [Record<string, unknown>];
  const other = {
    ...taken,
    id: 'other',
    name: 'Names the other',
    people: {
      all: [
        { kind: 'segment', id: copy },
        { kind: 'segment', id: 'seg_members' },
      ],
    },
  };
  const post = (data: unknown) => page.request.post(`${STUDIO}/api/segments/import`, { data, headers: { origin: STUDIO } });
  const answered = await post([other, taken]);
  expect(answered.status()).toBe(200);
  const { segments } = (await answered.json()) as { segments: { id: string; name: string }[] };
  expect(segments.map((one) => one.name)).toEqual([`${name} copy 2`, 'Names the other']);
  const [stored] = (await (await page.request.get(`${STUDIO}/segments.json?id=${segments[1]?.id}`)).json()) as [typeof other];
  // The one that came along under its new id, the one that was here under its old.
  expect(stored.people.all.map(({ id }) => id)).toEqual([segments[0]?.id, 'seg_members']);
  const refused = await post({ ...other, name: 'Third', people: { kind: 'segment', id: 'seg_nowhere' } });
  expect(refused.status()).toBe(422);
  expect(await refused.text()).toContain('seg_nowhere');
  const circle = await post([
    { ...taken, id: 'a', name: 'A', people: { kind: 'segment', id: 'b' } },
    { ...taken, id: 'b', name: 'B', people: { kind: 'segment', id: 'a' } },
  ]);
  expect(circle.status()).toBe(422);

  await openStudio(page, '/segments/overlap');
  await expect(page.getByRole('rowheader', { name: `${name} copy`, exact: false }).first()).toBeVisible();
  for (const id of [segments[1]?.id, segments[0]?.id, copy]) {
    const gone = await page.request.delete(`${STUDIO}/api/segments/${id}`, { headers: { origin: STUDIO } });
    expect(gone.status()).toBe(200);
  }
});
