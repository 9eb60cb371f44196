import { expect, test } from '@playwright/test';
import { ENTRANCES, POSITIONS } from '../src/core/messages/message';
import { faultsOf } from './axe';
import { slug } from './formatMessages';
import { box, layoutShift, outcomesOn, publishFormats } from './formatSite';
import { moveToLeave, settled, still } from './visitor';
import { open, visitorOf } from './release';

const KEY = 'formatsite';
const outcomes = outcomesOn(KEY);
test.beforeAll(() => publishFormats(KEY));

test('a pop-up stands at each of its nine positions, inside the window, and moves nothing', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  for (const position of POSITIONS) {
    await open(page, `/contact?case=at-${slug(position)}`);
    await expect(box(page)).toBeVisible();
    await still(box(page));
    const at = await box(page).boundingBox();
    const { width, height } = page.viewportSize() ?? { width: 0, height: 0 };
    if (!at) throw new Error('No box');
    const third = (from: number, size: number, all: number): string =>
      (from + size / 2) * 3 < all ? 'first' : (from + size / 2) * 3 > all * 2 ? 'last' : 'mid';
    const words = position.split(' ');
    expect({ position, x: third(at.x, at.width, width), y: third(at.y, at.height, height) }).toEqual({
      position,
      x: words.includes('start') ? 'first' : words.includes('end') ? 'last' : 'mid',
      y: words.includes('top') ? 'first' : words.includes('bottom') ? 'last' : 'mid',
    });
    expect(at.x >= 0 && at.y >= 0 && at.x + at.width <= width && at.y + at.height <= height).toBe(true);
    expect(await layoutShift(page)).toBe(0);
  }
  await close();
});

test('each entrance ends with the pop-up there, and with reduced motion there is none', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  for (const entrance of ENTRANCES) {
    await open(page, `/contact?case=in-${entrance}`);
    await expect(box(page)).toBeVisible();
    const name = await box(page).evaluate((element) => getComputedStyle(element).animationName);
    expect(name).toBe(entrance);
  }
  await close();
  const still = await visitorOf(browser, KEY, { reducedMotion: 'reduce' });
  await open(still.page, '/contact?case=in-glide');
  await expect(box(still.page)).toBeVisible();
  expect(await box(still.page).evaluate((element) => getComputedStyle(element).animationName)).toBe('none');
  await still.close();
});

test('each way of closing closes where it is on, and does nothing where it is off', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  const ways = {
    button: async () => {
      const button = page.getByRole('button', { name: 'Close' });
      if (await button.count()) await button.click();
    },
    dim: () => page.mouse.click(20, 20),
    escape: () => page.keyboard.press('Escape'),
  };
  for (const on of Object.keys(ways) as (keyof typeof ways)[]) {
    await open(page, `/contact?case=only-${on}`);
    await expect(box(page)).toBeVisible();
    for (const off of Object.keys(ways) as (keyof typeof ways)[]) if (off !== on) await ways[off]();
    await expect(box(page)).toBeVisible();
    await ways[on]();
    await expect(box(page)).toHaveCount(0);
    await expect.poll(outcomes(page, `c-only-${on}`)).toEqual(['dismissed']);
  }
  await close();
});

test('closing is offered only after its time', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=later');
  await expect(box(page)).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Close' })).toBeHidden();
  await expect(box(page)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Close' })).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(box(page)).toHaveCount(0);
  await close();
});

test('a modal pop-up holds the focus and gives it back; without a dim the page stays usable and keeps it', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/book?case=slow-modal');
  await page.locator('#night').focus();
  await expect(box(page)).toBeVisible();
  const inside = () => page.evaluate(() => document.activeElement?.hasAttribute('data-crindle') ?? false);
  for (let presses = 0; presses < 7; presses++) await page.keyboard.press('Tab');
  // The browser's own bars are part of the round; the page behind is not.
  expect((await inside()) || (await page.evaluate(() => document.activeElement === document.body))).toBe(true);
  await page.keyboard.press('Escape');
  await expect(page.locator('#night')).toBeFocused();

  await open(page, '/book?case=slow-open');
  await page.locator('#night').focus();
  await expect(box(page)).toBeVisible();
  await expect(page.locator('#night')).toBeFocused();
  await page.locator('select[name=hut]').selectOption({ index: 1 });
  await page.keyboard.press('Escape');
  await expect(box(page)).toHaveCount(0);
  await close();
});

test('banners lie over an edge, push the page or stand in a slot', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  for (const [name, edge] of [
    ['top', (y: number) => y === 0],
    ['bottom', (y: number, h: number, all: number) => Math.abs(y + h - all) < 1],
  ] as const) {
    await open(page, `/contact?case=${name}`);
    await expect(box(page)).toBeVisible();
    const at = await box(page).boundingBox();
    expect(edge(at?.y ?? -1, at?.height ?? 0, page.viewportSize()?.height ?? 0)).toBe(true);
    expect(await layoutShift(page)).toBe(0);
    await page.getByRole('button', { name: 'Close' }).click();
    await expect(box(page)).toHaveCount(0);
  }
  await open(page, '/contact?case=pushes');
  await expect(box(page)).toBeVisible();
  const [banner, header] = [await box(page).boundingBox(), await page.locator('header').first().boundingBox()];
  expect(header?.y).toBeGreaterThanOrEqual(banner?.height ?? Infinity);
  await page.getByRole('button', { name: 'Close' }).click();
  expect((await page.locator('header').first().boundingBox())?.y).toBe(0);
  await open(page, '/offers?case=in-slot');
  await expect(page.locator('[data-crindle-slot=offer]').getByText('In the slot')).toBeVisible();
  await close();
});

test('an inset fills its slot, or stands at an element; what was there comes back; without the slot nothing shows', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/offers?case=inset');
  await expect(page.locator('[data-crindle-slot=offer]').getByRole('heading', { name: 'Fills the slot' })).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(page.locator('[data-crindle-slot=offer] [data-crindle]')).toHaveCount(0);
  await open(page, '/contact?case=inset-after');
  await expect(page.locator('h1 + [data-crindle]')).toHaveCount(1);
  await page.clock.install();
  await open(page, '/contact?case=inset');
  await page.clock.runFor(2000);
  await settled(page);
  await expect(page.locator('[data-crindle]')).toHaveCount(0);
  expect(await outcomes(page, 'c-inset')()).toEqual(['dismissed']);
  await close();
});

test('a tab opens its message by hand, as often as asked, and comes back with the focus', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=tab');
  for (let times = 0; times < 2; times++) {
    await page.getByRole('button', { name: 'Ask us' }).click();
    await expect(page.getByRole('dialog', { name: 'Pop-up asked' })).toBeFocused();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('button', { name: 'Ask us' })).toBeFocused();
  }
  await close();
});

test('every block is drawn: values with their fallback, pictures, columns, a clock that runs, a code to copy, a rating', async ({
  browser,
}) => {
  const { page, close } = await visitorOf(browser, KEY, { permissions: ['clipboard-read', 'clipboard-write'] });
  await open(page, '/contact?case=blocks');
  await expect(box(page).getByRole('heading')).toHaveText('Hello walker');
  await expect(box(page).getByAltText('A hut')).toHaveAttribute('width', '300');
  const [left, right] = [await box(page).getByText('Left').boundingBox(), await box(page).getByText('Right').boundingBox()];
  expect(right?.x).toBeGreaterThan((left?.x ?? Infinity) + 50);
  const clock = box(page).getByRole('timer');
  const before = await clock.textContent();
  await expect(clock).not.toHaveText(before ?? '');
  await expect(clock).toHaveText(/^01:29:\d\d$/);
  await box(page).getByRole('button', { name: 'Copy' }).click();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('QUIET');
  await expect(box(page).getByRole('link', { name: 'Ring us' })).toHaveAttribute('href', 'tel:+43512000');
  await box(page).getByRole('button', { name: '4 / 5' }).click();
  await expect(box(page).getByRole('status').filter({ hasText: 'Thank you for the points' })).toBeFocused();
  await expect.poll(outcomes(page, 'c-blocks')).toEqual(['clicked', 'converted']);
  await close();
});

test('axe finds nothing on any message', async ({ browser }) => {
  for (const name of ['at-middle', 'open', 'top', 'pushes', 'tab', 'blocks', 'form', 'flow', 'chat']) {
    const { page, close } = await visitorOf(browser, KEY);
    await open(page, `/contact?case=${name}`);
    await expect(page.locator('[data-crindle]').first()).toBeAttached();
    await still(page.locator('html'));
    const scan = async () =>
      (await faultsOf(page, { within: '[data-crindle]', tags: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] })).map(
        (fault) => `${name} ${fault}`,
      );
    expect(await scan()).toEqual([]);
    if (name === 'chat') {
      await page.getByRole('button', { name: 'Jorun May I ask something?' }).click();
      await still(page.locator('html'));
      expect(await scan()).toEqual([]);
    }
    await close();
  }
});

test('at 320 pixels, and with the page at 400 %, messages fit and can be read to their end', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY, { viewport: { width: 320, height: 256 } });
  for (const name of ['form', 'top', 'blocks', 'long']) {
    await open(page, `/contact?case=${name}`);
    await expect(box(page)).toBeVisible();
    await still(box(page));
    const at = await box(page).boundingBox();
    expect(at && at.x >= 0 && at.x + at.width <= 320 && at.y >= 0 && at.y + at.height <= 256).toBe(true);
    expect(await box(page).evaluate((element) => element.scrollWidth <= element.clientWidth)).toBe(true);
    // Nothing in it is cut off, or stands out of it.
    expect(
      await box(page).evaluate((element) => {
        const { left, right } = element.getBoundingClientRect();
        return [...element.querySelectorAll('*:not(.trap, .trap *, option)')]
          .filter((one) => {
            const at = one.getBoundingClientRect();
            if (at.width === 0) return false;
            return at.left < left - 1 || at.right > right + 1 || (one.clientWidth > 0 && one.scrollWidth > one.clientWidth + 1);
          })
          .map((one) => one.outerHTML.slice(0, 80));
      }),
    ).toEqual([]);
  }
  await open(page, '/contact?case=form');
  await box(page).getByRole('button', { name: 'Send' }).scrollIntoViewIfNeeded();
  await expect(box(page).getByRole('button', { name: 'Send' })).toBeInViewport();
  await close();
});

test('on a screen of a few lines a chat message leaves the page its room until it is opened', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY, { viewport: { width: 320, height: 200 } });
  await open(page, '/contact?case=chat');
  // What it says is heard, not seen.
  const bubble = page.getByRole('button', { name: 'Jorun May I ask something?' });
  await expect(bubble).toBeVisible();
  const at = await bubble.boundingBox();
  expect(at && at.width <= 110 && at.height <= 60).toBe(true);
  await expect(page.getByRole('button', { name: 'Close' })).toBeInViewport();
  await bubble.click();
  await expect(page.getByRole('dialog')).toBeInViewport({ ratio: 0.9 });
  await close();
});

test('moving to leave is not blocked by a message that is open', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=open');
  await expect(box(page)).toBeVisible();
  await moveToLeave(page);
  await expect(box(page)).toBeVisible();
  await close();
});
