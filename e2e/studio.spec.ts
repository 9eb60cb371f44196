import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { ask, newVisitor, openStudio, signIn, SITE, STUDIO, untilAtWork, visit } from './stack';

const SCREENS = [
  '/today',
  '/visits',
  '/visitors/1',
  '/segments',
  '/segments/seg_comparing',
  '/segments/overlap',
  '/campaigns',
  '/campaigns/camp_quiet_weeks',
  '/leads',
  '/setup',
  '/setup/page-sets',
  '/setup/page-sets/set_huts',
  '/setup/places',
  '/setup/places/place_near',
] as const;

test('who is not signed in is sent to sign in, and a wrong password is told', async ({ page }) => {
  await page.goto(`${STUDIO}/campaigns`);
  await page.waitForURL('**/sign-in');
  await page.getByLabel('Email').fill('ines@tarnhollow.example');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('This email and password do not go together.')).toBeVisible();
  await expect(page.getByLabel('Email')).toHaveValue('ines@tarnhollow.example');
});

for (const scheme of ['light', 'dark'] as const) {
  test(`axe finds nothing on any screen, ${scheme}`, async ({ browser }) => {
    test.setTimeout(240_000);
    const context = await browser.newContext({ colorScheme: scheme, viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    await page.goto(`${STUDIO}/sign-in`);
    const broken: string[] = [];
    const check = async (): Promise<void> => {
      const { violations } = await new AxeBuilder({ page }).analyze();
      for (const { id, nodes } of violations)
        broken.push(
          `${new URL(page.url()).pathname} ${id}: ${nodes
            .slice(0, 2)
            .map(({ html }) => html.slice(0, 140))
            .join(' | ')}`,
        );
    };
    await check();
    await signIn(page);
    for (const screen of SCREENS) {
      await page.goto(STUDIO + screen);
      await page.waitForTimeout(600);
      await check();
    }
    expect(broken).toEqual([]);
    await context.close();
  });
}

test('nothing is wider than the screen at 1024 and 1920 pixels, and at four times the size', async ({ browser }) => {
  test.setTimeout(180_000);
  const wide: string[] = [];
  for (const width of [320, 1024, 1920]) {
    const context = await browser.newContext({ viewport: { width, height: 700 } });
    const page = await context.newPage();
    await signIn(page);
    for (const screen of SCREENS) {
      await page.goto(STUDIO + screen);
      await page.waitForTimeout(1200);
      const found = await page.evaluate(() => document.documentElement.scrollWidth);
      if (found > width) wide.push(`${screen} is ${found} wide at ${width}`);
    }
    await context.close();
  }
  expect(wide).toEqual([]);
});

test('setup says within seconds that the script was seen, and where it is turned away', async ({ page, browser }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/setup`);
  const { context, page: visitor } = await newVisitor(browser);
  await visit(visitor, '/contact');
  await expect(page.getByText(/Seen \d s ago/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'Is it there?' }).getByRole('cell', { name: '/contact' })).toBeVisible();
  await page.getByLabel(/One host a line/).fill('https://www.example.com/path');
  await page.getByRole('button', { name: 'Save addresses' }).click();
  await expect(page.getByText(/addresses\.0: met "https:\/\/www\.example\.com\/path", expected a host/)).toBeVisible();
  await context.close();
});

test('who is recorded and which parameters are kept is set in setup, and holds for the next visitor', async ({ page, browser }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/setup`);
  const kept = page.getByLabel(/Parameters of addresses/);
  const before = await kept.inputValue();
  await kept.fill('utm_* a=b');
  await page.getByRole('button', { name: 'Save privacy' }).click();
  await expect(page.getByText(/keptParameters\.1: met "a=b", expected a parameter’s name/)).toBeVisible();
  await kept.fill(`${before} from`);
  await page.getByRole('button', { name: 'Save privacy' }).click();
  await expect(page.getByText('Saved; it holds within seconds')).toBeVisible();
  await page.waitForTimeout(1200);
  const { context, page: visitor } = await newVisitor(browser);
  await visit(visitor, '/contact?from=letter&secret=1');
  await context.close();
  const views = await ask<{ url: string }>(`select url from page_view where url like '%/contact?%' order by at desc limit 1`);
  expect(views[0]?.url).toBe(`${SITE}/contact?from=letter`);
  await page.getByRole('radio', { name: /Only those who have agreed/ }).check();
  await page.getByRole('button', { name: 'Save privacy' }).click();
  await expect(page.getByText('data-consent="ask"')).toBeVisible();
  await page.waitForTimeout(1200);
  const { context: other, page: shy } = await newVisitor(browser);
  await visit(shy, '/contact?from=shy');
  await other.close();
  expect(await ask(`select from page_view where url like '%from=shy'`)).toEqual([]);
  await expect(page.getByText(/requests? in 7 days of visitors who have not agreed/)).toBeVisible();
  await page.getByRole('radio', { name: /Everyone but those/ }).check();
  await kept.fill(before);
  await page.getByRole('button', { name: 'Save privacy' }).click();
  await expect(page.getByText('data-consent="ask"')).toHaveCount(0);
});

test('what cannot be right is named, is not saved, and is not lost', async ({ page }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/segments/seg_readers`);
  await page.getByLabel('Name of the segment').fill('');
  await expect(page.getByText(/Not saved: name: met "", expected a length of at least 1/)).toBeVisible();
  await page.getByLabel('Name of the segment').fill('Comparing huts');
  await expect(page.getByText('Something else here is already called “Comparing huts”')).toBeVisible();
  const long = `${'Route readers \u{1f3d4} قراء '.repeat(20)}`.slice(0, 200);
  await page.getByLabel('Name of the segment').fill(long);
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('Name of the segment')).toHaveValue(long.trim());
  await page.getByRole('textbox', { name: 'Times' }).fill('many');
  await expect(page.getByText('Times: expected 0 to 1000')).toBeVisible();
});

test('a segment that is used cannot be deleted, and says where it is used', async ({ page }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/segments/seg_comparing`);
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText(/It is used by .*“Quiet weeks”.*Take it out there first\./)).toBeVisible();
});

test('the order of campaigns and the budget are set in one place, and are part of the next release', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/campaigns');
  const names = () => page.getByRole('row').getByRole('link').allTextContents();
  await expect.poll(async () => (await names()).length).toBeGreaterThan(1);
  const before = await names();
  await page.getByRole('button', { name: `Move ${before[1]} up` }).press('Enter');
  await expect.poll(names).toEqual([before[1], before[0], ...before.slice(2)]);
  await page.getByRole('checkbox', { name: /at most/ }).check();
  await page.getByLabel('Showings a visit').fill('3');
  await page.getByRole('button', { name: /^Publish release/ }).click();
  const panel = page.getByRole('dialog');
  await expect(panel.getByText('The order of campaigns is changed')).toBeVisible();
  await expect(panel.getByText('The site’s budget is changed')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('checkbox', { name: /at most/ }).uncheck();
  await page.getByRole('button', { name: `Move ${before[0]} up` }).press('Enter');
  await expect.poll(names).toEqual(before);
  // Dragging, from the keyboard: taken up, one down, put down.
  const rehearsed = () => page.getByRole('row').nth(1).getByRole('cell').nth(4).textContent();
  await expect.poll(rehearsed, { timeout: 60_000 }).toMatch(/^\d/);
  const handle = page.getByRole('button', { name: `Drag ${before[0]}`, exact: true });
  await handle.focus();
  for (const key of ['Space', 'ArrowDown', 'Space']) {
    await page.keyboard.press(key);
    await page.waitForTimeout(300);
  }
  await expect.poll(names).toEqual([before[1], before[0], ...before.slice(2)]);
  await page.reload();
  await untilAtWork(page);
  await expect.poll(names).toEqual([before[1], before[0], ...before.slice(2)]);
  await page.getByRole('button', { name: `Move ${before[0]} up` }).press('Enter');
  await expect.poll(names).toEqual(before);
  const refused = await page.request.put(`${STUDIO}/api/campaigns/order`, {
    data: { campaigns: ['camp_packing'] },
    headers: { origin: STUDIO },
  });
  expect(refused.status()).toBe(409);
});

test('two editors at once: the second is told instead of overwriting', async ({ browser }) => {
  const context = await browser.newContext();
  const [first, second] = [await context.newPage(), await context.newPage()];
  await signIn(first);
  for (const page of [first, second]) await page.goto(`${STUDIO}/segments/seg_left_booking`);
  await first.getByLabel('Name of the segment').fill('Left the booking');
  await expect(first.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  await second.getByLabel('Name of the segment').fill('Booking left');
  await expect(second.getByText('This was changed elsewhere since you opened it')).toBeVisible();
  await expect(second.getByLabel('Name of the segment')).toHaveValue('Booking left');
  await context.close();
});

test('the API refuses what does not come from the studio, and explains bad input', async ({ page }) => {
  await signIn(page);
  const post = (body: string, origin: string) =>
    page.request.post(`${STUDIO}/api/segments`, { data: body, headers: { origin, 'content-type': 'application/json' } });
  expect((await post('{}', 'http://elsewhere.example')).status()).toBe(403);
  const bad = await post('{"name":"x","lookback":900,"people":{"kind":"nobody"}}', STUDIO);
  expect(bad.status()).toBe(422);
  expect(((await bad.json()) as { error: { message: string } }).error.message).toBe(
    'lookback: met 900, expected at most 540; people.kind: met "nobody", expected a known kind',
  );
  const circle = await page.request.put(`${STUDIO}/api/segments/seg_newsletter`, {
    data: { name: 'Newsletter arrivals', lookback: 30, people: { kind: 'segment', id: 'seg_newsletter' }, revision: 1 },
    headers: { origin: STUDIO },
  });
  expect(circle.status()).toBe(422);
});
