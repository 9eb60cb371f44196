import { createHmac } from 'node:crypto';
import { expect, test } from '@playwright/test';
import { ask, openStudio, signIn, SITE, STUDIO, untilAtWork, visit } from './stack';
import { newVisitor } from './visitor';

test('who is not signed in is sent to sign in, and a wrong password is told', async ({ page }) => {
  await page.goto(`${STUDIO}/campaigns`);
  await page.waitForURL('**/sign-in');
  await page.getByLabel('Email').fill('ines@tarnhollow.example');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('This email and password do not go together.')).toBeVisible();
  await expect(page.getByLabel('Email')).toHaveValue('ines@tarnhollow.example');
});

test('setup says within seconds that the script was seen, and where it is turned away', async ({ page, browser }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/setup`);
  const { context, page: visitor } = await newVisitor(browser);
  await visit(visitor, '/contact');
  await expect(page.getByText(/Seen \d+ (s|min) ago/)).toBeVisible();
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
  // The collector remembers a site for a moment.
  let letters = 0;
  await expect(async () => {
    const name = `letter${++letters}`;
    const { context, page: visitor } = await newVisitor(browser);
    await visit(visitor, `/contact?from=${name}&secret=1`);
    await context.close();
    const views = await ask<{ url: string }>(`select url from page_view where url like $1`, [`%from=${name}%`]);
    expect(views).toEqual([{ url: `${SITE}/contact?from=${name}` }]);
  }).toPass();
  await page.getByRole('radio', { name: /Only those who have agreed/ }).check();
  await page.getByRole('button', { name: 'Save privacy' }).click();
  await expect(page.getByText('data-consent="ask"')).toBeVisible();
  let visits = 0;
  await expect(async () => {
    const name = `shy${++visits}`;
    const { context: other, page: shy } = await newVisitor(browser);
    await visit(shy, `/contact?from=${name}`);
    await other.close();
    expect(await ask(`select from page_view where url like $1`, [`%from=${name}`])).toEqual([]);
  }).toPass();
  await expect(page.getByText(/requests? in 7 days of visitors who have not agreed/)).toBeVisible();
  await page.getByRole('radio', { name: /Everyone but those/ }).check();
  await kept.fill(before);
  await page.getByRole('button', { name: 'Save privacy' }).click();
  await expect(page.getByText('data-consent="ask"')).toHaveCount(0);
});

test('a site gets a secret for its server, and believes only what that has signed', async ({ page, browser }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/setup`);
  const section = page.getByRole('region', { name: 'Who visitors say they are' });
  await expect(section.getByRole('checkbox')).toBeDisabled();
  await section.getByRole('button', { name: 'Make a secret' }).click();
  await expect(section.getByText('shown this once')).toBeVisible();
  const secret = await section.locator('pre').first().innerText();
  await section.getByRole('checkbox').check();
  await expect(page.getByText('Saved; it holds within seconds')).toBeVisible();
  // Never shown again.
  await page.reload();
  await expect(section.getByRole('checkbox')).toBeChecked();
  await expect(section.locator('pre')).toHaveCount(0);

  const { context, page: visitor } = await newVisitor(browser);
  await visit(visitor, '/contact');
  const say = (person: object) =>
    visitor.evaluate((given) => (window as unknown as { crindle: { person: (person: object) => void } }).crindle.person(given), person);
  const known = (email: string) => ask(`select from visitor where email = $1`, [email]);
  const [mine, theirs] = ['signed-walker@post.example', 'unsigned-walker@post.example'];
  const signature = createHmac('sha256', secret).update(`m-4711\n${mine}`).digest('hex');
  // The collector remembers a site for a moment; what is unsigned is told here once it no longer does.
  await expect(async () => {
    await say({ email: theirs });
    await expect(page.getByText(/without your server’s signature/)).toBeVisible({ timeout: 4000 });
  }).toPass();
  await ask(`update visitor set email = null where email = $1`, [theirs]);
  await say({ id: 'm-4711', email: theirs, signature });
  await say({ id: 'm-4711', email: mine, signature });
  await expect.poll(() => known(mine)).toHaveLength(1);
  expect(await known(theirs)).toEqual([]);
  await context.close();
  await section.getByRole('checkbox').uncheck();
  await expect(page.getByText('Saved; it holds within seconds')).toBeVisible();
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
  // A name that long makes nothing wider than the screen where segments stand beside each other.
  await page.setViewportSize({ width: 1024, height: 700 });
  await openStudio(page, '/segments/overlap');
  await expect(page.getByRole('checkbox', { name: long.trim() })).toBeVisible();
  await expect(page.getByRole('table')).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1024);
  await openStudio(page, '/segments/seg_readers');
  await page
    .getByRole('region', { name: 'The segment as a sentence' })
    .getByRole('button', { name: /^viewed/ })
    .click();
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
  // Each order is kept before the next one is made, so that the answer waited for is its own.
  const answered = () => page.waitForResponse((response) => response.url().endsWith('/api/campaigns/order') && response.ok());
  const first = answered();
  await page.getByRole('button', { name: `Move ${before[1]} up` }).press('Enter');
  await expect.poll(names).toEqual([before[1], before[0], ...before.slice(2)]);
  await first;
  await page.getByRole('checkbox', { name: /at most/ }).check();
  await page.getByLabel('Showings a visit').fill('3');
  await page.getByRole('button', { name: /^Publish release/ }).click();
  const panel = page.getByRole('dialog');
  await expect(panel.getByText('The order of campaigns is changed')).toBeVisible();
  await expect(panel.getByText('The site’s budget is changed')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('checkbox', { name: /at most/ }).uncheck();
  const back = answered();
  await page.getByRole('button', { name: `Move ${before[0]} up` }).press('Enter');
  await expect.poll(names).toEqual(before);
  await back;
  // Dragging, from the keyboard: taken up, one down, put down.
  const rehearsed = () => page.getByRole('row').nth(1).getByRole('cell').nth(4).textContent();
  await expect.poll(rehearsed).toMatch(/^\d/);
  const handle = page.getByRole('button', { name: `Drag ${before[0]}`, exact: true });
  const kept = answered();
  await handle.focus();
  for (const [key, said] of [
    ['Space', / is (taken up|now number 1)$/],
    ['ArrowDown', / is now number 2$/],
    ['Space', / is put down as number 2$/],
  ] as const) {
    await page.keyboard.press(key);
    await expect(page.locator('[id^=DndLiveRegion]')).toHaveText(said);
  }
  await expect.poll(names).toEqual([before[1], before[0], ...before.slice(2)]);
  // Whoever loads the page anew before that is kept sees the order that was.
  await kept;
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
  // Both changed the name: the second one's stands, and what only the first one changed is there.
  await first.getByLabel('Type a phrase into the segment').fill('from Austria');
  await first.getByLabel('Type a phrase into the segment').press('Enter');
  await expect(first.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  await second.getByRole('button', { name: 'Put both together' }).click();
  await expect(second.getByText('Both of you changed name: yours stands there')).toBeVisible();
  await expect(second.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  await expect(second.getByRole('region', { name: 'The segment as a sentence' })).toContainText('AT');
  expect(await ask(`select name, people::text like '%AT%' as "hasBoth" from segment where id = 'seg_left_booking'`)).toEqual([
    { name: 'Booking left', hasBoth: true },
  ]);
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
