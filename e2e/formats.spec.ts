import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { ENTRANCES, POSITIONS } from '../src/core/messages/message';
import { KEY, single, slug } from './formatMessages';
import { ask, moveToLeave, settled, still } from './stack';
import { open, release, visitorOf } from './release';

test.beforeAll(() =>
  release(
    KEY,
    Object.entries(single).map(([name, messages]) => ({
      id: `c-${name}`,
      rule: {
        pages: { on: [{ part: 'parameter', name: 'case', op: 'is', value: name }] },
        moment: { kind: 'delay', seconds: name.startsWith('slow') ? 2.5 : 0.6 },
        pacing: { again: 'always', stop: { converted: false } },
      },
      messages,
    })),
  ),
);

const box = (page: Page) => page.locator('[data-crindle] .box');
const layoutShift = (page: Page): Promise<number> =>
  page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        let sum = 0;
        new PerformanceObserver((list) => {
          for (const entry of list.getEntries() as (PerformanceEntry & { value: number; hadRecentInput: boolean })[])
            if (!entry.hadRecentInput) sum += entry.value;
        }).observe({ type: 'layout-shift', buffered: true });
        // What was kept is told before the second frame is drawn.
        requestAnimationFrame(() => requestAnimationFrame(() => resolve(sum)));
      }),
  );
const outcomes = (page: Page, campaign: string) => async () => {
  const browser = await page.evaluate(
    (key) => (JSON.parse(localStorage.getItem(`crindle:${key}:state`) ?? '{}') as { browser: string }).browser,
    KEY,
  );
  return (
    await ask<{ kind: string }>(
      `select outcome.kind from outcome join showing on showing.site_id = outcome.site_id and showing.id = showing_id join visitor on visitor.site_id = showing.site_id and visitor.id = visitor_id
        where browser_id = $1 and campaign_id = $2 order by outcome.at`,
      [browser, campaign],
    )
  ).map(({ kind }) => kind);
};

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

test('a form checks each field, says what is wrong beside it, keeps what was typed, and sends it once', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=form');
  const form = box(page).locator('form');
  await form.getByLabel('Name').fill('Runa');
  await form.getByLabel('Nights').fill('12');
  await form.getByRole('button', { name: 'Send' }).click();
  await expect(form.getByLabel('Email')).toBeFocused();
  for (const label of ['Email', 'Nights', 'Hut', 'You may write to me'])
    await expect(form.getByLabel(label)).toHaveAttribute('aria-invalid', 'true');
  await expect(form.getByLabel('Name')).toHaveValue('Runa');
  await form.getByLabel('Email').fill('runa@post.example');
  await form.getByLabel('Nights').fill('3');
  await form.getByLabel('Hut').selectOption('Windgate');
  await form.getByLabel('Supper').check();
  await form.getByLabel('Lunch').check();
  await form.getByLabel('First night').fill('2026-12-05');
  await form.getByLabel('You may write to me').check();
  await form.getByRole('button', { name: 'Send' }).click();
  await expect(box(page).getByRole('status')).toHaveText('Thank you, all of it');
  await expect
    .poll(() => ask(`select email, fields from lead join site on site.id = site_id where key = $1 and campaign_id = 'c-form'`, [KEY]))
    .toEqual([
      {
        email: 'runa@post.example',
        fields: {
          who: 'Runa',
          email: 'runa@post.example',
          nights: 3,
          hut: 'Windgate',
          extras: 'Supper, Lunch',
          night: '2026-12-05',
          ok: true,
        },
      },
    ]);
  await close();
});

test('whoever fills in what people do not see is thanked and not kept', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  const sent: string[] = [];
  page.on('request', (request) => (request.postData() ?? '').includes('"kind":"form"') && sent.push(request.url()));
  await open(page, '/contact?case=flow');
  await box(page).getByRole('button', { name: 'Yes' }).click();
  await box(page).getByLabel('Email').fill('robot@post.example');
  await box(page)
    .locator('input[name=website]')
    .evaluate((input) => ((input as HTMLInputElement).value = 'http://spam.example'));
  await box(page).getByRole('button', { name: 'Send' }).click();
  await expect(box(page).getByRole('status')).toHaveText('It is sent');
  await settled(page);
  expect(sent).toEqual([]);
  expect(await ask(`select email from lead where email = 'robot@post.example'`)).toEqual([]);
  await close();
});

test('yes leads to the form, no to a second thought and from there to the form, in the same place without a flash', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=flow');
  await box(page).evaluate((element) => element.setAttribute('data-same', ''));
  await box(page).getByRole('button', { name: 'No', exact: true }).click();
  await expect(page.getByRole('dialog', { name: 'Sure?' })).toBeVisible();
  await box(page).getByRole('button', { name: 'On second thought, yes' }).click();
  await expect(page.getByRole('dialog', { name: 'Where to?' })).toBeVisible();
  await expect(box(page)).toHaveAttribute('data-same', '');
  expect(await layoutShift(page)).toBe(0);
  await box(page).getByLabel('Email').fill('second@post.example');
  await box(page).getByRole('button', { name: 'Send' }).click();
  await expect(box(page).getByRole('status')).toHaveText('It is sent');
  await page.keyboard.press('Escape');
  await expect.poll(outcomes(page, 'c-flow')).toEqual(['clicked', 'converted']);
  await expect
    .poll(() => ask(`select key, value from visitor_change where kind = 'tag' and key = 'said-no'`))
    .toEqual([{ key: 'said-no', value: true }]);
  await close();
});

test('a conversation asks one thing at a time and branches by the answer', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=chat');
  await page.getByRole('button', { name: 'Jorun May I ask something?' }).click();
  const chat = page.getByRole('dialog', { name: 'Jorun' });
  await chat.getByRole('button', { name: 'More' }).click();
  await expect(chat.getByText('Any children?')).toBeVisible();
  await chat.getByRole('button', { name: 'Yes' }).click();
  await chat.getByRole('textbox', { name: 'Where can I write?' }).fill('no email');
  await page.keyboard.press('Enter');
  await expect(chat.getByRole('alert')).not.toBeEmpty();
  await chat.getByRole('textbox', { name: 'Where can I write?' }).fill('family@post.example');
  await page.keyboard.press('Enter');
  await expect(chat.getByText('Thank you.')).toBeVisible();
  await expect
    .poll(() => ask(`select fields from lead where email = 'family@post.example'`))
    .toEqual([{ fields: { party: 'More', children: 'Yes', email: 'family@post.example' } }]);
  expect(
    await ask(
      `select count(*)::int as n from visitor_change where kind = 'tag' and key = 'family' and site_id = (select id from site where key = $1)`,
      [KEY],
    ),
  ).toEqual([{ n: 1 }]);
  await expect.poll(outcomes(page, 'c-chat')).toEqual(['clicked', 'replied', 'converted']);
  await close();
});

test('a quiet action shows nothing, tags, scores and tells the page', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await page.addInitScript(() => {
    addEventListener('DOMContentLoaded', () =>
      (window as unknown as { crindle: { on: (what: string, run: (detail: unknown) => void) => void } }).crindle.on('event', (detail) => {
        (window as unknown as { heard: unknown }).heard = detail;
      }),
    );
  });
  await open(page, '/contact?case=quiet');
  await expect.poll(() => page.evaluate(() => (window as unknown as { heard?: { name: string } }).heard?.name)).toBe('was_quiet');
  await expect(page.locator('[data-crindle]')).toHaveCount(0);
  await expect
    .poll(() =>
      ask(
        `select kind, key, value from visitor_change where (key = 'quiet-one' or kind = 'score') and site_id = (select id from site where key = $1) order by kind`,
        [KEY],
      ),
    )
    .toEqual([
      { kind: 'score', key: 'score', value: 3 },
      { kind: 'tag', key: 'quiet-one', value: true },
    ]);
  await close();
});

test('axe finds nothing on any message', async ({ browser }) => {
  for (const name of ['at-middle', 'open', 'top', 'pushes', 'tab', 'blocks', 'form', 'flow', 'chat']) {
    const { page, close } = await visitorOf(browser, KEY);
    await open(page, `/contact?case=${name}`);
    await expect(page.locator('[data-crindle]').first()).toBeAttached();
    await still(page.locator('html'));
    const scan = async () =>
      (
        await new AxeBuilder({ page })
          .include('[data-crindle]')
          .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
          .analyze()
      ).violations.map(({ id, nodes }) => `${name} ${id} ${nodes[0]?.html}`);
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
  for (const name of ['form', 'top', 'blocks']) {
    await open(page, `/contact?case=${name}`);
    await expect(box(page)).toBeVisible();
    await still(box(page));
    const at = await box(page).boundingBox();
    expect(at && at.x >= 0 && at.x + at.width <= 320 && at.y >= 0 && at.y + at.height <= 256).toBe(true);
    expect(await box(page).evaluate((element) => element.scrollWidth <= element.clientWidth)).toBe(true);
  }
  await open(page, '/contact?case=form');
  await box(page).getByRole('button', { name: 'Send' }).scrollIntoViewIfNeeded();
  await expect(box(page).getByRole('button', { name: 'Send' })).toBeInViewport();
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
