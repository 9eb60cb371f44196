// Pages with keys, built-ins and habits of their own, and tabs that are left alone.
import { expect, test } from '@playwright/test';
import type { Release, ReleasedCampaign } from '../../src/core/release/release';
import { campaignOf, CLOSES, EMAIL_FORM, emptyRelease, enter, openShop, SHOP } from './shop';
import { settled } from '../visitor';

const TALL = '<main style="height:3000px"><h1>Shop</h1></main>';

const form = campaignOf(
  'form',
  { id: 'form', format: 'popup', dim: false, closes: CLOSES, blocks: [{ kind: 'heading', text: 'Hello' }, EMAIL_FORM] },
  0.2,
);
const banner = campaignOf(
  'banner',
  { id: 'banner', format: 'banner', edge: 'top', closes: CLOSES, blocks: [{ kind: 'text', text: 'News' }] },
  0.1,
);
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
  // Either says it, and nothing after it.
  await expect.poll(() => shop.items.filter(({ kind }) => kind === 'denied')).toHaveLength(2);
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

test('what a page writes from right to left is heeded on its body, and around a slot', async ({ browser }) => {
  const shop = await openShop(browser, {
    '/body': { body: `<script>document.body.dir = 'rtl'</script>${TALL}` },
    '/slot': { body: `<div dir="rtl"><div data-crindle-slot="offer"></div></div>${TALL}` },
  });
  const inset = campaignOf(
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

const chat = campaignOf(
  'chat',
  {
    id: 'chat',
    format: 'chat',
    sender: { name: 'Ilse' },
    bubble: 'Can we help?',
    conversation: { steps: [{ id: 'a', says: 'What do you look for?', asks: { kind: 'text', field: 'what' } }] },
  },
  0.6,
);

test('a chat that comes while a dialog is open waits behind it, and can be used once it is closed', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  const modal = { ...form, flow: { ...form.flow, messages: form.flow.messages.map((one) => ({ ...one, dim: true })) } } as ReleasedCampaign;
  shop.release = releaseOf(modal, { ...chat, place: 'corner' });
  await enter(shop);
  const { page } = shop;
  await expect(page.getByLabel('Email')).toBeVisible();
  await expect.poll(() => shop.items.filter(({ kind }) => kind === 'showing')).toHaveLength(2);
  await settled(page);
  const bubble = page.locator('[data-crindle] .chat .bubble');
  await expect(bubble).toBeHidden();
  await page.getByLabel('Email').fill('walker@post.example');
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Email')).toBeHidden();
  await bubble.click();
  await expect(page.getByText('What do you look for?')).toBeVisible();
  // What is written in a chat is as little the page's as in a form.
  await page.getByRole('textbox').fill('');
  await page.evaluate(() => {
    const heard: string[] = [];
    Object.assign(window, { heard });
    for (const type of ['keydown', 'input']) addEventListener(type, () => heard.push(type));
  });
  await page.keyboard.type('a hut');
  await expect(page.getByRole('textbox')).toHaveValue('a hut');
  expect(await page.evaluate(() => (window as unknown as { heard: string[] }).heard)).toEqual([]);
  await shop.context.close();
});

test('what stands in a page that a framework then draws anew is put back, once', async ({ browser }) => {
  const again = `<script>
    window.left = 2;
    new MutationObserver(() => {
      const slot = document.querySelector('[data-crindle-slot]');
      if (slot && slot.querySelector('[data-crindle]') && window.left-- > 0) slot.replaceChildren('Sent by the server');
    }).observe(document, { childList: true, subtree: true });
  </script>`;
  const shop = await openShop(browser, { '/': { head: again, body: `<div data-crindle-slot="offer">Sent by the server</div>${TALL}` } });
  const inset = campaignOf(
    'inset',
    { id: 'inset', format: 'inset', into: { slot: 'offer' }, closes: { button: true }, blocks: [{ kind: 'text', text: 'Offer' }] },
    0,
  );
  shop.release = releaseOf({ ...inset, place: 'slot:offer' });
  const { page } = shop;
  await page.goto(SHOP);
  await page.waitForFunction('left <= 0');
  await expect(page.getByText('Sent by the server')).toBeVisible();
  // Nor once more, however often the page changes.
  await page.evaluate(() => document.body.append('More'));
  await page.waitForLoadState('networkidle');
  await expect(page.getByText('Offer')).toHaveCount(0);
  await shop.context.close();
});

test('an address that is replaced again and again is one page; a click belongs to the page that it leaves', async ({ browser }) => {
  const go = `<script>addEventListener('click', ({ target }) => target.id === 'go' && history.pushState({}, '', '/huts'), true)</script>`;
  const shop = await openShop(browser, { '/map': { head: go, body: `<button id="go">Go</button>${TALL}` } });
  await enter(shop, '/map');
  const { page } = shop;
  await page.evaluate(async () => {
    for (let step = 0; step < 20; step++) {
      history.replaceState({}, '', `/map?at=${step}`);
      await new Promise(requestAnimationFrame);
    }
  });
  const opened = () => shop.items.flatMap((item) => (item.kind === 'open' ? [item.url.replace(SHOP, '')] : []));
  await expect.poll(opened).toEqual(['/map', '/map?at=19']);
  await page.click('#go');
  await expect.poll(opened).toEqual(['/map', '/map?at=19', '/huts']);
  await enter(shop, '/plain');
  const viewOf = (url: string) => shop.items.find((item) => item.kind === 'open' && item.url === SHOP + url) as { view: string };
  const clicks = () =>
    shop.items.flatMap((item) =>
      item.kind === 'piece' && item.signals.some((signal) => signal.s === 'click' && signal.what === 'button#go') ? [item.view] : [],
    );
  await expect.poll(clicks).toEqual([viewOf('/map?at=19').view]);
  await shop.context.close();
});

test('a list that grows as it is read, and says so by its address, is one page until it comes to rest', async ({ browser }) => {
  const shop = await openShop(browser, { '/list': { body: TALL } });
  const { page } = shop;
  await page.clock.install();
  const entered = enter(shop, '/list');
  await page.clock.runFor(100);
  await entered;
  for (let nth = 1; nth <= 19; nth++) {
    await page.evaluate((at) => {
      scrollTo(0, at * 100);
      history.replaceState({}, '', `/list?page=${at}`);
    }, nth);
    await page.clock.runFor(800);
  }
  const opened = () => shop.items.flatMap((item) => (item.kind === 'open' ? [item.url.replace(SHOP, '')] : []));
  expect(opened()).toEqual(['/list']);
  await page.clock.runFor(1000);
  await expect.poll(opened).toEqual(['/list', '/list?page=19']);
  await shop.context.close();
});

test('content that is put in the place of another stands anywhere for a moment: that is nobody’s reading', async ({ browser }) => {
  // As libraries do that fetch the next page: the shorter content stands where the longer one was left, then at its beginning.
  const swap = `<script>addEventListener('click', ({ target }) => {
    if (target.id !== 'go') return;
    history.pushState({}, '', '/next');
    document.querySelector('main').style.height = '1500px';
    setTimeout(() => scrollTo(0, 0), 80);
  })</script>`;
  const shop = await openShop(browser, {
    '/long': { head: swap, body: `<button id="go" style="position:fixed">Go</button><main style="height:6000px"></main>` },
  });
  await enter(shop, '/long');
  const { page } = shop;
  const depths = (url: string) => {
    const views = shop.items.flatMap((item) => (item.kind === 'open' && item.url === SHOP + url ? [item.view] : []));
    return shop.items.flatMap((item) =>
      item.kind === 'piece' && views.includes(item.view)
        ? item.signals.flatMap((signal) => (signal.s === 'scroll' ? [signal.depth] : []))
        : [],
    );
  };
  await page.evaluate(() => scrollTo(0, 5000));
  await expect.poll(() => Math.max(0, ...depths('/long'))).toBeGreaterThan(80);
  await page.click('#go');
  await page.waitForFunction(() => scrollY === 0);
  await page.evaluate(() => scrollTo(0, 300));
  await expect.poll(() => Math.max(0, ...depths('/next'))).toBeGreaterThan(20);
  expect([Math.max(...depths('/long')) < 97, Math.max(...depths('/next')) < 60]).toEqual([true, true]);
  await shop.context.close();
});

test('a frame that is not displayed counts no view until it is', async ({ browser }) => {
  const shop = await openShop(browser, {
    '/': { body: `<iframe src="${SHOP}/inner" title="Inner" style="display:none"></iframe>${TALL}` },
  });
  await enter(shop);
  const opened = () => shop.items.flatMap((item) => (item.kind === 'open' ? [item.url.replace(SHOP, '')] : []));
  await shop.page.frameLocator('iframe').locator('body').waitFor({ state: 'attached' });
  await settled(shop.page);
  expect(opened()).toEqual(['/']);
  await shop.page.evaluate(() => document.querySelector('iframe')?.removeAttribute('style'));
  await expect.poll(opened).toEqual(['/', '/inner']);
  await shop.context.close();
});

test('with a finger, a quick way back up in a scroller of the page’s own is moving to leave', async ({ browser }) => {
  const app = '<div id="app" style="height:100vh;overflow:auto"><div style="height:4000px">Shop</div></div>';
  const shop = await openShop(
    browser,
    { '/': { head: '<style>body{margin:0;overflow:hidden}</style>', body: app } },
    { hasTouch: true, isMobile: true },
  );
  await enter(shop);
  const { page } = shop;
  const scroll = (to: number) =>
    page.evaluate(async (top) => {
      document.querySelector('#app')?.scrollTo({ top, behavior: 'instant' });
      await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
    }, to);
  for (const to of [1000, 2000, 1400]) await scroll(to);
  await enter(shop, '/plain');
  await expect.poll(() => shop.items.flatMap((item) => (item.kind === 'piece' ? item.signals.map(({ s }) => s) : []))).toContain('exit');
  await shop.context.close();
});

test('with colours of the visitor’s own a message has an edge', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } }, { forcedColors: 'active' });
  shop.release = releaseOf(form);
  await enter(shop);
  const box = shop.page.locator('[data-crindle] .popup');
  await expect(box).toBeVisible();
  const [edge, inside] = await box.evaluate((element) => {
    const { borderTopColor, backgroundColor, borderTopWidth } = getComputedStyle(element);
    return [`${borderTopWidth} ${borderTopColor}`, `1px ${backgroundColor}`];
  });
  expect(edge).toMatch(/^1px rgb/);
  expect(edge).not.toBe(inside);
  await shop.context.close();
});

test('what is on its way when consent is withdrawn is called back', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  await enter(shop);
  const { page } = shop;
  // The collector takes its time over what comes now.
  await shop.context.route(/collector[.]example\/c$/, () => undefined);
  const sent = page.waitForRequest((request) => request.url().endsWith('/c'));
  const failed = page.waitForEvent('requestfailed');
  await page.evaluate(() => (window as unknown as { crindle: { did: (name: string) => void } }).crindle.did('looked'));
  await sent;
  await page.evaluate(() => (window as unknown as { crindle: { consent: (choice: string) => void } }).crindle.consent('denied'));
  expect((await failed).failure()?.errorText).toContain('ABORTED');
  expect(await page.evaluate(() => Object.keys(localStorage).filter((key) => !key.endsWith(':consent')))).toEqual([]);
  await shop.context.close();
});

test('a first view with a pop-up loads the script, one answer with the release in it, and two parts', async ({ browser }) => {
  const shop = await openShop(browser, { '/': { body: TALL } });
  shop.release = releaseOf(form);
  const loaded: string[] = [];
  shop.page.on('request', (request) => {
    const { hostname, pathname } = new URL(request.url());
    if (hostname === 'collector.example') loaded.push(pathname.replace(/-[\w-]{9}[.]js$/, ''));
  });
  await enter(shop);
  await expect(shop.page.getByLabel('Email')).toBeVisible();
  // What is sent after that loads nothing.
  expect(loaded.slice(0, 4)).toEqual(['/page.js', '/c', '/parts/decide', expect.stringMatching(/^[/](parts[/]show|c)$/)]);
  expect(loaded.filter((path) => path !== '/c')).toEqual(['/page.js', '/parts/decide', '/parts/show']);
  // The next page needs nothing but to tell that it was opened.
  loaded.length = 0;
  await enter(shop, '/next');
  expect(loaded.filter((path) => path.startsWith('/r/'))).toEqual([]);
  await shop.context.close();
});
