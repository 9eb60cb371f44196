// What a visitor's browser does and what is waited for in it; needs nothing that runs.
import type { Browser, BrowserContext, Locator, Page, Request } from '@playwright/test';

/** A browser of its own, as every visitor has one. */
export async function newVisitor(
  browser: Browser,
  options: Parameters<Browser['newContext']>[0] = {},
): Promise<{ context: BrowserContext; page: Page }> {
  const context = await browser.newContext(options);
  const flying = new Set<Request>();
  // A beacon is never heard of again once its page has gone.
  context.on('request', (request) => request.resourceType() !== 'ping' && flying.add(request));
  context.on('requestfinished', (request) => flying.delete(request));
  context.on('requestfailed', (request) => flying.delete(request));
  underWay.set(context, flying);
  return { context, page: await context.newPage() };
}

/** The id that the browser goes by on a site's pages, as the script keeps it there. */
export const browserIdOf = (page: Page): Promise<string> =>
  page.evaluate(() => {
    const key = Object.keys(localStorage).find((name) => name.endsWith(':state')) ?? '';
    return (JSON.parse(localStorage.getItem(key) ?? '{}') as { browser?: string }).browser ?? '';
  });

const underWay = new WeakMap<BrowserContext, ReadonlySet<Request>>();

/** Until the browser has drawn two frames: what it tells by itself (scrolling, elements in view) has been told by then. Needs no clock. */
export async function drawn(page: Page): Promise<void> {
  await page.evaluate(async () => {
    for (let frame = 0; frame < 2; frame++)
      await new Promise<void>((done) => {
        const observer = new IntersectionObserver(() => {
          observer.disconnect();
          done();
        });
        observer.observe(document.documentElement);
      });
  });
}

/** Until nothing is under way any more, so that what was going to show has shown: requests are answered and what they led to is drawn. */
export async function settled(page: Page): Promise<void> {
  const flying = underWay.get(page.context());
  for (let quiet = 0; quiet < 3;) {
    await drawn(page);
    quiet = flying?.size ? 0 : quiet + 1;
  }
}

/** Until what is there has come in whole. */
export async function still(what: Locator): Promise<void> {
  await what.evaluate((element) => Promise.all(element.getAnimations({ subtree: true }).map(({ finished }) => finished)));
}

export async function scrollTo(page: Page, share: number): Promise<void> {
  await page.evaluate((to) => window.scrollTo(0, (document.documentElement.scrollHeight - innerHeight) * to), share);
  await drawn(page);
}

/** The pointer goes out of the window through its top edge. */
export async function moveToLeave(page: Page): Promise<void> {
  await page.mouse.move(500, 300);
  await page.mouse.move(500, 4);
  await page.mouse.move(500, -4);
  await settled(page);
}

export const popup = (page: Page) => page.locator('[data-crindle] dialog');
