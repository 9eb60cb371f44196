// The rule beside its rehearsal, made with the keyboard alone.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Locator, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { ask, cli, databaseUrl, openFamily, openStudio, signIn, STUDIO } from './stack';

const RULE = {
  people: { kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }], times: { min: 2 } },
  pages: { on: [{ op: 'like', value: '/huts/**' }], except: [{ op: 'is', value: '/huts/closed' }] },
  moment: { all: [{ kind: 'exit' }, { kind: 'delay', seconds: 6 }] },
  pacing: { again: { days: 7 } },
};

/** Focus and a key: what a mouse would do. */
const press = async (what: Locator, key = 'Enter'): Promise<void> => {
  await what.focus();
  await what.press(key);
};

async function choose(page: Page, offer: string): Promise<void> {
  const item = page.getByRole('menuitem', { name: offer, exact: true });
  await expect(item).toBeVisible();
  for (let tries = 0; tries < 40 && !(await item.evaluate((element) => element.closest('[data-focus]') !== null)); tries++)
    await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
}

interface Answer {
  readonly sure: number;
  readonly asOf: number;
  readonly without: { path: (string | number)[]; showings: number }[];
}

/** What the studio's own API says of a rule. */
async function rehearse(page: Page, rule: object): Promise<Answer> {
  const response = await page.request.post(`${STUDIO}/api/rehearse`, {
    data: { campaign: 'new', place: 'overlay', rule, days: 30, withOthers: false },
    headers: { origin: STUDIO },
  });
  return JSON.parse((await response.text()).trim().split('\n').at(-1) ?? '') as Answer;
}

test('a rule is written by keyboard beside its consequences, which are those of ./crindle rehearse', async ({ page }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/campaigns`);
  await press(page.getByRole('button', { name: 'New campaign', exact: true }));
  await page.waitForURL('**/campaigns/camp_*');
  const sure = page.getByTestId('sure');
  await expect(sure).toHaveText(/showings/);

  await press(page.getByRole('button', { name: 'People who' }));
  const people = page.getByRole('region', { name: 'People' });
  await press(people.getByRole('button', { name: 'Add a condition' }));
  await choose(page, 'Viewed pages');
  await people.getByLabel('Page 1', { exact: true }).focus();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('/huts/*');
  await people.getByRole('textbox', { name: 'Times' }).focus();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('2');
  await press(page.getByRole('button', { name: 'Pages where' }));
  await page.getByLabel('On page 1', { exact: true }).focus();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('/huts/**');
  const except = page.getByRole('group', { name: 'Except page' });
  await press(except.getByRole('button', { name: 'name a page' }));
  await except.getByLabel('Except page 1, how').focus();
  await page.keyboard.type('is');
  await except.getByLabel('Except page 1', { exact: true }).focus();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('/huts/closed');
  await press(page.getByRole('button', { name: 'Moment when' }));
  const moment = page.getByRole('region', { name: 'Moment' });
  await press(moment.getByRole('button', { name: 'Add a condition' }));
  await choose(page, 'After some time');
  await moment.getByRole('textbox', { name: 'Seconds' }).focus();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('6');
  await expect(page.getByLabel('The rule as a sentence')).toContainText(
    'Show it to people who viewed /huts/* at least 2 times, on /huts/** except /huts/closed, when they move to leave and stay for 6 s on the page, not again for 7 days, until a conversion.',
  );

  const answer = await rehearse(page, RULE);
  expect(answer.sure).toBeGreaterThan(0);
  await expect(sure).toHaveText(`${answer.sure} showings`);
  const file = join(mkdtempSync(join(tmpdir(), 'rule-')), 'rule.json');
  writeFileSync(file, JSON.stringify(RULE));
  const said = JSON.parse(
    execFileSync(
      'node',
      cli('rehearse', '--site', 'tarnhollowdemo', '--rule', file, '--days', '30', '--at', new Date(answer.asOf).toISOString()),
      {
        encoding: 'utf8',
        env: { ...process.env, CRINDLE_DATABASE_URL: databaseUrl() },
      },
    ),
  ) as { sure: number; without: { path: string; showings: number }[] };
  expect(said.sure).toBe(answer.sure);
  expect(answer.without.map(({ path, showings }) => ({ path: path.join('.'), showings }))).toEqual(said.without);

  // The costliest phrase is named; without it there is what the rehearsal said there would be, and undo brings it back.
  const costliest = [...answer.without].sort((a, b) => b.showings - a.showings)[0];
  await expect(page.locator('.cost-most')).toHaveAttribute(
    'data-cost',
    `−${((costliest?.showings ?? 0) - answer.sure).toLocaleString('en-GB')} · costliest`,
  );
  await press(page.getByRole('button', { name: 'People who' }));
  await press(people.getByRole('button', { name: 'Remove condition 1 of People' }));
  const without = answer.without.find(({ path }) => path[0] === 'people')?.showings ?? -1;
  await expect(sure).toHaveText(`${without.toLocaleString('en-GB')} showings`);
  await page.keyboard.press('Control+Z');
  await expect(sure).toHaveText(`${answer.sure} showings`);
  await page.keyboard.press('Control+Shift+Z');
  await expect(sure).toHaveText(`${without.toLocaleString('en-GB')} showings`);
  await expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();
  const stored = await ask<{ rule: { people?: object } }>(`select rule from campaign where rule->'moment' = $1::jsonb`, [
    JSON.stringify(RULE.moment),
  ]);
  expect(stored[0]?.rule.people).toBeUndefined();
});

test('a rule that nobody fits says so, and a rule with others says what it takes from them', async ({ page }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/campaigns/camp_quiet_weeks`);
  const sure = page.getByTestId('sure');
  await expect(sure).toHaveText(/^[1-9][\d,]* showings/);
  await page.getByRole('checkbox', { name: 'with the live campaigns' }).check();
  await expect(page.getByRole('region', { name: 'Meets other campaigns' })).toContainText(/It takes no showing|loses|gains/);
  await page.getByRole('checkbox', { name: 'with the live campaigns' }).uncheck();
  await openFamily(page, 'Pages where');
  await page.getByLabel('On page 1', { exact: true }).fill('/nowhere/at/all');
  await expect(sure).toHaveText('0 showings');
  await page.getByRole('button', { name: 'Would show' }).click();
  await expect(page.getByText(/It would have shown in no recorded visit/)).toBeVisible();
  await page.keyboard.press('Control+Z');
  await expect(sure).not.toHaveText('0 showings');
  await expect(page.getByText(/^saved/).first()).toBeVisible();
});

test('two conditions that cannot hold together are named under the sentence, and the fix takes one of them out', async ({ page }) => {
  await signIn(page);
  await page.goto(`${STUDIO}/campaigns/camp_quiet_weeks`);
  const line = page.getByLabel('Type a phrase into the rule');
  const sentence = page.getByLabel('The rule as a sentence');
  for (const country of ['Austria', 'Germany']) {
    await line.fill(`from ${country}`);
    await page.getByRole('option').first().click();
  }
  const found = page.getByRole('list', { name: 'What stands out' });
  await expect(found).toContainText('are in countries AT / are in countries DE: It can never show. The two have nothing in common.');
  await found.getByRole('button', { name: 'Take it out' }).click();
  await expect(sentence).not.toContainText('countries DE');
  await expect(sentence).toContainText('countries AT');
  await expect(found).toHaveCount(0);
  // What was changed quickly is one step back, however long it took here.
  await expect(async () => {
    await page.keyboard.press('Control+Z');
    await expect(sentence).not.toContainText('countries', { timeout: 500 });
  }).toPass();
  await expect(page.getByText(/^saved/).first()).toBeVisible();
});

test('a step shows the visits that are left after it and those that it takes, and lets go again', async ({ page }) => {
  await signIn(page);
  await openStudio(page, '/campaigns/camp_quiet_weeks');
  const steps = page.getByRole('region', { name: 'From every visit to a showing' });
  const ribbons = page.getByRole('region', { name: 'Visits it would show in' });
  const step = steps.getByRole('button', { name: 'move to leave' });
  await expect(step).toBeVisible();
  await expect(ribbons.getByRole('img').first()).toHaveAccessibleName(/Quiet weeks would show|would show but for/);
  await press(step);
  await expect(step).toHaveAttribute('aria-pressed', 'true');
  for (const drawn of await ribbons.getByRole('listitem').getByRole('img').all())
    await expect(drawn).toHaveAccessibleName(/fires here with all up to “move to leave”/);
  await ribbons.getByRole('button', { name: 'Taken by it' }).click();
  await expect(ribbons.getByRole('listitem').getByRole('img').first()).toHaveAccessibleName(/taken by “move to leave”/);
  for (const drawn of await ribbons.getByRole('listitem').getByRole('img').all())
    await expect(drawn).toHaveAccessibleName(/taken by “move to leave”/);
  await ribbons.getByRole('button', { name: 'Leave the step “move to leave”' }).click();
  await expect(step).toHaveAttribute('aria-pressed', 'false');
  await expect(ribbons.getByRole('button', { name: 'Just missed' })).toBeVisible();
});

test('where a browser cannot run the worker the server rehearses, with the same result', async ({ page, browser }) => {
  const counts = async (where: Page): Promise<string> => {
    await openStudio(where, '/campaigns/camp_quiet_weeks');
    await expect(where.getByTestId('sure')).toHaveText(/showings/);
    await expect(where.getByRole('progressbar')).toBeHidden();
    return where.getByRole('region', { name: 'From every visit to a showing' }).innerText();
  };
  const asked: string[] = [];
  const other = await (await browser.newContext()).newPage();
  other.on('request', (request) => asked.push(new URL(request.url()).pathname));
  await other.addInitScript(() => {
    window.Worker = class extends EventTarget {
      onerror: ((event: ErrorEvent) => void) | null = null;
      constructor() {
        super();
        setTimeout(() => this.onerror?.(new ErrorEvent('error', { message: 'no worker here' })));
      }
      postMessage(): void {}
      terminate(): void {}
    } as unknown as typeof Worker;
  });
  await signIn(other);
  await signIn(page);
  // Visitors may come between the one and the other: both are looked at until nobody did.
  await expect(async () => {
    const byServer = await counts(other);
    expect(await counts(page)).toBe(byServer);
  }).toPass();
  expect(asked).toContain('/api/rehearse');
  expect(asked).not.toContain('/api/rehearse/visits');
  await other.close();
});

test('lists show at once what was known last, paler, and then what is counted now', async ({ page }) => {
  await signIn(page);
  const numbers = { '/segments': 2, '/campaigns': 5 } as const;
  for (const [path, column] of Object.entries(numbers)) {
    const cell = page
      .getByRole('row')
      .nth(1)
      .getByRole('cell')
      .nth(column - 1);
    await openStudio(page, path);
    await expect(page.locator('[aria-busy=true], .skeleton, th [role=status]')).toHaveCount(0);
    const counted = await cell.innerText();
    expect(counted).toMatch(/^[\d,]+/);
    // Nothing is answered any more: what stands there is what was kept.
    await page.route(/\/api\/(segments\/(sizes|trends)|campaigns\/order\/rehearse)$/, () => undefined);
    await page.reload();
    await expect(cell).toHaveText(counted, { useInnerText: true });
    await expect(cell.locator('[aria-busy=true]')).toHaveCount(1);
    await expect(page.locator('.skeleton')).toHaveCount(0);
    await page.unrouteAll();
  }
});
