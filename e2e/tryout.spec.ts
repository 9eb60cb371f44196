// Trying on the site what is not published: in one tab, with reasons for what is silent, and nothing of it on record.
import type { Browser, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { madeCampaign, newCampaign } from './board';
import { ask, COLLECTOR, openStudio, signIn, SITE, STUDIO } from './stack';
import { newVisitor, popup } from './visitor';

/** People from the newsletter, in snow near Innsbruck, as they move to leave; at most once a week. */
const RULE = {
  people: {
    all: [
      { kind: 'weather', is: ['snow'] },
      { kind: 'location', places: ['place_near'] },
      { kind: 'source', utm: { source: { op: 'is', value: 'newsletter' } } },
    ],
  },
  pages: { on: [{ op: 'like', value: '/**' }] },
  moment: { kind: 'exit' },
  pacing: { again: { days: 7 } },
};

const dock = (page: Page) => page.getByRole('region', { name: 'Try-out' });
const row = (page: Page, name: string) => dock(page).getByRole('button', { name: new RegExp(`^${name}`) });
const reason = (page: Page, asked: RegExp) => dock(page).getByRole('listitem').filter({ hasText: asked });

/** Everything that pages put on record, counted. */
const onRecord = () =>
  ask(`select (select count(*)::int from visitor) as visitors, (select count(*)::int from visit) as visits, (select count(*)::int from page_view) as views,
              (select count(*)::int from event) as events, (select count(*)::int from showing) as showings, (select count(*)::int from lead) as leads,
              (select coalesce(sum(times), 0)::int from refused) as refused`);

async function nameOf(id: string): Promise<string> {
  return (await ask<{ name: string }>(`select name from campaign where id = $1`, [id]))[0]?.name ?? '';
}

/** From the campaign's editor, by the button, as a marketer does. */
async function openTryout(page: Page, campaign: string, path: string): Promise<Page> {
  await openStudio(page, `/campaigns/${campaign}`);
  await page.getByRole('button', { name: 'Try it on the site' }).click();
  await page.getByLabel('Begin on the page').fill(path);
  const opened = page.context().waitForEvent('page');
  await page.getByRole('button', { name: 'Open the try-out' }).click();
  const tab = await opened;
  await expect(dock(tab)).toBeVisible();
  return tab;
}

/** Opens the phrase, types, and picks what is offered. */
async function pretend(tab: Page, phrase: RegExp, label: string, typed: string, picked: RegExp): Promise<void> {
  await dock(tab).getByRole('button', { name: phrase }).click();
  const editor = dock(tab).getByRole('group', { name: 'Change it' });
  await editor.getByLabel(label, { exact: true }).fill(typed);
  await editor.getByRole('button', { name: picked }).first().click();
}

/** Held to the dock: whoever tries goes on to show it, is paced, and gets round that. */
async function tryIt(tab: Page, name: string): Promise<void> {
  await expect(row(tab, name)).toContainText('not these people');
  await expect(reason(tab, /snow/)).toHaveAttribute('data-value', /false|unknown/);
  await dock(tab).getByRole('button', { name: 'Move to leave', exact: true }).click();
  await pretend(tab, /the weather is as it is/, 'Degrees Celsius', '-4', /it snows/);
  await pretend(tab, /where you are/, 'A town', 'Innsbr', /^Innsbruck/);
  await pretend(tab, /as you came/, 'A source', 'newsletter', /newsletter/);
  await expect(reason(tab, /snow/)).toHaveAttribute('data-value', 'true');
  await expect(row(tab, name)).toContainText('waits for its moment');
  await expect(popup(tab)).toBeHidden();
  await dock(tab).getByRole('button', { name: 'Move to leave', exact: true }).click();
  await expect(popup(tab).getByRole('heading', { name: 'First' })).toBeVisible();
  await expect(row(tab, name)).toContainText('showing');
  await tab.keyboard.press('Escape');
  await expect(popup(tab)).toBeHidden();
  // Once a week: leaving again shows nothing, and says why.
  await dock(tab).getByRole('button', { name: 'Move to leave', exact: true }).click();
  await expect(row(tab, name)).toContainText('shown often enough');
  await expect(popup(tab)).toBeHidden();
  await dock(tab).getByRole('button', { name: 'A fresh visitor', exact: true }).click();
  await expect(row(tab, name)).toContainText('waits for its moment');
  await dock(tab).getByRole('button', { name: 'Move to leave', exact: true }).click();
  await expect(popup(tab).getByRole('heading', { name: 'First' })).toBeVisible();
  await tab.keyboard.press('Escape');
  // Or by waiting for a week.
  await dock(tab).getByLabel('Days until the next visit').fill('8');
  await dock(tab).getByRole('button', { name: 'Come back', exact: true }).click();
  await expect(row(tab, name)).toContainText('waits for its moment');
  await dock(tab).getByRole('button', { name: 'Move to leave', exact: true }).click();
  await expect(popup(tab)).toBeVisible();
}

const PAGES: readonly (readonly [what: string, path: string, prepare: (page: Page) => Promise<void>])[] = [
  ['on the site', '/routes', async () => undefined],
  ['in its single-page build', '/app/', async () => undefined],
  [
    'on a page whose policy allows the collector alone',
    '/strict',
    async (page) => {
      await page.context().route(`${SITE}/strict`, (route) =>
        route.fulfill({
          contentType: 'text/html',
          headers: {
            'content-security-policy': `default-src 'none'; script-src ${COLLECTOR}; connect-src ${COLLECTOR}; img-src ${COLLECTOR}; require-trusted-types-for 'script'`,
          },
          body: `<!doctype html><title>Strict</title><h1>Strict</h1><script src="${COLLECTOR}/page.js" data-site="tarnhollowdemo" async></script>`,
        }),
      );
    },
  ],
];

for (const [what, path, prepare] of PAGES)
  test(`a campaign is tried ${what}: silent with its reason, shown as pretended, and nothing is on record`, async ({ page }) => {
    await signIn(page);
    const id = await newCampaign(page, { rule: RULE });
    const name = await nameOf(id);
    await prepare(page);
    const before = await onRecord();
    const tab = await openTryout(page, id, path);
    // Nothing secret is left in the address.
    expect(tab.url()).toBe(SITE + path);
    await tryIt(tab, name);
    expect(await onRecord()).toEqual(before);
    // Nobody else sees anything of it.
    const { context, page: other } = await newVisitor(page.context().browser() as Browser);
    await prepare(other);
    await other.goto(SITE + path);
    await expect(other.getByRole('heading').first()).toBeVisible();
    await expect(dock(other)).toHaveCount(0);
    await context.close();
    await tab.close();
  });

test('it follows from page to page, hurries its clock, and ends by its button', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page, {
    rule: {
      pages: { on: [{ op: 'is', value: '/contact' }] },
      people: { kind: 'viewed', pages: [{ op: 'is', value: '/routes' }], times: { min: 1 } },
      moment: {
        all: [
          { kind: 'delay', seconds: 90 },
          { kind: 'scroll', atLeast: 40 },
        ],
      },
    },
  });
  const name = await nameOf(id);
  const tab = await openTryout(page, id, '/contact');
  await expect(reason(tab, /viewed \/routes/)).toHaveAttribute('data-value', 'false');
  await tab.goto(`${SITE}/routes`);
  await expect(row(tab, name)).toContainText('not on this page');
  await tab.goto(`${SITE}/contact`);
  await expect(reason(tab, /viewed \/routes/)).toHaveAttribute('data-value', 'true');
  await dock(tab).getByLabel('Percent to scroll to').fill('100');
  await dock(tab).getByRole('button', { name: 'Scroll', exact: true }).click();
  await dock(tab).getByLabel('Seconds to wait').fill('95');
  await expect(popup(tab)).toBeHidden();
  await dock(tab).getByRole('button', { name: 'Wait', exact: true }).click();
  await expect(popup(tab)).toBeVisible();
  await tab.keyboard.press('Escape');
  // What is changed in the studio is tried at once.
  await ask(`update campaign set name = $2, updated_at = now() where id = $1`, [id, `${name} anew`]);
  await expect(row(tab, `${name} anew`)).toBeVisible();
  // Small, and at the top.
  await dock(tab).getByRole('button', { name: 'Small' }).click();
  await expect(dock(tab).getByText('Campaigns, in their order')).toBeHidden();
  await dock(tab).getByRole('button', { name: 'To the top' }).click();
  expect((await dock(tab).boundingBox())?.y).toBe(0);
  await tab.reload();
  await expect(dock(tab).getByRole('button', { name: 'To the bottom' })).toBeVisible();
  await dock(tab).getByRole('button', { name: 'Leave the try-out' }).click();
  await expect(dock(tab)).toHaveCount(0);
  await tab.reload();
  await tab.waitForResponse((response) => response.url() === `${COLLECTOR}/c` && response.ok());
  await expect(dock(tab)).toHaveCount(0);
});

test('of two that wait for the same, the upper one comes on every page, however the page was reached', async ({ page }) => {
  await signIn(page);
  const tried = randomUUID();
  const pages = { on: [{ part: 'parameter', name: 'tried', op: 'is', value: tried }] };
  const flow = (heading: string) => ({
    start: 'a',
    messages: [
      { id: 'a', format: 'popup', closes: { button: true, dim: true, escape: true }, blocks: [{ kind: 'heading', text: heading }] },
    ],
  });
  const rule = { pages, moment: { kind: 'exit' }, pacing: { again: 'always' } };
  const people = { kind: 'device', category: ['desktop'] };
  const upper = await madeCampaign(page, { rule: { ...rule, people }, flow: flow('Of the upper one') });
  const lower = await madeCampaign(page, { rule, flow: flow('Of the lower one') });
  // Taken along by whoever tries, and not published.
  await ask(`update campaign set status = 'live', position = case id when $1 then -2 else -1 end where id in ($1, $2)`, [upper, lower]);
  try {
    const tab = await openTryout(page, upper, `/contact?tried=${tried}`);
    for (const nth of [1, 2, 3]) {
      await expect(row(tab, await nameOf(upper))).toContainText('waits for its moment');
      await dock(tab).getByRole('button', { name: 'Move to leave', exact: true }).click();
      await expect(popup(tab).getByRole('heading', { name: 'Of the upper one' })).toBeVisible();
      await tab.keyboard.press('Escape');
      await expect(popup(tab)).toBeHidden();
      await tab.evaluate((query) => history.pushState({}, '', query), `?tried=${tried}&page=${nth}`);
      await expect.poll(() => tab.evaluate(() => location.search)).toContain(`page=${nth}`);
      // The view that begins there has been judged.
      await tab.waitForResponse((response) => response.url() === `${COLLECTOR}/try`);
      await tab.waitForResponse((response) => response.url() === `${COLLECTOR}/try`);
    }
    await tab.close();
  } finally {
    await ask(`delete from campaign where id in ($1, $2)`, [upper, lower]);
  }
});

test('an address that is old, used, forged or of another site opens nothing, and signing out ends it', async ({ page, browser }) => {
  await signIn(page);
  const id = await newCampaign(page, { rule: RULE });
  const open = async (): Promise<string> => {
    const answer = await page.request.post(`${STUDIO}/api/tryouts`, {
      headers: { origin: STUDIO },
      data: { page: '/contact', campaign: id },
    });
    return ((await answer.json()) as { url: string }).url;
  };
  const used = await open();
  const old = await open();
  await ask(`update tryout set created_at = now() - interval '6 minutes'`);
  const good = await open();
  const tab = await page.context().newPage();
  await tab.goto(good);
  await expect(dock(tab)).toBeVisible();
  for (const [what, url] of [
    ['old', old],
    ['used', good],
    ['forged', used.replace(/\.[\w-]+$/, '.forged-forged-forged')],
    ['of another site', used.replace('tarnhollowdemo', 'anothersite')],
  ] as const) {
    const { context, page: stranger } = await newVisitor(browser);
    const told = stranger.waitForResponse((response) => response.url() === `${COLLECTOR}/c` && response.ok());
    await stranger.goto(url);
    await told; // The page is a page like any other.
    await expect(dock(stranger), what).toHaveCount(0);
    await context.close();
  }
  // A page of the site is asked for, and no other.
  for (const bad of ['https://elsewhere.example/', '//elsewhere.example', 'javascript:alert(1)']) {
    const answer = await page.request.post(`${STUDIO}/api/tryouts`, { headers: { origin: STUDIO }, data: { page: bad } });
    expect([answer.status(), ((await answer.json()) as { error: { message: string } }).error.message]).toEqual([
      422,
      expect.stringContaining(`page: met ${bad}`),
    ]);
  }
  const { context } = await newVisitor(browser);
  const anonymous = await context.request.post(`${STUDIO}/api/tryouts`, { headers: { origin: STUDIO }, data: { page: '/contact' } });
  expect(anonymous.status()).toBe(401);
  await context.close();
  // A tab that is open when its maker is signed out says that it is over, and shows nothing more.
  await ask(
    `delete from session where token_hash = (select session_hash from tryout where begun_at is not null order by begun_at desc limit 1)`,
  );
  await expect(dock(tab)).toContainText('The try-out is over.');
  await tab.reload();
  await expect(dock(tab)).toHaveCount(0);
});

test('it goes on from a recorded visitor, and a browser is said to be one of ours', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page, {
    rule: {
      people: {
        all: [
          { kind: 'visits', times: { min: 4 } },
          { kind: 'tagged', tag: 'tries' },
        ],
      },
      moment: { kind: 'exit' },
    },
  });
  const [known] = await ask<{ id: number }>(
    `select visitor_id as id from visit group by site_id, visitor_id having count(*) >= 4 order by count(*) desc, 1 limit 1`,
  );
  // Somebody who was here with this very browser before.
  const plain = await page.context().newPage();
  await plain.goto(`${SITE}/contact`);
  await plain.waitForResponse((response) => response.url() === `${COLLECTOR}/c` && response.ok());
  await plain.close();
  const tab = await openTryout(page, id, '/contact');
  await expect(reason(tab, /at least 4 visits/)).toHaveAttribute('data-value', 'false');
  await pretend(tab, /a new visitor/, 'A recorded visitor, by number', String(known?.id), new RegExp(`^Visitor ${known?.id}`));
  await expect(reason(tab, /at least 4 visits/)).toHaveAttribute('data-value', 'true');
  await dock(tab).getByRole('button', { name: 'say more' }).click();
  await pretend(tab, /no tags or traits/, 'A tag', 'tries', /tries/);
  await expect(reason(tab, /tag/)).toHaveAttribute('data-value', 'true');
  await expect(row(tab, await nameOf(id))).toContainText('waits for its moment');
  // What was pretended is gone with another phrase.
  await dock(tab)
    .getByRole('button', { name: `visitor ${known?.id}` })
    .click();
  await dock(tab).getByRole('group', { name: 'Change it' }).getByRole('button', { name: 'a new visitor' }).click();
  await expect(reason(tab, /at least 4 visits/)).toHaveAttribute('data-value', 'false');
  await dock(tab).getByRole('button', { name: 'This browser itself' }).click();
  // It is ticked once the collector has it.
  await dock(tab).getByLabel('This browser is one of ours').press('Space');
  await expect(dock(tab)).toContainText('it counts as the team’s');
  const [state] = await tab.evaluate(() => [localStorage.getItem('crindle:tarnhollowdemo:state')]);
  const { browser: own } = JSON.parse(state ?? '{}') as { browser: string };
  expect(await ask(`select team from visitor where browser_id = $1`, [own])).toEqual([{ team: true }]);
  await openStudio(page, '/setup/team');
  // The latest stands first.
  await page
    .getByRole('button', { name: /^Not one of ours/ })
    .first()
    .click();
  await expect.poll(() => ask(`select team from visitor where browser_id = $1`, [own])).toEqual([{ team: false }]);
});
