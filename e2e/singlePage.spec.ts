// The demo site's single-page build: the same pages under /app/, without a document ever being loaded again.
import { expect, test } from '@playwright/test';
import { open, release, visitorOf } from './release';
import { ask, SITE } from './stack';
import { settled } from './visitor';

const KEY = 'singlepagesite';

test('each step through the single-page build is a page view, with the title and labels of its page, and its own rules', async ({
  browser,
}) => {
  await release(KEY, [
    {
      id: 'huts',
      rule: {
        pages: { on: [{ op: 'like', value: '/app/huts/*' }] },
        moment: { kind: 'delay', seconds: 1 },
        pacing: { again: 'always', stop: { converted: false } },
      },
      messages: [
        {
          id: 'm',
          format: 'banner',
          edge: 'bottom',
          closes: { button: true, escape: true },
          blocks: [{ kind: 'text', text: 'Bring a torch' }],
        },
      ],
    },
  ]);
  const { page, close } = await visitorOf(browser, KEY);
  await page.clock.install();
  await open(page, '/app/');
  await page.evaluate(() => ((window as unknown as { same: boolean }).same = true));
  const banner = page.getByText('Bring a torch');
  await page.getByRole('link', { name: 'Our huts' }).click();
  await expect(page).toHaveTitle(/Our huts/);
  await page.clock.runFor(1500);
  await settled(page);
  await expect(banner).toHaveCount(0);
  await page.getByRole('link', { name: /Upper Moss/ }).click();
  await expect(banner).toBeVisible();
  await page.getByRole('link', { name: 'Routes', exact: true }).click();
  // What was shown on a page that is gone goes with it.
  await expect(banner).toHaveCount(0);
  await page.goBack();
  await expect(banner).toBeVisible();
  expect(await page.evaluate(() => (window as unknown as { same?: boolean }).same)).toBe(true);

  const browserId = await page.evaluate(
    (key) => (JSON.parse(localStorage.getItem(`crindle:${key}:state`) ?? '{}') as { browser: string }).browser,
    KEY,
  );
  await page.goto('about:blank');
  const views = () =>
    ask<{ path: string; title: string; labels: string[]; visits: number }>(
      `select replace(url, $2, '') as path, title, labels, count(*) over (partition by visit_id)::int as visits
         from page_view join visitor on visitor.site_id = page_view.site_id and visitor.id = visitor_id
        where browser_id = $1 order by page_view.at`,
      [browserId, SITE],
    );
  await expect.poll(async () => (await views()).length).toBe(5);
  expect((await views()).map(({ path, title, labels }) => `${path} ${title.split(' ·')[0]} ${labels[0]}`)).toEqual([
    '/app/ Tarnhollow Huts home',
    '/app/huts Our huts huts',
    '/app/huts/upper-moss Upper Moss hut',
    '/app/routes Routes routes',
    '/app/huts/upper-moss Upper Moss hut',
  ]);
  await close();
});
