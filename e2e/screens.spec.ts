// Every screen, in light and in dark, from the narrowest phone to the widest window.
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { faultsOf } from './axe';
import { openStudio, signIn, STUDIO } from './stack';
import { drawn } from './visitor';

// None changes anything.
test.describe.configure({ mode: 'parallel' });

/** Each screen with what its heading says. */
const SCREENS = [
  ['/today', /^Today/],
  ['/visits', /^Visits/],
  ['/visitors/1', /^Visitor 1$/],
  ['/segments', /^Segments/],
  ['/segments/seg_comparing', /^Segment /],
  ['/segments/overlap', /^Overlap/],
  ['/campaigns', /^Campaigns/],
  ['/campaigns/camp_quiet_weeks', /^Campaign /],
  ['/conversations', /^Conversations/],
  ['/leads', /^Leads/],
  ['/setup', /^Setup/],
  ['/setup/brand', /^Setup/],
  ['/setup/pictures', /^Setup/],
  ['/setup/privacy', /^Setup/],
  ['/account', /^Your account/],
  ['/setup/releases', /^Setup/],
  ['/setup/log', /^Setup/],
  ['/setup/deleted', /^Setup/],
  ['/setup/page-sets', /^Setup/],
  ['/setup/page-sets/set_huts', /^Page set /],
  ['/setup/places', /^Setup/],
  ['/setup/people', /^Setup/],
  ['/setup/connections', /^Setup/],
  ['/setup/connections/conn_ads', /^Setup/],
  ['/setup/places/place_near', /^Place /],
] as const;

/** A screen counts once its heading is there and nothing of it is still being loaded. */
async function openWhole(page: Page, path: string, heading: RegExp): Promise<void> {
  await openStudio(page, path);
  await expect(page.getByRole('heading', { level: 1, name: heading })).toBeAttached();
  await expect(page.locator('.skeleton, [aria-busy=true]')).toHaveCount(0);
}

test('axe finds nothing on the door', async ({ page }) => {
  await page.goto(`${STUDIO}/sign-in`);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Sign in');
  expect(await faultsOf(page)).toEqual([]);
  await page.emulateMedia({ colorScheme: 'dark' });
  expect(await faultsOf(page, { rules: ['color-contrast'] })).toEqual([]);
});

for (const [path, heading] of SCREENS)
  test(`${path}: axe finds nothing in light and dark, and nothing is wider than the screen at 320 to 1920 pixels`, async ({ page }) => {
    await signIn(page);
    await openWhole(page, path, heading);
    expect(await faultsOf(page)).toEqual([]);
    const ink = () =>
      page
        .locator('h1')
        .first()
        .evaluate((element) => getComputedStyle(element).color);
    const light = await ink();
    // Colours are all that the theme changes.
    await page.emulateMedia({ colorScheme: 'dark' });
    await drawn(page);
    expect(await ink()).not.toBe(light);
    expect(await faultsOf(page, { rules: ['color-contrast'] })).toEqual([]);
    for (const width of [320, 800, 1024, 1920]) {
      await page.setViewportSize({ width, height: 700 });
      await drawn(page);
      expect(await page.evaluate(() => document.documentElement.scrollWidth), `at ${width} pixels`).toBeLessThanOrEqual(width);
    }
  });
