// For any visitor and any instant: why a message did or did not show.
import { expect, test } from '@playwright/test';
import { ask, openStudio, signIn, STUDIO } from './stack';

test('at the instant of a showing the campaign shows, a moment before it says what was missing', async ({ page }) => {
  const [showing] = await ask<{ visitor: number; view: string; name: string; t: number }>(
    `select showing.visitor_id as visitor, view_id as view, campaign.name, (ms(showing.at) - ms(page_view.at))::float8 as t
       from showing join campaign on campaign.id = campaign_id and campaign.site_id = showing.site_id
       join page_view on page_view.site_id = showing.site_id and page_view.id = view_id
       join site on site.id = showing.site_id
      where shown and not opened and site.key = 'tarnhollowdemo' and campaign.status = 'live' and campaign.id = 'camp_packing'
        and showing.at - page_view.at > interval '5 seconds' order by showing.at desc limit 1`,
  );
  if (!showing) throw new Error('The demo has no showing to explain');
  await signIn(page);
  await page.goto(`${STUDIO}/visitors/${showing.visitor}?view=${showing.view}&t=${showing.t}`);
  const why = page.getByRole('region', { name: 'Why, at this instant' });
  await expect(why.getByText(`${showing.name} showed`)).toBeVisible();
  const campaign = why.getByRole('listitem').filter({ hasText: showing.name });
  await expect(campaign.getByText('shows at this instant')).toBeVisible();
  await expect(campaign.getByText('It showed in this page view.')).toBeVisible();

  // The tree unfolds, each leaf with what was found.
  await campaign.getByRole('button', { name: showing.name }).press('Enter');
  await expect(campaign.getByText('moment', { exact: true })).toBeVisible();
  await expect(campaign.getByText(/engaged for 20 s/).first()).toBeVisible();

  // Back to the opening of the page by keyboard: the moment had not come.
  const slider = page.getByRole('slider').filter({ has: page.locator('span.bg-ink') });
  await slider.focus();
  for (let tries = 0; tries < 60 && !(await why.getByText('opened', { exact: true }).isVisible()); tries++)
    await page.keyboard.press('ArrowLeft');
  await expect(campaign.getByText(/is not so/)).toBeVisible();
  await expect(campaign.locator('.phrase-moment').first()).toBeVisible();
});

test('a visit is told page by page beside the reasons, however few there are', async ({ page }) => {
  const [visitor] = await ask<{ id: number; views: number; path: string }>(
    `select visitor_id as id, count(*)::int as views, min(substring(url from '^https?://[^/]+([^?#]*)')) as path from page_view
      where site_id = (select id from site where key = 'tarnhollowdemo')
        and exists (select from signal_piece where view_id = page_view.id and signals::text like '%"s": "click"%')
      group by visitor_id having count(distinct visit_id) = 1 and count(*) = 1 order by 1 limit 1`,
  );
  if (!visitor) throw new Error('The demo has nobody with one clicked page');
  await signIn(page);
  await openStudio(page, `/visitors/${visitor.id}`);
  const pages = page.getByRole('region', { name: 'The visit, page by page' });
  await expect(pages.getByText(visitor.path, { exact: true }).first()).toBeVisible();
  await expect(pages.getByText(/engaged \d+:\d\d · scrolled \d+ %/).first()).toBeVisible();
  const clicked = pages.getByRole('button', { name: /clicked/ }).first();
  await clicked.click();
  await expect(clicked).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('region', { name: 'Why, at this instant' }).getByText('clicked', { exact: true })).toBeVisible();
});

test('a visitor or a page view that is not there is told', async ({ page }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/visitors/99999999`);
  await expect(page.getByText(/not here|nothing here|not found/i).first()).toBeVisible();
  const answer = await page.request.get(`${STUDIO}/api/visitors/1/why?view=019a0000-0000-7000-8000-000000000000&t=0`);
  expect(answer.status()).toBe(404);
  const bad = await page.request.get(`${STUDIO}/api/visitors/1/why?view=none&t=-1`);
  expect(bad.status()).toBe(422);
  expect(((await bad.json()) as { error: { message: string } }).error.message).toMatch(/view: .*; t: /);
});
