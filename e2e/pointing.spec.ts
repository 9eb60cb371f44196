// Fields that want a page or an element are filled by going to the site and pointing.
import type { Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { newCampaign } from './board';
import { ask, COLLECTOR, openFamily, openStudio, signIn, SITE } from './stack';

const bar = (page: Page) => page.getByRole('region', { name: 'Pointing' });
const ruleOf = async (id: string) =>
  (await ask<{ rule: Record<string, unknown> }>(`select rule from campaign where id = $1`, [id]))[0]?.rule;

/** Opens the site from a field of the campaign's rule. */
async function pointFor(page: Page, id: string, family: string): Promise<Page> {
  await openStudio(page, `/campaigns/${id}`);
  await openFamily(page, family);
  const opened = page.context().waitForEvent('page');
  await page.getByRole('button', { name: 'pick it on the site' }).first().click();
  const tab = await opened;
  await expect(bar(tab)).toBeVisible();
  return tab;
}

/** As a build makes it: no ids, and classes that the next build will not have. */
const built = (salt: string): string => `<!doctype html><title>Built</title>
  <div class="css-${salt}9z _${salt}x7Q"><header class="sc-${salt}bdRM"><a href="/">Home</a></header>
  <main class="kPq${salt}TfX"><section class="css-${salt}1a"><h2 class="css-${salt}2b">One</h2><button class="css-${salt}3c">Book one</button></section>
  <section class="css-${salt}1a"><h2 class="css-${salt}2b">Two</h2><div class="e1k${salt}0"><button class="css-${salt}3c" id="wanted-${salt}17364829"><span class="css-${salt}4d">Book two</span></button></div></section></main></div>
  <script src="${COLLECTOR}/page.js" data-site="tarnhollowdemo" async></script>`;

async function serve(page: Page, salt: string): Promise<void> {
  await page.context().unroute(`${SITE}/built`);
  await page.context().route(`${SITE}/built`, (route) => route.fulfill({ contentType: 'text/html', body: built(salt) }));
}

test('a button in generated markup is pointed at, and found when the site is built anew', async ({ page }) => {
  await signIn(page);
  await serve(page, 'a1f');
  const id = await newCampaign(page, { rule: { moment: { kind: 'click', selector: '#before' } } });
  const tab = await pointFor(page, id, 'Moment when');
  await tab.goto(`${SITE}/built`);
  await expect(bar(tab)).toContainText('Point at the element');
  // The words inside the button are clicked; by key it is widened to the button. Nothing of it happens on the page.
  await tab.evaluate(() => document.addEventListener('click', () => (document.title = 'clicked')));
  await tab.getByText('Book two').click();
  await expect(bar(tab)).toContainText('<span>');
  await tab.keyboard.press('ArrowUp');
  await expect(bar(tab)).toContainText('<button>');
  const offers = bar(tab).getByRole('list', { name: 'Take' }).getByRole('button');
  await expect(offers.first()).toContainText('this element alone');
  // What a build made comes last, and says so.
  await expect(offers.last()).toContainText('may be another tomorrow');
  for (const fleeting of await offers.filter({ hasText: 'may be another tomorrow' }).locator('code').allInnerTexts())
    expect(fleeting).toMatch(/a1f/);
  const lasting = await offers.filter({ hasNotText: 'may be another tomorrow' }).locator('code').allInnerTexts();
  expect(lasting.length).toBeGreaterThan(0);
  for (const selector of lasting) expect(selector).not.toMatch(/a1f/);
  const [chosen = ''] = lasting;
  await offers.first().click();
  await expect(bar(tab)).toContainText('stands in the studio now');
  expect(await tab.title()).toBe('Built');
  await expect(page.getByLabel('Selector')).toHaveValue(chosen);
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  expect(await ruleOf(id)).toMatchObject({ moment: { kind: 'click', selector: chosen } });
  await serve(page, 'zz9');
  await tab.goto(`${SITE}/built`);
  for (const selector of lasting)
    expect([selector, await tab.evaluate((one) => [...document.querySelectorAll(one)].map(({ id: met }) => met), selector)]).toEqual([
      selector,
      ['wanted-zz917364829'],
    ]);
});

test('an element with an id, a mark or a class of its own is found by that, with how many there are', async ({ page }) => {
  await signIn(page);
  await page.context().route(`${SITE}/own`, (route) =>
    route.fulfill({
      contentType: 'text/html',
      body: `<!doctype html><title>Own</title><main><button id="book-now" class="primary" data-action="book">Book</button>
        <a class="card" href="/huts/a">A</a><a class="card" href="/huts/b">B</a></main>
        <script src="${COLLECTOR}/page.js" data-site="tarnhollowdemo" async></script>`,
    }),
  );
  const id = await newCampaign(page, { rule: { moment: { kind: 'click', selector: '#x' } } });
  const tab = await pointFor(page, id, 'Moment when');
  await tab.goto(`${SITE}/own`);
  const offers = bar(tab).getByRole('list', { name: 'Take' }).getByRole('button');
  await expect(bar(tab)).toContainText('Point at the element');
  await tab.getByRole('button', { name: 'Book', exact: true }).click();
  await expect(offers.nth(0)).toContainText('#book-now');
  await expect(offers.nth(1)).toContainText('[data-action="book"]');
  await tab.keyboard.press('Escape');
  await tab.getByRole('link', { name: 'B' }).click();
  await expect(offers.first()).toContainText('a[href="/huts/b"]');
  await expect(offers.filter({ hasText: '2 elements here' }).first()).toContainText('.card');
  // By keys alone: wider, narrower, and taken.
  await tab.keyboard.press('ArrowUp');
  await expect(bar(tab)).toContainText('<main>');
  await tab.keyboard.press('ArrowDown');
  await expect(bar(tab)).toContainText('<a>');
  await tab.keyboard.press('Enter');
  await offers.first().focus();
  await tab.keyboard.press('Enter');
  await expect(page.getByLabel('Selector')).toHaveValue('a[href="/huts/b"]');
});

test('a page is picked by walking there, itself or its section, with its recorded views', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page, {});
  await openStudio(page, `/campaigns/${id}`);
  await openFamily(page, 'Pages where');
  const before = await ask(`select (select count(*)::int from page_view) as views, (select count(*)::int from visitor) as visitors`);
  const opened = page.context().waitForEvent('page');
  await page.getByRole('button', { name: 'pick it on the site' }).first().click();
  const tab = await opened;
  await expect(bar(tab)).toContainText('Walk to the page');
  await tab.goto(`${SITE}/huts/upper-moss`);
  const offers = bar(tab).getByRole('list', { name: 'Take' }).getByRole('button');
  await expect(offers).toContainText([/^\/huts\/upper-moss/, /^\/huts\/\*/, /^\/huts\/\*\*/]);
  await expect(offers.first()).toContainText(/\d+ recorded views? of 1 page/);
  await offers.filter({ hasText: 'everything under /huts' }).click();
  await expect(page.getByRole('region', { name: 'The rule as a sentence' })).toContainText('on /huts/**');
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  expect(await ruleOf(id)).toMatchObject({ pages: { on: [{ op: 'like', value: '/huts/**' }] } });
  expect(await ask(`select (select count(*)::int from page_view) as views, (select count(*)::int from visitor) as visitors`)).toEqual(
    before,
  );
  await bar(tab).getByRole('button', { name: 'Leave' }).click();
  await expect(bar(tab)).toHaveCount(0);
});

test('a class typed without its dot is noticed', async ({ page }) => {
  await signIn(page);
  const [{ print = '' } = {}] = await ask<{ print: string }>(
    `select one ->> 'what' as print from signal_piece, jsonb_array_elements(signals) as one where one ->> 's' = 'click' and one ->> 'what' like '%.%' limit 1`,
  );
  const name = /\.([\w-]+)/.exec(print)?.[1] ?? '';
  expect(name).not.toBe('');
  const id = await newCampaign(page, { rule: { moment: { kind: 'click', selector: name } } });
  await openStudio(page, `/campaigns/${id}`);
  await expect(page.getByText(`did you mean “.${name}”?`)).toBeVisible();
  await page.getByRole('button', { name: `Use .${name}` }).click();
  await expect(page.getByRole('region', { name: 'The rule as a sentence' })).toContainText(`.${name}`);
});
