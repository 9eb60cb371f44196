// Pages with keys, built-ins and habits of their own, and tabs that are left alone.
import { expect, test } from '@playwright/test';
import type { Release, ReleasedCampaign } from '../src/core/release/release';
import { emptyRelease, enter, openShop, SHOP } from './shop';
import { settled } from './stack';

const TALL = '<main style="height:3000px"><h1>Shop</h1></main>';

const campaign = (id: string, message: ReleasedCampaign['flow']['messages'][number], seconds: number): ReleasedCampaign => ({
  id,
  place: message.format === 'banner' ? 'top' : 'overlay',
  pages: {},
  moment: { kind: 'delay', seconds },
  pacing: { again: 'always' },
  goal: { kind: 'form' },
  flow: { start: message.id, messages: [message] },
});
const closes = { button: true, dim: true, escape: true };
const form = campaign(
  'form',
  {
    id: 'form',
    format: 'popup',
    dim: false,
    closes,
    blocks: [
      { kind: 'heading', text: 'Hello' },
      { kind: 'form', fields: [{ kind: 'email', name: 'email', label: 'Email', required: true }], submit: 'Send', thanks: 'Thanks' },
    ],
  },
  0.2,
);
const banner = campaign('banner', { id: 'banner', format: 'banner', edge: 'top', closes, blocks: [{ kind: 'text', text: 'News' }] }, 0.1);
const releaseOf = (...campaigns: ReleasedCampaign[]): Release => ({ ...emptyRelease, campaigns, budget: { gapSeconds: 1 } });

const KEYS = `<script>
  window.heard = [];
  for (const [target, capture] of [[document, true], [document, false], [window, false]])
    for (const type of ['keydown', 'keypress', 'keyup', 'input', 'paste'])
      target.addEventListener(type, (event) => { heard.push(type); if (event.key !== 'Tab') event.preventDefault(); }, capture);
</script>`;

test('what is typed and pressed in a message is not heard by the page, and Escape closes it all the same', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { head: KEYS, body: TALL } });
  shop.release = releaseOf(form);
  await enter(shop);
  const { page } = shop;
  const email = page.getByLabel('Email');
  await email.click();
  await page.keyboard.type('walker@post.example');
  await expect(email).toHaveValue('walker@post.example');
  expect(await page.evaluate(() => (window as unknown as { heard: string[] }).heard)).toEqual([]);
  await page.keyboard.press('Escape');
  await expect(email).toBeHidden();
  await page.keyboard.press('x');
  expect(await page.evaluate(() => (window as unknown as { heard: string[] }).heard.length)).toBeGreaterThan(0);
  expect(shop.errors).toEqual([]);
  await shop.context.close();
});

test('one Escape closes one message, the newest first', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  shop.release = releaseOf(banner, { ...form, moment: { kind: 'delay', seconds: 1.5 } });
  await enter(shop);
  const { page } = shop;
  await expect(page.getByText('News')).toBeVisible();
  await expect(page.getByLabel('Email')).toBeVisible();
  await page.locator('body').click({ position: { x: 20, y: 400 } });
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Email')).toBeHidden();
  await expect(page.getByText('News')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('News')).toBeHidden();
  await shop.context.close();
});

test('a page that is left alone says ever less, and nothing once it is hidden', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  const { page } = shop;
  await page.clock.install();
  await enter(shop);
  const pieces = () => shop.items.filter(({ kind }) => kind === 'piece').length;
  await page.mouse.move(50, 50);
  await page.clock.runFor(60_000);
  await settled(page);
  const early = pieces();
  expect(early).toBeGreaterThanOrEqual(3);
  await page.clock.runFor(29 * 60_000);
  await settled(page);
  const late = pieces();
  expect(late - early).toBeLessThan(12);
  const { requests } = shop;
  await page.clock.runFor(3 * 3_600_000);
  await settled(page);
  expect([pieces(), shop.requests]).toEqual([late, requests]);
  // Touched again it is there again.
  await page.mouse.move(80, 80);
  await page.clock.runFor(11_000);
  await expect.poll(pieces).toBeGreaterThan(late);
  await shop.context.close();
});

test('consent withdrawn in one tab ends the recording in all, and is remembered', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  await enter(shop);
  const other = await shop.context.newPage();
  await other.goto(SHOP);
  await other.waitForFunction(() => 'crindle' in window);
  await other.evaluate(() => (window as unknown as { crindle: { consent: (choice: string) => void } }).crindle.consent('denied'));
  await shop.page.waitForFunction(() => Object.keys(localStorage).every((key) => key.endsWith(':consent')));
  const { requests } = shop;
  await shop.page.evaluate(() => (window as unknown as { crindle: { did: (name: string) => void } }).crindle.did('booking'));
  await settled(shop.page);
  expect(shop.requests).toBe(requests);
  await shop.page.reload();
  await settled(shop.page);
  expect(shop.requests).toBe(requests);
  expect(await shop.page.evaluate(() => JSON.stringify(Object.values(localStorage)))).toBe(JSON.stringify(['"denied"']));
  await shop.context.close();
});

const HABITS: Readonly<Record<string, string>> = {
  'Array.from without its second argument': 'Array.from = (given) => [].slice.call(given)',
  'a stored state of {}': "localStorage.setItem('crindle:shop:state', '{}')",
  'a stored state of [null]': "localStorage.setItem('crindle:shop:state', '[null]')",
  'a stored browser id that is none': `localStorage.setItem('crindle:shop:state', '{"browser":"019a,0,0","visit":{},"pacing":{}}')`,
};
for (const [habit, script] of Object.entries(HABITS))
  test(`with ${habit} the visitor is recorded under an id that is one`, async ({ browser }) => {
    const shop = await openShop(browser, { '/': { head: `<script>${script}</script>`, body: TALL } });
    const browserOf = shop.page.waitForRequest((request) => request.url().endsWith('/c'));
    await enter(shop);
    const { browser: id } = JSON.parse((await browserOf).postData() ?? '{}') as { browser: string };
    expect(id).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
    expect(shop.items.find(({ kind }) => kind === 'open')).toMatchObject({ view: expect.stringMatching(/^[0-9a-f-]{36}$/) });
    expect(shop.errors).toEqual([]);
    await shop.context.close();
  });

test('a collector that names a release and says nothing of it is asked a few times and no more', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  shop.isSilent = true;
  await shop.page.clock.install();
  await enter(shop);
  await shop.page.clock.runFor(20_000);
  await settled(shop.page);
  // The opening, its pieces, and the first time that was asked at once.
  expect(shop.requests).toBeLessThan(8);
  await shop.page.clock.runFor(10 * 60_000);
  await settled(shop.page);
  expect(shop.requests).toBeLessThan(45);
  await shop.context.close();
});

const pushing = campaign(
  'push',
  { id: 'push', format: 'banner', edge: 'top', pushes: true, closes, blocks: [{ kind: 'text', text: 'Pushed' }] },
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

test('what a page writes from right to left is heeded on its body, and around a slot', async ({ browser }) => {
  const shop = await openShop(browser, {
    '/body': { body: `<script>document.body.dir = 'rtl'</script>${TALL}` },
    '/slot': { body: `<div dir="rtl"><div data-crindle-slot="offer"></div></div>${TALL}` },
  });
  const inset = campaign(
    'inset',
    { id: 'inset', format: 'inset', into: { slot: 'offer' }, closes: { button: false }, blocks: [{ kind: 'text', text: 'Offer' }] },
    0.1,
  );
  shop.release = releaseOf(form, { ...inset, place: 'slot:offer' });
  await enter(shop, '/body');
  await expect(shop.page.locator('[data-crindle] .popup')).toHaveAttribute('dir', 'rtl');
  await enter(shop, '/slot');
  await expect(shop.page.locator('[data-crindle] .inset')).toHaveAttribute('dir', 'rtl');
  await shop.context.close();
});
