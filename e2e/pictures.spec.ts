// A picture on its way from a file into a message, onto the site, and out of everywhere.
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import sharp from 'sharp';
import { drawn, flowOf, message, newCampaign, putIn, saved } from './board';
import { COLLECTOR, openStudio, signIn } from './stack';
import { newVisitor } from './visitor';

test('a picture is taken in, shown on the site under a strict policy, and whatever is none is refused in words', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const id = await newCampaign(page);
  await putIn(page, 'ask', 'Put something in before “Heading”', 'Picture');
  await message(page, 'ask').getByRole('button', { name: 'Picture', exact: true }).focus();
  await page.getByRole('button', { name: 'What this is: Picture' }).click();
  const file = page.getByLabel(/Drop, paste or pick a picture/);
  for (const [name, bytes, words] of [
    [
      'drawing.svg',
      '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><script>alert(1)</script></svg>',
      'An SVG may hold programs',
    ],
    ['named.png', 'not a picture at all', 'The file is not a picture that can be read'],
  ] as const) {
    await file.setInputFiles({ name, mimeType: 'image/png', buffer: Buffer.from(bytes) });
    await expect(page.getByRole('alert').filter({ hasText: words })).toBeVisible();
  }
  // By its path: all of it would take a minute on its way to the browser.
  const huge = join(mkdtempSync(join(tmpdir(), 'pictures-')), 'huge.jpg');
  writeFileSync(huge, Buffer.alloc(49 * 1024 * 1024));
  await file.setInputFiles(huge);
  await expect(page.getByRole('alert').filter({ hasText: 'huge.jpg has 49.0 MB; at most 5 MB are taken' })).toBeVisible();
  const drawing = await sharp({ create: { width: 1200, height: 300, channels: 3, background: '#0b5d4e' } })
    .png()
    .toBuffer();
  await file.setInputFiles({ name: 'moss.png', mimeType: 'image/png', buffer: drawing });
  await expect(page.getByRole('list', { name: 'Pictures of the site' }).getByRole('img', { name: 'moss.png' })).toBeVisible();
  const image = drawn(page, 'ask').locator('img');
  await expect.poll(() => image.evaluate((element) => (element as HTMLImageElement).naturalWidth)).toBe(1200);
  await saved(page);
  const [block] = ((await flowOf(id))?.messages[0]?.['blocks'] ?? []) as { src: string; width: number; height: number }[];
  expect(block).toMatchObject({ width: 800, height: 200 });
  expect(block?.src).toMatch(/^http:\/\/[\w.:]+\/i\/tarnhollowdemo\/[\w-]{22}\.webp$/);
  expect(block?.src.startsWith(COLLECTOR)).toBe(true);

  // On a page of another origin that allows the collector, and nothing else.
  const { context, page: site } = await newVisitor(browser);
  await context.route('http://strict.example/', (route) =>
    route.fulfill({
      contentType: 'text/html',
      headers: { 'content-security-policy': `default-src 'none'; img-src ${COLLECTOR}` },
      body: `<img src="${block?.src}" alt="">`,
    }),
  );
  const served = site.waitForResponse(block?.src ?? '');
  await site.goto('http://strict.example/');
  expect((await served).headers()).toMatchObject({
    'content-type': 'image/webp',
    'cache-control': 'public, max-age=31536000, immutable',
    'cross-origin-resource-policy': 'cross-origin',
    'x-content-type-options': 'nosniff',
  });
  await expect.poll(() => site.locator('img').evaluate((element) => (element as HTMLImageElement).naturalWidth)).toBe(1200);
  for (const path of [
    '/i/tarnhollowdemo/nothing.webp',
    '/i/nosuchsite/AAAAAAAAAAAAAAAAAAAAAA.webp',
    '/i/tarnhollowdemo/AAAAAAAAAAAAAAAAAAAAAA.webp',
  ])
    expect((await fetch(COLLECTOR + path)).status).toBe(404);
  await context.close();

  // In the library stands where it is used, and it is replaced wherever that is.
  await openStudio(page, '/setup/pictures');
  const other = await sharp({ create: { width: 640, height: 320, channels: 3, background: '#b0322d' } })
    .png()
    .toBuffer();
  await page
    .getByRole('region', { name: 'Bring a picture in' })
    .getByLabel(/Drop, paste or pick a picture/)
    .setInputFiles({ name: 'rust.png', mimeType: 'image/png', buffer: other });
  await expect(page.getByText('rust.png is in the library')).toBeVisible();
  await page.getByLabel('Search pictures').fill('MOSS.p');
  const row = page.getByRole('row').filter({ hasText: 'moss.png' });
  await row.getByRole('button', { name: 'Replace moss.png everywhere' }).click();
  await page.getByRole('list', { name: 'Pictures of the site' }).last().getByRole('button', { name: 'rust.png' }).click();
  await expect(page.getByText('Replaced in 1 campaign; visitors see it with the next release')).toBeVisible();
  await expect(row).toContainText('nothing yet');
  const [replaced] = ((await flowOf(id))?.messages[0]?.['blocks'] ?? []) as { src: string; width: number; height: number }[];
  expect(replaced?.src).not.toBe(block?.src);
  // As wide as the one before, in its own proportions.
  expect(replaced).toMatchObject({ width: 800, height: 400 });
});
