import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import type { Moment } from '../src/core/moments/moment';
import type { Expr } from '../src/core/logic/expr';
import type { Rule } from '../src/core/rules/schema';
import { ask } from './stack';
import { moveToLeave, scrollTo, settled } from './visitor';
import { open, release, visitorOf } from './release';

const KEY = 'momentsite';
const message = (text: string) => ({
  id: 'm',
  format: 'popup' as const,
  closes: { button: true, dim: true, escape: true },
  blocks: [{ kind: 'heading' as const, text }],
});
const on = (name: string): NonNullable<Rule['pages']> => ({ on: [{ part: 'parameter', name: 'case', op: 'is', value: name }] });
const pacing = { again: 'always' as const, stop: { converted: false } };

interface Case {
  readonly moment: Expr<Moment>;
  readonly path: string;
  /** What does not bring it yet. */
  readonly not?: (page: Page) => Promise<unknown>;
  readonly act: (page: Page) => Promise<unknown>;
  readonly touch?: true;
}
const wait = (ms: number) => (page: Page) => page.clock.runFor(ms);

const CASES: Record<string, Case> = {
  open: { moment: { kind: 'open' }, path: '/contact', act: wait(0) },
  delay: { moment: { kind: 'delay', seconds: 1.5 }, path: '/contact', not: wait(400), act: wait(1500) },
  engaged: { moment: { kind: 'delay', seconds: 1.5, counting: 'engaged' }, path: '/contact', not: wait(400), act: wait(1500) },
  scroll: {
    moment: { kind: 'scroll', atLeast: 60 },
    path: '/journal/maps-that-lie',
    not: (page) => scrollTo(page, 0.4),
    act: (page) => scrollTo(page, 0.62),
  },
  'scroll-start': { moment: { kind: 'scrollStart' }, path: '/journal/maps-that-lie', not: wait(300), act: (page) => scrollTo(page, 0.05) },
  exit: { moment: { kind: 'exit' }, path: '/contact', not: (page) => page.mouse.move(300, 300), act: moveToLeave },
  idle: { moment: { kind: 'idle', seconds: 2 }, path: '/contact', not: wait(800), act: wait(1800) },
  click: {
    moment: { kind: 'click', selector: '#book-now' },
    path: '/huts/windgate',
    not: (page) => page.locator('h1').click(),
    act: clickBook,
  },
  clicks: {
    moment: { kind: 'clicks', atLeast: 2 },
    path: '/contact',
    not: (page) => page.locator('h1').click(),
    act: (page) => page.locator('main p').first().click(),
  },
  event: {
    moment: { kind: 'event', name: 'quote_opened' },
    path: '/gear-hire/light-kit',
    not: (page) => page.locator('[data-kit]').click(),
    act: (page) => page.locator('[data-quote]').click(),
  },
  reach: {
    moment: { kind: 'reach', selector: 'footer' },
    path: '/journal/maps-that-lie',
    not: (page) => scrollTo(page, 0.3),
    act: (page) => scrollTo(page, 1),
  },
  visible: {
    moment: { kind: 'visible', selector: '#join', share: 60, seconds: 1 },
    path: '/membership',
    not: wait(1200),
    act: (page) => scrollTo(page, 1).then(() => page.clock.runFor(1100)),
  },
  'visible-later': {
    moment: { kind: 'visible', selector: '.late', share: 50 },
    path: '/contact',
    not: wait(500),
    act: (page) => page.evaluate(() => document.querySelector('h1')?.insertAdjacentHTML('afterend', '<p class="late">Late</p>')),
  },
  'exit-touch': {
    moment: { kind: 'exit' },
    path: '/journal/maps-that-lie',
    touch: true,
    not: (page) => scrollTo(page, 0.5),
    act: async (page) => {
      // All at once in the page: the way up may take four tenths of a second.
      await page.evaluate(async () => {
        for (let step = 0; step < 6; step++)
          await new Promise((scrolled) => {
            document.addEventListener('scroll', scrolled, { once: true });
            window.scrollBy(0, -120);
          });
      });
    },
  },
};

/** The link would lead away before anything shows. */
async function clickBook(page: Page): Promise<void> {
  await page.evaluate(() => document.querySelector('#book-now')?.addEventListener('click', (event) => event.preventDefault()));
  await page.locator('#book-now').click();
}

const popup = (page: Page) => page.locator('[data-crindle] .box');

test.beforeAll(() =>
  release(
    KEY,
    [
      ...Object.entries(CASES).map(([name, { moment }]) => ({
        id: `c-${name}`,
        rule: { pages: on(name), moment, pacing },
        messages: [message(name)],
      })),
      {
        id: 'weekly',
        rule: { pages: on('weekly'), moment: { kind: 'open' as const }, pacing: { again: { days: 7 } } },
        messages: [message('weekly')],
      },
      ...['first', 'second', 'third'].map((id) => ({
        id,
        rule: { pages: on('order'), moment: { kind: 'open' as const }, pacing: { again: 'visit' as const } },
        messages: [message(id)],
      })),
      {
        id: 'held',
        rule: { pages: on('held'), moment: { kind: 'open' as const }, pacing: { again: 'always' as const } },
        messages: [message('held')],
        holdout: 0.9,
      },
      {
        id: 'blocker',
        rule: { people: { kind: 'adBlocker' as const, is: true }, pages: on('blocker'), moment: { kind: 'open' as const }, pacing },
        messages: [message('blocker')],
      },
      {
        id: 'no-blocker',
        rule: { people: { kind: 'adBlocker' as const, is: false }, pages: on('blocker'), moment: { kind: 'open' as const }, pacing },
        messages: [message('no blocker')],
      },
    ],
    { gapSeconds: 2, perVisit: 40 },
  ),
);

for (const [name, { path, not, act, touch }] of Object.entries(CASES))
  test(`the moment ${name} is when the message shows, and not before`, async ({ browser }) => {
    const { page, close } = await visitorOf(
      browser,
      KEY,
      touch ? { hasTouch: true, isMobile: true, viewport: { width: 390, height: 800 } } : {},
    );
    // Time stands still but for what is let go by here: a slow machine must not bring a moment about.
    const at = Date.now();
    await page.clock.install({ time: at });
    await page.clock.pauseAt(at + 1000);
    await open(page, `${path}?case=${name}`);
    if (not) {
      await not(page);
      await page.clock.runFor(50);
      await settled(page);
      await expect(popup(page)).toHaveCount(0);
    }
    await act(page);
    await expect(async () => {
      await page.clock.runFor(50);
      expect(await popup(page).isVisible()).toBe(true);
    }).toPass();
    await expect(popup(page).getByRole('heading')).toHaveText(name);
    await close();
  });

test('not again for seven days: gone on the next page and the sixth day, back on the eighth', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  const at = Date.parse('2026-11-01T10:00:00Z');
  await page.clock.install({ time: at });
  let before = 0;
  for (const [day, shows] of [
    [0, true],
    [0.001, false],
    [6, false],
    [7.1, true],
  ] as const) {
    await page.clock.setSystemTime(at + day * 86_400_000);
    // The collector has its own memory, and a clock that nobody sets: there, too, the days go by.
    await ask(`update showing set at = at - make_interval(secs => $2) where site_id = (select id from site where key = $1)`, [
      KEY,
      (day - before) * 86_400,
    ]);
    before = day;
    await open(page, '/contact?case=weekly');
    await page.clock.runFor(2500);
    await expect(popup(page)).toHaveCount(shows ? 1 : 0);
  }
  await close();
});

test('where several could show, the site’s order decides, one after the other, with the gap between', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=order');
  for (const name of ['first', 'second', 'third']) {
    await expect(popup(page).getByRole('heading')).toHaveText(name);
    const shownAt = Date.now();
    await page.keyboard.press('Escape');
    await expect(popup(page)).toHaveCount(0);
    if (name !== 'third') {
      await expect(popup(page)).toBeVisible();
      expect(Date.now() - shownAt).toBeGreaterThan(1000);
    }
  }
  await close();
});

test('the holdout sees nothing and is counted, always the same for a browser', async ({ browser }) => {
  let held = 0;
  for (let visitor = 0; visitor < 6; visitor++) {
    const { page, close } = await visitorOf(browser, KEY);
    const reported = page.waitForRequest((request) => (request.postData() ?? '').includes('"kind":"showing"'));
    await open(page, '/contact?case=held');
    const body = (await reported).postData() ?? '';
    const isShown = body.includes('"shown":true');
    await settled(page);
    await expect(popup(page)).toHaveCount(isShown ? 1 : 0);
    if (!isShown) held++;
    await close();
  }
  expect(held).toBeGreaterThanOrEqual(3);
});

test('an ad blocker is told from what it hides', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=blocker');
  await expect(popup(page).getByRole('heading')).toHaveText('no blocker');
  await close();
  const blocked = await visitorOf(browser, KEY);
  await blocked.page.addInitScript(() =>
    addEventListener('DOMContentLoaded', () => {
      const style = document.createElement('style');
      style.textContent = '.adsbox{display:none!important}';
      document.head.append(style);
    }),
  );
  await open(blocked.page, '/contact?case=blocker');
  await expect(popup(blocked.page).getByRole('heading')).toHaveText('blocker');
  await blocked.close();
});
