// Renews the pictures in docs/screenshots from a running demo: `./crindle demo --detach && node scripts/screenshots.mjs`.
import { readFileSync } from 'node:fs';
import { chromium } from '@playwright/test';

const run = `${process.env['CRINDLE_DATA'] ?? new URL('../.crindle', import.meta.url).pathname}/run`;
const origin = (name) => `http://127.0.0.1:${readFileSync(`${run}/${name}.port`, 'utf8')}`;
const folder = new URL('../docs/screenshots/', import.meta.url).pathname;

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-background-networking'] });
const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
const shot = async (name) => {
  await page.waitForTimeout(1200);
  await page.screenshot({ path: `${folder}${name}.png` });
  console.log(`  docs/screenshots/${name}.png`);
};

await page.goto(`${origin('studio')}/sign-in`);
await page.getByLabel('Email').fill('ines@tarnhollow.example');
await page.getByLabel('Password').fill('lantern-col');
await page.getByRole('button', { name: 'Sign in' }).click();
await page.waitForURL('**/visits');
for (const [name, path] of [
  ['visits', '/visits'],
  ['segments', '/segments'],
  ['segment', '/segments/seg_left_booking'],
  ['campaigns', '/campaigns'],
  ['rule', '/campaigns/camp_quiet_weeks'],
  ['leads', '/leads'],
  ['setup', '/setup'],
]) {
  await page.goto(origin('studio') + path);
  if (name === 'segment') await page.getByText('people now').waitFor();
  await shot(name);
}
await page.goto(`${origin('studio')}/campaigns/camp_packing`);
await page.getByRole('tab', { name: 'Message' }).click();
await page.mouse.click(700, 60);
await shot('message');
await page.goto(`${origin('site')}/huts/upper-moss`);
await shot('demo-site');
await browser.close();
