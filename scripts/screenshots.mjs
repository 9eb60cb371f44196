// Renews the pictures in docs/screenshots from a running demo: `./crindle demo --detach && node scripts/screenshots.mjs`.
import { readFileSync } from 'node:fs';
import { chromium } from '@playwright/test';

const run = `${process.env['CRINDLE_DATA'] ?? new URL('../.crindle', import.meta.url).pathname}/run`;
const origin = (name) => `http://127.0.0.1:${readFileSync(`${run}/${name}.port`, 'utf8')}`;
const folder = new URL('../docs/screenshots/', import.meta.url).pathname;

const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--disable-background-networking'],
});
// A headless browser would be taken for a robot, and be shown nothing.
const userAgent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, userAgent });
await context.addCookies([{ name: 'crindle_guide', value: 'left', url: origin('studio') }]);
const page = await context.newPage();
/** Once nothing is a placeholder any more, nor paler for being what was known last. */
const shot = async (name) => {
  await page.waitForFunction(() => !document.querySelector('.skeleton'), undefined, { timeout: 180_000 });
  await page.waitForTimeout(1200);
  await page.screenshot({ path: `${folder}${name}.png` });
  console.log(`  docs/screenshots/${name}.png`);
};

await page.goto(`${origin('studio')}/sign-in`);
await page.getByLabel('Email').fill('ines@tarnhollow.example');
await page.getByLabel('Password').fill('lantern-col');
await page.getByRole('button', { name: 'Sign in' }).click();
await page.waitForURL('**/today');
for (const [name, path] of [
  ['today', '/today'],
  ['visits', '/visits'],
  ['segments', '/segments'],
  ['segment', '/segments/seg_left_booking'],
  ['campaigns', '/campaigns'],
  ['rule', '/campaigns/camp_quiet_weeks'],
  ['results', '/campaigns/camp_basket?tab=results'],
  ['leads', '/leads'],
  ['setup', '/setup'],
  ['connection', '/setup/connections/conn_ads'],
  ['all-results', '/results?days=90'],
  ['conversations', '/conversations'],
  ['privacy', '/setup/privacy'],
]) {
  await page.goto(origin('studio') + path);
  if (name === 'segment') await page.getByText('people now').waitFor({ timeout: 120_000 });
  if (name === 'visits') await page.locator('li svg').first().waitFor({ timeout: 120_000 });
  if (name === 'privacy') {
    // Whoever sent the last lead.
    await page.goto(`${origin('studio')}/leads`);
    const email = (
      await page
        .getByText(/@[\w.]+example/)
        .first()
        .innerText()
    ).trim();
    await page.goto(`${origin('studio')}/setup/privacy?${new URLSearchParams({ by: 'email', value: email })}`);
    await page.getByRole('button', { name: 'Look', exact: true }).click();
    await page.getByRole('link', { name: 'Everything as JSON' }).waitFor();
  }
  if (name === 'today') await page.waitForTimeout(6000);
  if (name === 'campaigns') await page.waitForTimeout(20_000); // Rehearsed together, and each alone.
  if (name === 'segments') await page.locator('td svg').first().waitFor({ timeout: 120_000 });
  if (name === 'conversations') {
    await page.getByRole('button', { name: /There are four of us/ }).click();
    await page.getByLabel('Your answer').fill('The winter');
    await page.waitForTimeout(4000);
  }
  if (name === 'results') await page.getByRole('region', { name: 'The answer' }).waitFor({ timeout: 120_000 });
  if (name === 'rule') await page.waitForTimeout(12_000); // All of the report.
  await shot(name);
}
await page.goto(`${origin('studio')}/visits`);
// Somebody to whom something showed.
await page
  .getByRole('listitem')
  .filter({ has: page.getByRole('img', { name: /shown.*shown/ }) })
  .first()
  .getByRole('link')
  .click();
await page.waitForURL('**/visitors/**');
await shot('visitor');
await page.goto(`${origin('studio')}/campaigns/camp_member_question`);
await page.getByRole('tab', { name: 'Messages' }).click();
await page.getByLabel('Size of the board').selectOption('0.65');
await page.getByLabel('Question of ask').focus();
await shot('message');
await page.goto(`${origin('studio')}/campaigns/begin`);
await page.waitForFunction(() => !document.body.textContent.includes('counting …'), undefined, { timeout: 120_000 });
await shot('begin');
for (const [name, path, campaign] of [
  ['on-site-popup', '/journal/maps-that-lie', 'camp_member_question'],
  ['on-site-chat', '/book/extras', 'camp_basket'],
]) {
  await page.goto(origin('site') + path);
  await page.waitForTimeout(800);
  await page.evaluate((id) => globalThis.crindle.open(id), campaign);
  await shot(name);
}
// The site as it would be, for somebody who is taken to be somewhere else.
await page.goto(`${origin('studio')}/campaigns/camp_quiet_weeks`);
await page.getByRole('button', { name: 'Try it on the site' }).click();
await page.getByLabel('Begin on the page').fill('/huts');
const opened = context.waitForEvent('page');
await page.getByRole('button', { name: 'Open the try-out' }).click();
const tab = await opened;
const dock = tab.getByRole('region', { name: 'Try-out' });
await dock.getByText('move to leave').first().waitFor();
for (const path of ['/huts/skarn-shelter', '/huts/upper-moss']) await tab.goto(origin('site') + path);
await dock.getByText('move to leave').first().waitFor();
await dock.getByRole('button', { name: 'Scroll', exact: true }).click();
await dock.getByRole('button', { name: 'Wait', exact: true }).click();
await dock.getByRole('button', { name: /the weather is as it is/ }).click();
await dock.getByRole('button', { name: 'it snows' }).click();
await tab.evaluate(() => scrollTo(0, 0));
await tab.waitForTimeout(3000);
await tab.screenshot({ path: `${folder}tryout.png` });
console.log('  docs/screenshots/tryout.png');
await browser.close();
