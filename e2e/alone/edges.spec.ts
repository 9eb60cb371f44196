// Where messages stand in pages of any make: banners that push, tabs at their edge, and what waits behind a page's own dialog.
import { expect, test } from '@playwright/test';
import type { Release, ReleasedCampaign } from '../../src/core/release/release';
import { settled } from '../visitor';
import { campaignOf, CLOSES, EMAIL_FORM, emptyRelease, enter, openShop, SHOP, showings } from './shop';

const TALL = '<main style="height:3000px"><h1>Shop</h1></main>';

const form = campaignOf(
  'form',
  { id: 'form', format: 'popup', dim: false, closes: CLOSES, blocks: [{ kind: 'heading', text: 'Hello' }, EMAIL_FORM] },
  0.2,
);
const releaseOf = (...campaigns: ReleasedCampaign[]): Release => ({ ...emptyRelease, campaigns, budget: { gapSeconds: 1 } });

const pushing = campaignOf(
  'push',
  { id: 'push', format: 'banner', edge: 'top', pushes: true, closes: CLOSES, blocks: [{ kind: 'text', text: 'Pushed' }] },
  0.1,
);
const BODIES: Readonly<Record<string, { head: string; body: string; under?: string }>> = {
  'a body that is a flex row': { head: '<style>body{display:flex;margin:0}aside{width:200px}</style>', body: `<aside>Menu</aside>${TALL}` },
  'a body that is a grid': {
    head: '<style>body{display:grid;grid-template-columns:1fr 3fr;margin:0}</style>',
    body: `<aside>Menu</aside>${TALL}`,
  },
  'a header that stays at the top': {
    head: '<style>body{margin:0;padding-top:64px}header{position:fixed;inset:0 0 auto;height:64px;background:#ddd;z-index:9999}</style>',
    body: `<header>Always here</header>${TALL}`,
    under: 'header',
  },
  'a header that stays and lets clicks through': {
    head: '<style>body{margin:0;padding-top:64px}.TopNav{position:fixed;inset:0 0 auto;height:64px;background:#ddd;z-index:9999;pointer-events:none}</style>',
    body: `<div class="TopNav">Always here</div>${TALL}`,
    under: '.TopNav',
  },
};
for (const [what, { head, body, under }] of Object.entries(BODIES))
  test(`in ${what} a banner pushes the page down across its whole width, in sight, and can be closed`, async ({ browser }) => {
    const shop = await openShop(browser, { '/': { head, body } });
    shop.release = releaseOf(pushing);
    await shop.page.goto(SHOP);
    const top = () => shop.page.locator('main h1').evaluate((element) => element.getBoundingClientRect().top);
    const banner = shop.page.locator('[data-crindle] .banner');
    await expect(banner).toBeVisible();
    const { y = 0, width = 0, height = 0 } = (await banner.boundingBox()) ?? {};
    expect(width).toBeGreaterThan(1200);
    expect(y).toBe(under ? 64 : 0);
    const pushed = await top();
    await banner.getByRole('button', { name: 'Close' }).click();
    await expect(banner).toHaveCount(0);
    expect(Math.abs(pushed - height - (await top()))).toBeLessThan(2);
    await shop.context.close();
  });

test('what stands far down in the page is met at once, and is in sight once half of it is scrolled to', async ({ browser }) => {
  const shop = await openShop(browser, {
    '/': { head: '', body: `${TALL}<div data-crindle-slot="offer"></div><div style="height:2000px"></div>` },
  });
  const blocks = [{ kind: 'text' as const, text: 'Offer' }];
  const inset = campaignOf('inset', { id: 'inset', format: 'inset', into: { slot: 'offer' }, closes: { button: true }, blocks }, 0);
  shop.release = releaseOf({ ...inset, place: 'slot:offer' });
  const { page } = shop;
  await page.goto(SHOP);
  await expect(page.locator('[data-crindle] .inset')).toHaveText(/Offer/);
  await expect
    .poll(() => showings(shop).map(({ campaign, shown, unseen }) => ({ campaign, shown, unseen })))
    .toEqual([{ campaign: 'inset', shown: true, unseen: true }]);
  const sights = () => shop.items.filter((item) => item.kind === 'sight');
  const bottom = await page.locator('[data-crindle] .inset').evaluate((box) => box.getBoundingClientRect());
  // Its edge alone is not it.
  await page.evaluate((y) => scrollTo(0, y), bottom.top + bottom.height / 4 - 800);
  await settled(page);
  await page.evaluate(() => dispatchEvent(new Event('pagehide')));
  expect(sights()).toEqual([]);
  await page.evaluate((y) => scrollTo(0, y), bottom.top + (bottom.height * 3) / 4 - 800);
  await expect.poll(sights).toEqual([{ kind: 'sight', showing: showings(shop)[0]?.id }]);
  // Once is enough.
  await page.evaluate(() => scrollTo(0, 0));
  await settled(page);
  await page.evaluate((y) => scrollTo(0, y), bottom.top);
  await settled(page);
  expect(sights()).toHaveLength(1);
  await shop.context.close();
});

const END = '<p id="end" style="margin:0">The end</p>';
const ENDS: Readonly<Record<string, { body: string; covers: boolean }>> = {
  'a long page': { body: `${TALL}${END}`, covers: false },
  'a page that runs over its body': {
    body: `<style>html,body{height:100%;margin:0}</style>${TALL}${END}`,
    covers: true,
  },
};
for (const [what, { body, covers }] of Object.entries(ENDS))
  test(`at the bottom of ${what} a banner that pushes is in sight at once, and covers its end only where nothing can be pushed`, async ({
    browser,
  }) => {
    const shop = await openShop(browser, { '/': { body } });
    const [message] = pushing.flow.messages;
    shop.release = releaseOf({ ...campaignOf('push', { ...message, edge: 'bottom' } as never, 0.1), place: 'bottom' });
    await shop.page.goto(SHOP);
    const banner = shop.page.locator('[data-crindle] .banner');
    await expect(banner).toBeInViewport({ ratio: 1 });
    const bottom = () => banner.evaluate((element) => Math.round(element.getBoundingClientRect().bottom));
    expect(await bottom()).toBe(800);
    await shop.page.evaluate(() => scrollTo(0, 1e6));
    expect(await bottom()).toBe(800);
    const [over, top] = await Promise.all([
      shop.page.locator('#end').evaluate((element) => element.getBoundingClientRect().bottom),
      banner.evaluate((element) => element.getBoundingClientRect().top),
    ]);
    expect(over > top + 1).toBe(covers);
    await shop.context.close();
  });

for (const [dir, edges] of Object.entries({ ltr: { start: 0, end: 1280 }, rtl: { start: 1280, end: 0 } }))
  test(`a tab stands at the middle of its edge where the page is written ${dir}`, async ({ browser }) => {
    const shop = await openShop(browser, { '/': { body: `<script>document.documentElement.dir = '${dir}'</script>${TALL}` } });
    for (const [edge, x] of Object.entries(edges) as ['start' | 'end', number][]) {
      const popup = { ...form.flow.messages[0], id: 'opened' } as ReleasedCampaign['flow']['messages'][number];
      const tab = campaignOf('tab', { id: 'tab', format: 'tab', text: 'Ask us', edge, opens: 'opened' }, 0.1);
      shop.release = {
        ...releaseOf({ ...tab, place: edge, flow: { start: 'tab', messages: [...tab.flow.messages, popup] } } as never),
        number: x + 2,
      };
      await enter(shop);
      const button = shop.page.locator('[data-crindle] .tab');
      await expect(button).toBeVisible();
      const { left, right, top, bottom } = await button.evaluate((element) => element.getBoundingClientRect().toJSON() as DOMRect);
      expect({ edge, at: x === 0 ? left : right }).toEqual({ edge, at: x });
      expect(Math.abs(top + bottom - 800)).toBeLessThanOrEqual(2);
      await shop.page.evaluate(() => localStorage.clear());
    }
    await shop.context.close();
  });

test('a message waits while a dialog within a shadow of the page is open, and is printed by nobody', async ({ browser }) => {
  const shop = await openShop(browser, {
    '/': {
      body: `${TALL}<div id="app"></div><script>
        const root = document.getElementById('app').attachShadow({ mode: 'open' });
        root.innerHTML = '<dialog><input aria-label="Of the page"></dialog>';
        root.querySelector('dialog').showModal();
      </script>`,
    },
  });
  shop.release = releaseOf(form);
  await enter(shop);
  const popup = shop.page.locator('[data-crindle] .popup');
  await expect(popup).toBeAttached();
  await settled(shop.page);
  await expect(popup).toBeHidden();
  await shop.page.evaluate(() => document.getElementById('app')?.shadowRoot?.querySelector('dialog')?.close());
  await expect(popup).toBeVisible();
  await shop.page.emulateMedia({ media: 'print' });
  await expect(popup).toBeHidden();
  await shop.context.close();
});
