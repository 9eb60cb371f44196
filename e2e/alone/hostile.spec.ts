import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import type { ShopPage } from './shop';
import { campaignOf, CLOSES, EMAIL_FORM, emptyRelease, enter, openShop, SHOP, showings } from './shop';
import type { Release } from '../../src/core/release/release';
import { drawn, settled, still } from '../visitor';

const TALL = '<main style="height:3000px"><h1>Shop</h1><p>Words</p><a id="link" href="/other">Other</a></main>';
const release: Release = {
  ...emptyRelease,
  campaigns: [
    campaignOf(
      'hello',
      {
        id: 'a',
        format: 'popup',
        closes: CLOSES,
        blocks: [
          { kind: 'heading', text: 'Hello' },
          EMAIL_FORM,
          { kind: 'buttons', buttons: [{ label: 'Offers', does: [{ kind: 'page', url: '/offers' }] }] },
        ],
      },
      0.4,
    ),
  ],
};

const PAGES: Record<string, ShopPage> = {
  '/strict-csp': {
    body: TALL.replace(' style="height:3000px"', ''),
    headers: {
      'content-security-policy':
        "default-src 'none'; script-src https://collector.example; connect-src https://collector.example; style-src 'none'; img-src 'none'; base-uri 'none'; require-trusted-types-for 'script'",
    },
  },
  '/unset': { head: '<style>*{all:unset!important}</style>', body: TALL },
  '/hide-divs': {
    head: '<style>div,section,dialog{display:none!important;opacity:0!important;transform:scale(0)!important}html>*{visibility:hidden}</style>',
    body: TALL,
  },
  '/on-top': { body: `${TALL}<div style="position:fixed;inset:0;z-index:2147483647;background:#eee">In front of all</div>` },
  '/scaled': {
    head: '<style>html{overflow:hidden}body{overflow:hidden;transform:scale(1);filter:blur(0);height:100vh}</style>',
    body: TALL,
  },
  '/container': {
    head: '<style>html,body{height:100%;margin:0;overflow:hidden}#app{height:100%;overflow:auto}</style>',
    body: `<div id="app">${TALL}</div>`,
  },
  '/rtl': { body: `${TALL}<script>document.documentElement.dir='rtl';document.documentElement.lang='ar'</script>` },
  '/patched': {
    head: `<script>
      Array.prototype.toJSON = function () { return 'patched' };
      String.prototype.toJSON = function () { return 'patched' };
      JSON.stringify = function () { return 'patched' };
      Array.prototype.remove = function () {};
      Object.prototype.extra = 'x';
    </script>`,
    body: TALL,
  },
  '/frozen': {
    head: '<script>Object.preventExtensions(document);["crindle"].forEach(function(n){Object.defineProperty(window,n,{value:undefined,writable:false,configurable:false})})</script>',
    body: TALL,
  },
  '/base': { head: '<base href="https://elsewhere.example/deep/">', body: TALL },
  '/shadow-app': {
    body: `<my-app></my-app><script>customElements.define('my-app',class extends HTMLElement{connectedCallback(){const r=this.attachShadow({mode:'open'});r.innerHTML='<style>*{color:red;font-size:40px}</style><h1>Shop</h1><button id="inside">Inside</button>';}})</script>`,
  },
  '/busy': { body: `${TALL}<script>setInterval(function(){var t=performance.now();while(performance.now()-t<180);},200)</script>` },
  '/throws': { head: '<script>window.onerror=function(){window.hostErrors=(window.hostErrors||0)+1}</script>', body: TALL },
  '/twice': { head: '<script async src="https://collector.example/page.js" data-site="shop"></script>', body: TALL },
  '/no-storage': {
    head: `<script>Object.defineProperty(window,'localStorage',{get:function(){throw new DOMException('denied','SecurityError')}});navigator.sendBeacon=undefined</script>`,
    body: TALL,
  },
};

for (const path of Object.keys(PAGES))
  test(`on ${path.slice(1)} a pop-up shows whole, in front, answers, and the page keeps its own`, async ({ browser }) => {
    const shop = await openShop(browser, PAGES);
    shop.release = release;
    const { page } = shop;
    await enter(shop, path);
    const box = page.locator('[data-crindle] .box');
    await expect(box).toBeVisible();
    await still(box);
    const at = await box.boundingBox();
    expect(at && at.width > 250 && at.height > 150 && at.x >= 0 && at.y >= 0 && at.x + at.width <= 1280 && at.y + at.height <= 800).toBe(
      true,
    );
    // In front: what lies at its middle belongs to it.
    expect(
      await page.evaluate(
        ([x, y]) => document.elementFromPoint(x ?? 0, y ?? 0)?.hasAttribute('data-crindle'),
        [(at?.x ?? 0) + (at?.width ?? 0) / 2, (at?.y ?? 0) + 30],
      ),
    ).toBe(true);
    // Its own look: neither what the page says of everything nor what another app says inside.
    expect(
      await box.getByRole('heading').evaluate((element) => [getComputedStyle(element).fontSize, getComputedStyle(element).color]),
    ).toEqual(['23px', 'rgb(28, 35, 33)']);
    await expect(box.getByRole('link', { name: 'Offers' })).toHaveAttribute('href', `${SHOP}/offers`);
    await box.getByLabel('Email').fill('walker@post.example');
    await box.getByRole('button', { name: 'Send' }).click();
    await expect(box.getByRole('status')).toHaveText('Thanks');
    await expect.poll(() => shop.items.filter(({ kind }) => kind === 'form')).toHaveLength(1);
    expect(shop.items.find((item) => item.kind === 'form')).toMatchObject({ email: 'walker@post.example', campaign: 'hello' });
    await page.keyboard.press('Escape');
    await expect(box).toHaveCount(0);
    expect(shop.errors).toEqual([]);
    expect(showings(shop)).toHaveLength(1);
    await shop.context.close();
  });

test('a page that is loaded twice counts once and tells it', async ({ browser }) => {
  const shop = await openShop(browser, PAGES);
  await enter(shop, '/twice');
  await expect.poll(() => shop.items.filter(({ kind }) => kind === 'fault')).toHaveLength(1);
  expect(shop.items.find((item) => item.kind === 'fault')).toMatchObject({ entry: 'twice' });
  expect(shop.items.filter(({ kind }) => kind === 'open')).toHaveLength(1);
  await shop.context.close();
});

test('scrolling in a container is scrolling, and a page that cannot scroll says so', async ({ browser }) => {
  const shop = await openShop(browser, PAGES);
  await enter(shop, '/container');
  await scrollInside(shop.page);
  await shop.page.goto(`${SHOP}/short`);
  await expect
    .poll(() => shop.items.flatMap((item) => (item.kind === 'piece' ? item.signals.filter(({ s }) => s === 'scroll') : [])).length)
    .toBeGreaterThan(3);
  await settled(shop.page);
  await enter(shop, '/next');
  await expect.poll(() => shop.items.some((item) => item.kind === 'piece' && item.signals.some(({ s }) => s === 'whole'))).toBe(true);
  await shop.context.close();
});

async function scrollInside(page: Page): Promise<void> {
  for (let step = 1; step <= 6; step++) {
    await page.evaluate((to) => document.querySelector('#app')?.scrollTo(0, to), step * 300);
    await drawn(page);
  }
}

test('a single-page application by history, by hash, and by an event of its own: each route is a page view', async ({ browser }) => {
  const shop = await openShop(browser, { '/spa': { body: TALL, script: 'data-page-event="shop:route"' } });
  const { page } = shop;
  await enter(shop, '/spa');
  for (const change of [
    "history.pushState({},'','/spa/huts')",
    "location.hash='water'",
    "location.hash='#/book'",
    "location.hash='#/book/pay'",
    "dispatchEvent(new Event('shop:route'))",
    'history.back()',
  ]) {
    await page.evaluate(change);
    await settled(page);
  }
  await expect
    .poll(() => shop.items.flatMap((item) => (item.kind === 'open' ? [item.url.replace(SHOP, '')] : [])))
    .toEqual(['/spa', '/spa/huts', '/spa/huts#/book', '/spa/huts#/book/pay', '/spa/huts#/book/pay', '/spa/huts#/book']);
  expect(shop.errors).toEqual([]);
  await shop.context.close();
});

test('restored from the back/forward cache a page is a view of its own, and an iframe works like a page', async ({ browser }) => {
  const shop = await openShop(browser, { '/frame': { body: `<iframe src="${SHOP}/inner" title="Inner"></iframe>` } });
  await enter(shop, '/frame');
  await expect.poll(() => shop.items.filter(({ kind }) => kind === 'open')).toHaveLength(2);
  await shop.page.evaluate(() => dispatchEvent(new PageTransitionEvent('pageshow', { persisted: true })));
  await expect.poll(() => shop.items.filter(({ kind }) => kind === 'open')).toHaveLength(3);
  await shop.context.close();
});

test('a collector that has too much to do is left alone and gets everything later', async ({ browser }) => {
  const shop = await openShop(browser, {});
  shop.isUp = false;
  await shop.page.clock.install();
  await shop.page.goto(`${SHOP}/`);
  await shop.page.waitForFunction(() => (window as unknown as { crindle?: { running?: unknown } }).crindle?.running);
  // From here on the clock stands still between steps: how long the page took to load must not count.
  await shop.page.clock.pauseAt(Date.now() + 60_000);
  await settled(shop.page);
  const before = shop.requests;
  for (let step = 1; step <= 3; step++) {
    await shop.page.evaluate(() => (window as unknown as { crindle: { did: (name: string) => void } }).crindle.did('while_busy'));
    await shop.page.clock.runFor(200);
    await settled(shop.page);
  }
  expect(before).toBeGreaterThan(0);
  expect(shop.requests).toBeLessThanOrEqual(before + 1);
  shop.isUp = true;
  await shop.page.clock.resume();
  await expect.poll(() => shop.items.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['open', 'event']));
  await shop.context.close();
});

test('a new release reaches an open page within a minute', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  await shop.page.clock.install();
  await enter(shop);
  shop.release = { ...release, number: 2 };
  await shop.page.clock.fastForward(58_000);
  await shop.page.clock.runFor(1000);
  await expect(shop.page.locator('[data-crindle] .box')).toBeVisible();
  // One that comes after a message has shown does not show it once more.
  const shownOnce = showings(shop).length;
  expect(shownOnce).toBe(1);
  await shop.page.keyboard.press('Escape');
  // A long one is a file of its own.
  shop.isLong = true;
  const fetched = shop.page.waitForResponse((response) => response.url().endsWith('/h3'));
  shop.release = { ...shop.release, number: 3 };
  await shop.page.clock.fastForward(58_000);
  await shop.page.clock.runFor(1000);
  await fetched;
  await shop.page.clock.runFor(5_000);
  expect(showings(shop)).toHaveLength(shownOnce);
  await shop.context.close();
});

test('before consent nothing is stored or sent; once given it is remembered; taken back, everything is erased', async ({ browser }) => {
  const shop = await openShop(browser, { '/ask': { body: TALL, script: 'data-consent="ask"' } });
  const { page } = shop;
  const kept = () => page.evaluate(() => Object.keys(localStorage));
  const consent = (choice: string) =>
    page.evaluate((given) => (window as unknown as { crindle: { consent: (choice: string) => void } }).crindle.consent(given), choice);
  await page.clock.install();
  await page.goto(`${SHOP}/ask`);
  await page.waitForFunction(() => (window as unknown as { crindle?: { running?: unknown } }).crindle?.running);
  await page.clock.runFor(60_000);
  await settled(page);
  expect([shop.requests, await kept()]).toEqual([0, []]);
  await consent('granted');
  await expect.poll(() => shop.items.filter(({ kind }) => kind === 'open')).toHaveLength(1);
  await enter(shop, '/ask');
  expect(shop.items.filter(({ kind }) => kind === 'open')).toHaveLength(2);
  await consent('denied');
  // That is the last that is said.
  await expect.poll(() => shop.items.at(-1)).toEqual({ kind: 'denied' });
  const before = shop.requests;
  await page.reload();
  await page.clock.runFor(60_000);
  await settled(page);
  expect(shop.requests).toBe(before);
  expect(await kept()).toEqual(['crindle:shop:consent']);
  await shop.context.close();
});

test('a browser that asks for privacy is not recorded until its visitor agrees', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  await shop.page.addInitScript(() => Object.defineProperty(Navigator.prototype, 'globalPrivacyControl', { get: () => true }));
  await shop.page.clock.install();
  await shop.page.goto(`${SHOP}/`);
  await shop.page.waitForFunction(() => (window as unknown as { crindle?: { running?: unknown } }).crindle?.running);
  await shop.page.clock.runFor(60_000);
  await settled(shop.page);
  expect(shop.requests).toBe(0);
  await shop.page.evaluate(() => (window as unknown as { crindle: { consent: (choice: string) => void } }).crindle.consent('granted'));
  await expect.poll(() => shop.items.filter(({ kind }) => kind === 'open')).toHaveLength(1);
  await shop.context.close();
});

test('after stop nothing of ours is left in the page', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  shop.release = release;
  await shop.page.clock.install();
  await enter(shop);
  await expect(shop.page.locator('[data-crindle] .box')).toBeVisible();
  await shop.page.evaluate(() => (window as unknown as { crindle: { stop: () => void } }).crindle.stop());
  await expect(shop.page.locator('[data-crindle]')).toHaveCount(0);
  await settled(shop.page);
  const before = shop.requests;
  await shop.page.mouse.move(200, 200);
  await shop.page.evaluate(() => history.pushState({}, '', '/later'));
  await shop.page.clock.runFor(60_000);
  await settled(shop.page);
  expect(shop.requests).toBe(before);
  await shop.context.close();
});
