import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { ask, SITE, visit } from './stack';
import { drawn, moveToLeave, newVisitor, popup, settled } from './visitor';

interface Crindle {
  did: (name: string, props?: object) => void;
  person: (person: object) => void;
  on: (what: string, listener: () => void) => void;
  stop: () => void;
}
type Host = Window & { crindle: Crindle };

const idOf = (page: Page): Promise<string> =>
  page.evaluate(() => (JSON.parse(localStorage.getItem('crindle:tarnhollowdemo:state') ?? '{}') as { browser: string }).browser);

test('the script leaves one global and throws nothing into the page', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));
  await page.goto(`${SITE}/contact`);
  const before = await page.evaluate(() => {
    const frame = document.createElement('iframe');
    document.body.append(frame);
    const clean = new Set(Object.getOwnPropertyNames(frame.contentWindow ?? {}));
    return Object.getOwnPropertyNames(window).filter((name) => !clean.has(name));
  });
  await page.waitForFunction(() => (window as unknown as { crindle?: { running?: boolean } }).crindle?.running);
  await page.evaluate(() => {
    const { crindle } = window as unknown as Host;
    (crindle.did as (...given: unknown[]) => void)(Symbol('x'));
    (crindle.person as (...given: unknown[]) => void)(null);
    crindle.on('event', () => {
      throw new Error('a listener of the host');
    });
  });
  expect(errors).toEqual([]);
  expect(before.filter((name) => /crindle/i.test(name)).length).toBeLessThanOrEqual(1);
  await context.close();
});

test('a page view is recorded with its scroll, engaged time, click, exit and leaving', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  await page.clock.install();
  await visit(page, '/routes/valley-loop');
  const id = await idOf(page);
  await page.mouse.move(300, 300);
  await page.mouse.wheel(0, 4000);
  await drawn(page);
  await page.clock.runFor(1200);
  await page.locator('main p').first().click();
  await moveToLeave(page);
  await page.goto('about:blank');
  const signals = async () =>
    (
      await ask<{ signals: { s: string; what?: string }[] }>(
        `select jsonb_path_query_array(jsonb_agg(piece.signals order by piece), '$[*][*]') as signals from signal_piece as piece
           join page_view on page_view.id = piece.view_id join visitor on visitor.id = page_view.visitor_id where browser_id = $1`,
        [id],
      )
    )[0]?.signals ?? [];
  await expect
    .poll(async () => (await signals()).map(({ s }) => s))
    .toEqual(expect.arrayContaining(['scroll', 'click', 'exit', 'input', 'hide']));
  expect((await signals()).find(({ s }) => s === 'click')?.what).toBe('p.lead');
  const [view] = await ask<{ scroll: number; engaged_ms: number; leave_ms: number }>(
    `select scroll, engaged_ms, leave_ms from page_view join visitor on visitor.id = page_view.visitor_id where browser_id = $1`,
    [id],
  );
  expect(view?.scroll).toBe(100);
  expect(view?.engaged_ms).toBeGreaterThan(1000);
  expect(view?.engaged_ms).toBeLessThanOrEqual(view?.leave_ms ?? 0);
  await context.close();
});

test('history navigation is a page view, a change of the fragment is none', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  await visit(page, '/routes');
  const id = await idOf(page);
  await page.evaluate(() => history.pushState({}, '', '/routes/valley-loop?day=2'));
  await settled(page);
  await page.evaluate(() => (location.hash = 'water'));
  await settled(page);
  await page.goBack();
  await page.goBack();
  await settled(page);
  const views = () =>
    ask(
      `select regexp_replace(url, '^http://[^/]+', '') as path from page_view join visitor on visitor.id = page_view.visitor_id where browser_id = $1 order by at`,
      [id],
    );
  await expect.poll(async () => (await views()).map(({ path }) => path)).toEqual(['/routes', '/routes/valley-loop?day=2', '/routes']);
  await context.close();
});

test('a person the site identifies is known, with traits', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  await visit(page, '/membership');
  const id = await idOf(page);
  await page.evaluate(() =>
    (window as unknown as Host).crindle.person({ id: 'm-17', email: 'member@post.example', traits: { plan: 'family', nights: 4 } }),
  );
  await expect
    .poll(() => ask(`select customer_id, email from visitor where browser_id = $1`, [id]))
    .toEqual([{ customer_id: 'm-17', email: 'member@post.example' }]);
  expect(
    await ask(
      `select key, value from visitor_change join visitor on visitor.id = visitor_id where browser_id = $1 and kind = 'trait' order by key`,
      [id],
    ),
  ).toEqual([
    { key: 'nights', value: 4 },
    { key: 'plan', value: 'family' },
  ]);
  await context.close();
});

test('a long title, odd properties and a burst of clicks cost nothing of what was recorded', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  await visit(page, '/contact');
  const id = await idOf(page);
  await page.evaluate(() => {
    document.title = 'x'.repeat(10_000);
    const { crindle } = window as unknown as Host;
    crindle.did('odd', { long: 'y'.repeat(9000), run: () => 1, deep: { a: 1 }, fine: 3 });
    for (let count = 0; count < 2500; count++) document.querySelector('main')?.click();
  });
  await page.goto(`${SITE}/routes`);
  const stored = () =>
    ask(
      `select length(title) as title, (select count(*)::int from signal_piece, jsonb_array_elements(signals) as one where view_id = page_view.id and one ->> 's' = 'click') as clicks,
              (select props from event where view_id = page_view.id) as props
         from page_view join visitor on visitor.id = page_view.visitor_id where browser_id = $1 and url like '%/contact'`,
      [id],
    );
  await expect.poll(stored).toEqual([{ title: 500, clicks: 2500, props: { long: 'y'.repeat(2000), fine: 3 } }]);
  await context.close();
});

test('after stop the script hears nothing any more', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  await page.clock.install();
  await visit(page, '/offers');
  const id = await idOf(page);
  await page.evaluate(() => (window as unknown as Host).crindle.stop());
  await settled(page);
  const count = () =>
    ask(
      `select count(*)::int as n from signal_piece join page_view on page_view.id = view_id join visitor on visitor.id = page_view.visitor_id where browser_id = $1`,
      [id],
    );
  // What is handed over as it stops arrives when it does: nobody waits for a beacon.
  await expect.poll(count).toEqual([{ n: 1 }]);
  const requests: string[] = [];
  page.on('request', (request) => requests.push(request.url()));
  await moveToLeave(page);
  await page.evaluate(() => history.pushState({}, '', '/offers?later'));
  // Longer than from one piece to the next, and than until a page asks for news.
  await page.clock.runFor(60_000);
  await settled(page);
  expect(requests).toEqual([]);
  expect(await count()).toEqual([{ n: 1 }]);
  await context.close();
});

test('the packing list shows to a reader who is engaged, once', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  await page.clock.install();
  await visit(page, '/journal/packing-for-snow');
  await settled(page);
  for (let step = 1; step <= 8; step++) {
    await page.evaluate((share) => window.scrollTo(0, (document.documentElement.scrollHeight - innerHeight) * share), step / 8);
    await page.clock.runFor(3000);
  }
  await expect(popup(page)).toBeVisible();
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(popup(page)).toHaveCount(0);
  await context.close();
});
