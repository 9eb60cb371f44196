// Pages of any make, each with the page script and without: what goes wrong with it goes wrong without it, nothing moves, messages
// can be used, and what was done is recorded.
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import type { Release } from '../../src/core/release/release';
import { FOREIGN_PAGES } from './foreignPages';
import { campaignOf, CLOSES, EMAIL_FORM, emptyRelease, enter, openShop, SHOP, showings } from './shop';
import { drawn, settled } from '../visitor';

const ask = campaignOf(
  'ask',
  { id: 'ask', format: 'popup', closes: CLOSES, blocks: [{ kind: 'heading', text: 'Hello' }, EMAIL_FORM] },
  0.3,
);
const release: Release = {
  ...emptyRelease,
  watch: ['main'],
  campaigns: [{ ...ask, pages: { on: [{ op: 'is', value: '/foreign' }] }, pacing: { again: 'never' } }],
};

/** Where the page stands. */
const standing = (page: Page): Promise<number[]> =>
  page.evaluate(() => {
    const { left, top, width } =
      (Reflect.getPrototypeOf(document) as Document).querySelector.call(document, 'body')?.getBoundingClientRect() ?? new DOMRect();
    return [left, top + scrollY, width];
  });

for (const [what, { before, cannotShow, scrolls, isWhole, ...shopPage }] of Object.entries(FOREIGN_PAGES))
  test(`with ${what} the page is as it was, and a message works`, async ({ browser }) => {
    const shop = await openShop(browser, { '/foreign': shopPage, '/bare': { ...shopPage, script: null } });
    shop.release = release;
    const { page, errors } = shop;
    await page.goto(`${SHOP}/bare`);
    await settled(page);
    if (before) await before(page);
    const [own, stood] = [errors.splice(0), await standing(page)];

    await page.goto(`${SHOP}/foreign`);
    const email = page.getByLabel('Email');
    if (before) {
      // Held back while the page's own dialog is open, or not asked for yet; then it comes.
      await expect.poll(() => shop.items.some(({ kind }) => kind === 'open')).toBe(true);
      await before(page);
    }
    if (cannotShow) await settled(page);
    else {
      await expect(email).toBeVisible();
      expect(await standing(page)).toEqual(stood);
      await email.click();
      await page.keyboard.type('walker@post.example');
      await expect(email).toHaveValue('walker@post.example');
      await page.keyboard.press('Escape');
      await expect(email).toBeHidden();
      expect(showings(shop)).toHaveLength(1);
    }
    if (isWhole)
      await expect.poll(() => shop.items.some((item) => item.kind === 'piece' && item.signals.some(({ s }) => s === 'whole'))).toBe(true);
    else {
      if (scrolls) await page.locator(scrolls).waitFor();
      for (const share of [0.5, 1]) {
        await page.evaluate(
          ([selector, to]) => {
            const scroller = selector ? document.querySelector(selector as string) : document.scrollingElement;
            scroller?.scrollTo(0, (scroller.scrollHeight - scroller.clientHeight) * (to as number));
          },
          [scrolls, share],
        );
        await drawn(page);
      }
      await drawn(page);
    }
    expect(errors).toEqual(own);
    const browserOf = page.waitForRequest((request) => request.url().endsWith('/c'));
    await enter(shop, '/plain');
    // Whatever that page took away, the visitor is recorded on the next one, and what was kept of the last arrives with it.
    expect((JSON.parse((await browserOf).postData() ?? '{}') as { browser: string }).browser).toMatch(
      /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/,
    );
    if (!cannotShow && !isWhole)
      await expect
        .poll(() => Math.max(0, ...shop.items.flatMap((item) => (item.kind === 'piece' ? [item.scroll] : []))))
        .toBeGreaterThan(95);
    // What cannot work tells it, instead of telling the page.
    if (!cannotShow) expect(shop.items.filter(({ kind }) => kind === 'fault')).toEqual([]);
    await shop.context.close();
  });
