// The whole job with the keyboard alone: a segment, a rule beside its consequences, the release, and the pop-up on the site.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { publishAllTheSame } from './board';
import { ask, cli, databaseUrl, openStudio, signIn, STUDIO, untilAtWork, visit } from './stack';
import { moveToLeave, newVisitor, popup, scrollTo } from './visitor';

const SEGMENT = 'Read two routes and have not booked';

async function press(what: Locator, key = 'Enter'): Promise<void> {
  await what.focus();
  await what.press(key);
}

async function typeInto(what: Locator, text: string): Promise<void> {
  await what.focus();
  await what.press('Control+A');
  await what.page().keyboard.type(text);
}

/** Types into the sentence and takes what is offered first. */
async function phrase(page: Page, text: string): Promise<void> {
  const line = page.getByRole('combobox', { name: 'Type a phrase into the rule' });
  await page.keyboard.press('Escape');
  await press(line, 'End');
  await page.keyboard.type(text);
  await expect(page.getByRole('option').first()).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(line).toHaveValue('');
}

interface Report {
  readonly sure: number;
  readonly asOf: number;
  readonly without: { path: (string | number)[]; showings: number }[];
  readonly steps: { left: number }[];
}

const showings = (count: number): string => `${count.toLocaleString('en-GB')} ${count === 1 ? 'showing' : 'showings'}`;

test('a segment and a rule are written, checked, published and seen, with the keyboard alone', async ({ page, browser }) => {
  await page.clock.install();
  await signIn(page);
  await openStudio(page, '/today');
  await page.keyboard.press('g');
  await page.keyboard.press('s');
  await page.waitForURL('**/segments');
  await expect(page.getByRole('button', { name: 'New segment', exact: true }).first()).toBeVisible();
  await untilAtWork(page);
  await page.keyboard.press('n');
  await page.waitForURL('**/segments/seg_*');
  await untilAtWork(page);
  const people = page.getByRole('group', { name: 'People', exact: true });
  await typeInto(people.getByLabel('Page 1', { exact: true }), '/routes/**');
  await typeInto(people.getByRole('textbox', { name: 'Times' }), '2');
  await press(people.getByRole('button', { name: 'Add a condition' }));
  const group = page.getByRole('menuitem', { name: 'A group (all, any or none of)' });
  await expect(group).toBeVisible();
  await page.keyboard.press('End');
  await page.keyboard.press('Enter');
  await typeInto(page.getByRole('group', { name: 'People, group 2' }).getByLabel('Page 1', { exact: true }), '/book/done');
  await typeInto(page.getByLabel('Name of the segment'), SEGMENT);
  await expect(page.getByRole('region', { name: 'The segment as a sentence' })).toContainText(
    'People who viewed /routes/** at least 2 times and are not among those who viewed /book/done, looking back 30 days.',
  );
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  const views = (path: string, least: number): string =>
    `select visitor_id from page_view where site_id = (select id from site where key = 'tarnhollowdemo')
      and at > now() - interval '30 days' and url ~ '^https?://[^/]+${path}' group by visitor_id having count(*) >= ${least}`;
  const [counted] = await ask<{ people: number }>(
    `select count(*)::int as people from (${views('/routes(/|[?#]|$)', 2)} except ${views('/book/done/?([?#]|$)', 1)}) as members`,
  );
  expect(counted?.people).toBeGreaterThan(0);
  await expect(page.getByRole('region', { name: 'Size' })).toContainText(`${counted?.people.toLocaleString('en-GB')} people now`);

  await press(page.getByRole('link', { name: 'Campaigns' }));
  await page.waitForURL('**/campaigns');
  await expect(page.getByRole('button', { name: 'New campaign', exact: true })).toBeVisible();
  await untilAtWork(page);
  await page.keyboard.press('n');
  await page.waitForURL('**/campaigns/camp_*');
  await untilAtWork(page);
  const id = new URL(page.url()).pathname.split('/').at(-1);
  for (const text of [SEGMENT, '/huts/**', 'except /huts/closed', '20 s', '40 %']) await phrase(page, text);
  const sentence = page.getByRole('region', { name: 'The rule as a sentence' });
  await expect(sentence).toContainText(
    `Show it to people who are in “${SEGMENT}”, on /huts/** except /huts/closed, when they move to leave and stay for 20 s on the page and scroll to 40 %, not again for 7 days, until a conversion.`,
  );
  await typeInto(page.getByLabel('Name of the campaign'), 'For readers of routes');
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();

  // The studio's counts are those of ./crindle rehearse on the same rule.
  const [stored] = await ask<{ rule: object }>(`select rule from campaign where id = $1`, [id]);
  const response = await page.request.post(`${STUDIO}/api/rehearse`, {
    data: { campaign: id, place: 'overlay', rule: stored?.rule, days: 30, withOthers: false },
    headers: { origin: STUDIO },
  });
  const { asOf, without, sure, steps: reported } = JSON.parse((await response.text()).trim().split('\n').at(-1) ?? '') as Report;
  const file = join(mkdtempSync(join(tmpdir(), 'rule-')), 'rule.json');
  writeFileSync(file, JSON.stringify(stored?.rule));
  const words = cli('rehearse', '--site', 'tarnhollowdemo', '--rule', file, '--days', '30', '--at', new Date(asOf).toISOString());
  const env = { ...process.env, CRINDLE_DATABASE_URL: databaseUrl() };
  const said = JSON.parse(execFileSync('node', words, { encoding: 'utf8', env })) as {
    sure: number;
    steps: { what: string; left: number }[];
  };
  expect(said.sure).toBe(sure);
  const counts = page.getByTestId('sure');
  const steps = page.getByRole('region', { name: 'From every visit to a showing' }).getByRole('listitem');
  // What is rehearsed over is taken anew every ten minutes; where that was in between, the screen shows what it was opened with.
  if (!(await steps.first().textContent())?.includes(reported[0]?.left.toLocaleString('en-GB') ?? '')) {
    await page.reload();
    await untilAtWork(page);
  }
  await expect(counts).toHaveText(showings(said.sure));
  for (const [nth, { left }] of reported.entries()) await expect(steps.nth(nth)).toContainText(left.toLocaleString('en-GB'));
  // A visit that was open at that instant counts once its first signals are here: they may have come since.
  const [open] = await ask<{ visits: number }>(
    `select count(*)::int as visits from visit where site_id = (select id from site where key = 'tarnhollowdemo')
      and started_at between to_timestamp($1) - interval '10 minutes' and to_timestamp($1)`,
    [asOf / 1000],
  );
  for (const [nth, { left }] of said.steps.entries()) {
    const since = left - (reported[nth]?.left ?? NaN);
    expect(since).toBeGreaterThanOrEqual(0);
    expect(since).toBeLessThanOrEqual(open?.visits ?? 0);
  }

  // Without the costliest condition there is what the rehearsal said; undo brings it back.
  const costliest = Math.max(...without.map((one) => one.showings));
  expect(costliest).toBeGreaterThan(sure);
  const dear = sentence.locator('.cost-most').first();
  await expect(dear).toHaveAttribute('data-cost', `−${(costliest - sure).toLocaleString('en-GB')} · costliest`);
  await page.clock.fastForward(1000); // Changes that follow each other closely are undone together.
  await press(dear, 'Delete');
  await expect(counts).toHaveText(showings(costliest));
  await page.keyboard.press('Control+Z');
  await expect(counts).toHaveText(showings(sure));
  await expect(page.getByText(/^saved( \d\d:\d\d)?$/)).toBeVisible();

  await press(page.getByRole('switch', { name: 'Part of the next release' }), 'Space');
  await press(page.getByRole('button', { name: /^Publish release \d+$/ }));
  const panel = page.getByRole('dialog', { name: /^Publish release \d+$/ });
  await expect(panel.getByText('For readers of routes goes live')).toBeVisible();
  await publishAllTheSame(panel, press);
  await expect(page.getByText(/^release \d+ is live$/)).toBeVisible();
  await expect(page.getByText(/^live in release \d+$/)).toBeVisible();

  const { context, page: host } = await newVisitor(browser);
  await host.clock.install();
  await visit(host, '/routes/valley-loop');
  await visit(host, '/routes/ridge-traverse');
  await visit(host, '/huts/upper-moss');
  await scrollTo(host, 0.6);
  await moveToLeave(host);
  await expect(popup(host)).toHaveCount(0); // Not yet twenty seconds here.
  await host.clock.runFor(20_200);
  await moveToLeave(host);
  await expect(popup(host)).toBeVisible();
  await context.close();

  // Off again, so that it meets nobody else.
  await page.request.post(`${STUDIO}/api/campaigns/${id}`, { data: { status: 'paused' }, headers: { origin: STUDIO } });
  const off = await page.request.post(`${STUDIO}/api/releases`, { data: { name: '', note: '' }, headers: { origin: STUDIO } });
  expect(off.ok()).toBe(true);
});
