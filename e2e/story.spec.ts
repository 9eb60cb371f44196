import { expect, test } from '@playwright/test';
import { publishAllTheSame } from './board';
import { ask, openFamily, signInAtTheDoor, SITE, startCollector, stopCollector, STUDIO, takeFrom, visit } from './stack';
import { moveToLeave, newVisitor, popup, scrollTo, settled } from './visitor';

test.describe.configure({ mode: 'serial' });

const EMAIL = 'walker@post.example';

test('a marketer makes a segment and a campaign, and publishes them', async ({ page }) => {
  await signInAtTheDoor(page);

  await page.getByRole('link', { name: 'Segments' }).click();
  await page.getByRole('button', { name: 'New segment' }).click();
  await page.waitForURL('**/segments/seg_*');
  await page.getByLabel('Name of the segment').fill('Looking at huts');
  await page.getByLabel('Page 1', { exact: true }).fill('/huts/*');
  await page.getByRole('textbox', { name: 'Times' }).fill('2');
  await expect(page.getByText('People who viewed /huts/* at least 2 times, looking back 30 days.')).toBeVisible();
  await expect(page.getByLabel('Size').getByText(/people now/)).toBeVisible();
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();

  await page.getByRole('link', { name: 'Campaigns' }).click();
  await page.getByRole('button', { name: 'New campaign', exact: true }).click();
  await page.waitForURL('**/campaigns/camp_*');
  await page.getByLabel('Name of the campaign').fill('Hut news');
  await openFamily(page, 'People who');
  const people = page.getByRole('region', { name: 'People' });
  await takeFrom(page, people.getByRole('button', { name: 'Add a condition' }), 'Is in a segment');
  await people.getByLabel('Segment').selectOption({ label: 'Looking at huts' });
  await openFamily(page, 'Pages where');
  await page.getByLabel('On page 1', { exact: true }).fill('/huts/**');
  await openFamily(page, 'Moment when');
  const moment = page.getByRole('region', { name: 'Moment' });
  for (const [offer, field, value] of [
    ['After some time', 'Seconds', '5'],
    ['After scrolling to', 'Percent', '40'],
  ] as const) {
    await takeFrom(page, moment.getByRole('button', { name: 'Add a condition' }), offer);
    await moment.getByRole('textbox', { name: field }).fill(value);
  }
  await expect(page.getByLabel('The rule as a sentence')).toContainText(
    'Show it to people who are in “Looking at huts”, on /huts/**, when they move to leave and stay for 5 s on the page and scroll to 40 %, not again for 7 days, until a conversion.',
  );
  await page.getByRole('tab', { name: 'Messages' }).click();
  await page.getByRole('textbox', { name: /^Heading of / }).fill('News from the huts');
  await expect(page.locator('[data-drawn] h2')).toHaveText('News from the huts');
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();

  await page.getByRole('switch', { name: 'Part of the next release' }).click();
  const [{ next } = { next: 0 }] = await ask<{ next: number }>(
    `select max(number) + 1 as next from release join site on site.id = site_id where key = 'tarnhollowdemo'`,
  );
  await page.getByRole('button', { name: `Publish release ${next}` }).click();
  const panel = page.getByRole('dialog', { name: `Publish release ${next}` });
  await expect(panel.getByText('Hut news goes live')).toBeVisible();
  await panel.getByLabel('Name').fill('Hut news out');
  await publishAllTheSame(panel);
  await expect(page.getByText(`release ${next} is live`, { exact: true })).toBeVisible();
  await expect(page.getByText(`live in release ${next}`)).toBeVisible();
});

test('a visitor in the segment sees the pop-up at the right moment, leaves an email, and is not asked again', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  await page.clock.install();
  await visit(page, '/huts/skarn-shelter');
  await scrollTo(page, 0.6);
  await page.clock.runFor(7000); // Five seconds, and the gap after a quiet action that waits for five seconds too.
  await moveToLeave(page);
  await expect(popup(page)).toHaveCount(0); // Only one hut viewed.

  // Listened for from the opening on: a slow machine may take the five seconds by itself.
  const quiet = page.waitForResponse((response) => (response.request().postData() ?? '').includes('"tag":"comparing"'));
  await visit(page, '/huts/upper-moss');
  await scrollTo(page, 0.5);
  await moveToLeave(page);
  await expect(popup(page)).toHaveCount(0); // Not yet 5 seconds here: this exit is spent.
  await page.clock.runFor(7000); // Five seconds; a quiet action tells of itself meanwhile.
  await (await quiet).finished();
  await settled(page);
  // What it was told stands at the instant to which the clock leapt; the gap begins there.
  await page.clock.runFor(2000);
  await expect(popup(page)).toHaveCount(0);
  await page.locator('#book-now').focus();
  const before = await page.evaluate(() => ({
    height: document.documentElement.scrollHeight,
    top: document.querySelector('h1')?.getBoundingClientRect().top,
  }));
  await moveToLeave(page);
  await expect(popup(page)).toBeVisible();
  await expect(page.getByRole('dialog', { name: 'News from the huts' })).toBeVisible();
  expect(
    await page.evaluate(() => ({
      height: document.documentElement.scrollHeight,
      top: document.querySelector('h1')?.getBoundingClientRect().top,
    })),
  ).toEqual(before);

  await popup(page).getByLabel('Your email').fill('no email');
  await popup(page).getByRole('button', { name: 'Send' }).click();
  await expect(popup(page).getByRole('alert')).not.toBeEmpty();
  await popup(page).getByLabel('Your email').fill(EMAIL);
  const sent = page.waitForRequest((request) => (request.postData() ?? '').includes('"kind":"form"'));
  await popup(page).getByRole('button', { name: 'Send' }).click();
  await expect(popup(page).getByRole('status')).toHaveText('Thank you. We will be in touch.');
  const body = (await sent).postData() ?? '';
  await page.keyboard.press('Escape');
  await expect(popup(page)).toHaveCount(0);
  await expect(page.locator('#book-now')).toBeFocused();

  const repeated = await page.evaluate(
    ([url, text]) => fetch(url ?? '', { method: 'POST', body: text ?? '' }).then((response) => response.status),
    [(await sent).url(), body],
  );
  expect(repeated).toBe(200);
  expect(await ask(`select count(*)::int as leads from lead where email = $1`, [EMAIL])).toEqual([{ leads: 1 }]);
  expect(
    await ask(
      `select kind, count(*)::int as times from outcome join lead on lead.showing_id = outcome.showing_id where email = $1 group by kind`,
      [EMAIL],
    ),
  ).toEqual([{ kind: 'converted', times: 1 }]);

  await visit(page, '/huts/lantern-col');
  await scrollTo(page, 0.6);
  await page.clock.runFor(7000); // Five seconds, and the gap after a quiet action that waits for five seconds too.
  await moveToLeave(page);
  await expect(popup(page)).toHaveCount(0);
  await context.close();
});

test('a visitor outside the segment never sees it', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  await page.clock.install();
  await visit(page, '/huts/three-cairns');
  await scrollTo(page, 0.6);
  await page.clock.runFor(7000); // Five seconds, and the gap after a quiet action that waits for five seconds too.
  await moveToLeave(page);
  await expect(popup(page)).toHaveCount(0);
  await context.close();
});

test('the marketer finds the lead and the counts', async ({ page }) => {
  await signInAtTheDoor(page);
  await page.getByRole('link', { name: 'Leads' }).click();
  const row = page.getByRole('row').filter({ hasText: EMAIL });
  await expect(row).toHaveCount(1);
  await expect(row).toContainText('Hut news');
  await expect(row).toContainText('/huts/upper-moss');
  const csv = await (await page.request.get(`${STUDIO}/leads.csv`)).text();
  expect(csv.split('\r\n')[0]).toMatch(/^at,email,campaign,page,visitor,agreed,withdrawn,tags,note(,|$)/);
  expect(csv).toContain(`${EMAIL},Hut news`);

  await page.getByRole('link', { name: 'Campaigns' }).click();
  await expect(page.getByRole('row').filter({ hasText: 'Hut news' }).getByRole('cell')).toHaveText([
    /Hut news/,
    'live',
    '1',
    /^1/,
    /^\d/,
    '',
  ]);
});

test('with the collector away nothing is lost: what was queued arrives once, in order, when it is back', async ({ browser }) => {
  const { context, page } = await newVisitor(browser);
  await visit(page, '/routes/valley-loop');
  await stopCollector();
  await page.evaluate(() =>
    (window as unknown as { crindle: { did: (name: string, props: object) => void } }).crindle.did('video_played', { where: 'away' }),
  );
  await page.goto(`${SITE}/routes/ridge-traverse`);
  await settled(page);
  expect(await ask(`select count(*)::int as n from event where name = 'video_played' and props ->> 'where' = 'away'`)).toEqual([{ n: 0 }]);
  await startCollector();
  await visit(page, '/routes');
  await expect
    .poll(() => ask(`select count(*)::int as n from event where name = 'video_played' and props ->> 'where' = 'away'`))
    .toEqual([{ n: 1 }]);
  const views = await ask(
    `select split_part(url, '/', 4) || '/' || split_part(url, '/', 5) as path from page_view
      where visitor_id = (select visitor_id from event where props ->> 'where' = 'away') order by at`,
  );
  expect(views.map(({ path }) => path)).toEqual(['routes/valley-loop', 'routes/ridge-traverse', 'routes/']);
  await context.close();
});
