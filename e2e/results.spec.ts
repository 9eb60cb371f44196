// What campaigns came to: the same on the screen, by the command, in the table, and worked out once more by hand.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { faultsOf } from './axe';
import { newCampaign } from './board';
import { ask, cli, databaseUrl, openStudio, signIn, STUDIO } from './stack';

interface Line {
  readonly dealt: string;
  readonly shown: boolean;
  readonly success: number | null;
  readonly device: string;
}

function command(
  campaign: string,
  ...more: string[]
): {
  report: Record<string, never> & { met: number; rows: { value: string; met: number; successes: number; interval: number[] }[] };
  lines: Line[];
} {
  const out = join(mkdtempSync(join(tmpdir(), 'results-')), 'visitors.jsonl');
  const text = execFileSync('node', cli('results', '--site', 'tarnhollowdemo', '--campaign', campaign, '--visitors', out, ...more), {
    env: { ...process.env, CRINDLE_DATABASE_URL: databaseUrl() },
    encoding: 'utf8',
  });
  return {
    report: JSON.parse(text) as ReturnType<typeof command>['report'],
    lines: readFileSync(out, 'utf8')
      .trimEnd()
      .split('\n')
      .filter(Boolean)
      .map((line) => JSON.parse(line) as Line),
  };
}

/** Wilson's score interval, written out. */
function wilson(successes: number, of: number): number[] {
  const z = 1.959963984540054;
  const p = successes / of;
  const middle = (p + (z * z) / (2 * of)) / (1 + (z * z) / of);
  const half = (z / (1 + (z * z) / of)) * Math.sqrt((p * (1 - p)) / of + (z * z) / (4 * of * of));
  return [middle - half, middle + half];
}

test('the command’s visitors give its own numbers, the screen’s, and the table’s', async ({ page }) => {
  const { report, lines } = command('camp_newsletter');
  expect(report.met).toBe(lines.length);
  expect(lines.length).toBeGreaterThan(5);
  for (const { value, met, successes, interval } of report.rows) {
    const mine = lines.filter(({ dealt }) => dealt === value);
    const came = mine.filter(({ success }) => success !== null).length;
    expect([value, met, successes]).toEqual([value, mine.length, came]);
    wilson(came, mine.length).forEach((edge, side) => expect(interval[side]).toBeCloseTo(Math.max(0, edge), 9));
  }
  // Nobody of the team, and who is shown nothing saw nothing.
  expect(lines.every(({ dealt, shown }) => dealt !== 'nothing' || !shown)).toBe(true);
  await signIn(page);
  await openStudio(page, '/campaigns/camp_newsletter?tab=results');
  await expect(page.getByRole('region', { name: 'The answer' })).toContainText(`${lines.length} met its moment`);
  const versions = page.getByRole('row').filter({ has: page.getByRole('rowheader', { name: 'control group', exact: true }) });
  const nothing = report.rows.find(({ value }) => value === 'nothing');
  await expect(versions.getByRole('cell').first()).toHaveText(String(nothing?.met));
  const csv = await page.request.get(`${STUDIO}/results.csv?campaign=camp_newsletter&zone=UTC`);
  expect(await csv.text()).toContain(`variant,nothing,${nothing?.met},0,${nothing?.successes},`);
  // A chosen period is for one look, on the screen, in the table and by the command.
  const once = command('camp_newsletter', '--from', '2020-01-01T00:00:00Z').report as unknown as {
    looks: string;
    rows: { against: { looks: string } | null }[];
  };
  expect([once.looks, once.rows.at(-1)?.against?.looks]).toEqual(['once', 'once']);
  const chosen = await page.request.get(`${STUDIO}/results.csv?campaign=camp_newsletter&zone=UTC&from=0`);
  expect([
    (await csv.text()).includes(',always'),
    (await chosen.text()).includes(',always'),
    (await chosen.text()).includes(',once'),
  ]).toEqual([true, false, true]);
  expect(() => command('camp_newsletter', '--by', 'segment:none')).toThrow('met segment:none, expected the id of a segment of the site');
  // By the device: the same visitors, told apart otherwise.
  const byDevice = command('camp_newsletter', '--by', 'device').report.rows;
  expect(byDevice.reduce((sum, { met }) => sum + met, 0)).toBe(lines.filter(({ dealt }) => dealt !== 'nothing').length);
});

test('a period has those who first met in it; backwards or in no zone is refused in words', async ({ page }) => {
  await signIn(page);
  const [{ middle = 0 } = {}] = await ask<{ middle: number }>(
    `select percentile_disc(0.5) within group (order by extract(epoch from at) * 1000)::float8 as middle from showing where campaign_id = 'camp_warden'`,
  );
  const at = new Date(Math.round(middle)).toISOString();
  const [all, before, after] = [
    command('camp_warden').report.met,
    command('camp_warden', '--to', at).report.met,
    command('camp_warden', '--from', at).report.met,
  ];
  expect(before).toBeGreaterThan(0);
  expect(before + after).toBe(all);
  for (const [query, says] of [
    ['from=20&to=10&zone=UTC', /to/],
    ['zone=Nowhere', /zone: met "Nowhere"/],
    ['from=-1&zone=UTC', /from/],
  ] as const) {
    const answer = await page.request.get(`${STUDIO}/api/campaigns/camp_warden/results?${query}`);
    expect([answer.status(), ((await answer.json()) as { error: { message: string } }).error.message]).toEqual([
      422,
      expect.stringMatching(says),
    ]);
  }
});

test('results of all stand on one axis, by keys and without a fault of access, and nobody at all is said so', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/today');
  await page.keyboard.press('g');
  await page.keyboard.press('r');
  await page.waitForURL('**/results');
  await page.getByLabel(/Visitors who met a campaign in the last/).selectOption('90');
  await page.waitForURL('**/results?days=90');
  await expect(page.getByRole('row').filter({ hasText: 'Greeting from the newsletter' })).toContainText(/not clear yet|too few yet|[+−]\d/);
  await expect(page.getByRole('region', { name: 'What messages do to a visit' })).toContainText('of all visits saw a message');
  await expect(page.locator('.skeleton')).toHaveCount(0);
  expect(await faultsOf(page)).toEqual([]);
  await page.getByRole('link', { name: 'Greeting from the newsletter' }).click();
  await expect(page.getByRole('region', { name: 'The answer' })).toBeVisible();
  await expect(page.getByRole('img', { name: /^The difference, as it became known/ })).toBeVisible();
  expect(await faultsOf(page)).toEqual([]);
  const id = await newCampaign(page, {});
  await openStudio(page, `/campaigns/${id}?tab=results`);
  await expect(page.getByRole('region', { name: 'The answer' })).toContainText('Nobody has met it in this period.');
});

test('a period is dragged over or typed, stands in the address, and goes with a link; the chart is taken out', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/campaigns/camp_newsletter?tab=results');
  const chart = page.getByRole('img', { name: /^The difference, as it became known/ });
  await expect(chart).toBeVisible();
  // Where lines end is no matter, and the pace is lower each minute in which nobody comes.
  const answer = async (): Promise<string> =>
    (await page.getByRole('region', { name: 'The answer' }).innerText())
      .replace(/\s+/g, ' ')
      .replace(/at the present pace .*?, would/, 'would')
      .trim();
  const all = await answer();
  const { x = 0, y = 0, width = 0, height = 0 } = (await chart.boundingBox()) ?? {};
  await page.mouse.move(x + width * 0.5, y + height / 2);
  await page.mouse.down();
  await page.mouse.move(x + width * 0.9, y + height / 2, { steps: 5 });
  await page.mouse.up();
  await page.waitForURL(/tab=results&from=\d{4}-\d\d-\d\d&to=\d{4}-\d\d-\d\d/);
  await expect.poll(answer).not.toBe(all);
  const some = await answer();
  await page.reload();
  await expect.poll(answer).toBe(some);
  const period = page.getByRole('group', { name: 'Period' });
  await period.getByLabel('to', { exact: true }).fill('2020-01-01');
  await period.getByLabel('from', { exact: true }).fill('2019-01-01');
  await expect(page.getByRole('region', { name: 'The answer' })).toContainText('Nobody has met it in this period.');
  // Whatever period one chooses holds for one look; from a fixed start on it may be looked at always.
  await period.getByRole('button', { name: 'ever' }).click();
  await expect.poll(answer).toMatch(/for one look somewhere between|too few yet/);
  await expect(page.getByRole('region', { name: 'The answer' })).toContainText('nothing is called clear');
  const whom = period.getByLabel('Visitors who first met it');
  await expect(whom.getByRole('option', { selected: true })).toHaveText('in a period of your own');
  await whom.selectOption('1');
  await expect.poll(answer).toBe(all);
  expect(new URL(page.url()).search).toBe('?tab=results');
  expect(all).toContain('You may look as often as you like');
  await expect(chart).toBeVisible();
  const [svg] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'difference as SVG' }).click()]);
  const drawn = readFileSync(await svg.path(), 'utf8');
  expect(drawn).toMatch(/^<svg[^>]* xmlns="http:\/\/www\.w3\.org\/2000\/svg"/);
  expect(drawn).not.toContain('var(');
  const [png] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'difference as PNG' }).click()]);
  expect(
    readFileSync(await png.path())
      .subarray(1, 4)
      .toString(),
  ).toBe('PNG');
  // On paper there is nothing to press.
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('banner')).toBeHidden();
  await expect(page.getByRole('button', { name: 'Print' })).toBeHidden();
  await expect(page.getByRole('region', { name: 'The answer' })).toBeVisible();
});
