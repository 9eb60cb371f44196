// Who may in and what they may there: the first account, invitations, roles, a second step, sessions.
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import type { Browser, Page } from '@playwright/test';
import { expect, test } from '@playwright/test';
import { Secret, TOTP } from 'otpauth';
import { faultsOf } from './axe';
import { SecondProcess } from './second';
import { ask, databaseUrl, environmentOf, openStudio, signIn, STUDIO } from './stack';

const PASSWORD = 'moss and granite';

/** The text of the last mail to somebody, in the outbox that the demo mails to. */
async function mailTo(page: Page, email: string): Promise<string> {
  const read = async (): Promise<string | undefined> => {
    const outbox = await page.request.get(`${environmentOf('studio')['CRINDLE_STANDINS']}/outbox.json`);
    return ((await outbox.json()) as { to: string; text: string }[]).find(({ to }) => to.includes(email))?.text;
  };
  await expect.poll(read).toBeDefined();
  return (await read()) ?? '';
}

/** Somebody who was invited, in a browser of their own. */
async function invited(page: Page, browser: Browser, role: string): Promise<{ page: Page; email: string; name: string }> {
  const name = `Nils ${randomUUID().slice(0, 6)}`;
  const email = `${name.replace(' ', '.').toLowerCase()}@tarnhollow.example`;
  await openStudio(page, '/setup/people');
  const form = page.getByRole('form', { name: 'Invite somebody' });
  await form.getByRole('button', { name: 'What they become' }).click();
  await page.getByRole('button', { name: role, exact: true }).click();
  await form.getByLabel('Email', { exact: true }).fill(email);
  await form.getByRole('button', { name: 'Invite', exact: true }).click();
  await expect(form.getByRole('status')).toContainText(`on its way to ${email}`);
  // Whoever invites never sees it.
  const link = (await mailTo(page, email)).match(/http\S+/)?.[0] ?? '';
  await expect(page.getByText(`invited as ${role} by Ines Rauch`).first()).toBeVisible();
  const context = await browser.newContext();
  const theirs = await context.newPage();
  await theirs.goto(link);
  await theirs.getByLabel('Your name').fill(name);
  await theirs.getByLabel(/^Password/).fill('password12');
  await theirs.getByRole('button', { name: 'Join' }).click();
  await expect(theirs.getByRole('alert').filter({ hasText: 'first to be tried' })).toBeVisible();
  expect(await faultsOf(theirs)).toEqual([]);
  await theirs.getByLabel(/^Password/).fill(PASSWORD);
  await theirs.getByRole('button', { name: 'Join' }).click();
  await theirs.waitForURL('**/today');
  return { page: theirs, email, name };
}

const gone = async (email: string): Promise<void> => void (await ask(`delete from member where email = $1`, [email]));

test('an invited viewer looks and sees nobody; as agent they answer; what is open follows the role; taken out they are out', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const viewer = await invited(page, browser, 'viewer');
  try {
    // The screens of people, and what takes data out, are refused in words; so is what changes anything.
    for (const path of ['/leads', '/conversations', '/setup/connections']) {
      await viewer.page.goto(STUDIO + path);
      await expect(viewer.page.getByRole('alert').filter({ hasText: 'As viewer you cannot' })).toBeVisible();
    }
    expect(await faultsOf(viewer.page)).toEqual([]);
    // What would change something can be seen and not used; looking and trying out go on.
    await openStudio(viewer.page, '/campaigns');
    await expect(viewer.page.getByRole('button', { name: 'New campaign' })).toBeDisabled();
    await expect(viewer.page.getByText('you look, and change nothing')).toBeVisible();
    await viewer.page.locator('a[data-row]').first().click();
    await expect(viewer.page.getByLabel('Name of the campaign')).toBeDisabled();
    await expect(viewer.page.getByRole('switch', { name: 'Part of the next release' })).toBeDisabled();
    await viewer.page.getByRole('tab', { name: 'Results' }).click();
    await expect(viewer.page.getByRole('tab', { name: 'Results', selected: true })).toBeVisible();
    const asked = (path: string, given: Parameters<Page['request']['fetch']>[1] = {}) =>
      viewer.page.request.fetch(STUDIO + path, { headers: { origin: STUDIO }, ...given });
    for (const path of ['/leads.csv', '/results.csv', '/site.json', '/api/conversations', '/api/visitors/known'])
      expect([path, (await asked(path)).status()]).toEqual([path, 403]);
    expect((await asked('/api/purposes', { method: 'POST', data: { name: 'x' } })).status()).toBe(403);
    expect((await asked('/api/nothing')).status()).toBe(404);
    const [known] = await ask<{ email: string }>(`select email from visitor where email is not null limit 1`);
    const hits = (await (await asked(`/api/search?text=${known?.email}`)).json()) as { kind: string }[];
    expect(hits).toEqual([]);
    expect((await asked('/api/values')).status()).toBe(200);
    await openStudio(viewer.page, '/campaigns');
    await expect(viewer.page.getByRole('heading', { name: 'Campaigns' })).toBeVisible();

    await openStudio(page, '/setup/people');
    await page.getByRole('button', { name: `What ${viewer.name} is` }).click();
    await page.getByRole('button', { name: 'agent', exact: true }).click();
    await expect.poll(async () => (await asked('/api/conversations')).status()).toBe(200);
    expect((await asked('/leads.csv')).status()).toBe(403);
    expect((await asked('/api/leads', { method: 'POST', data: { does: 'erase', ids: [randomUUID()] } })).status()).toBe(403);
    await openStudio(viewer.page, '/leads');
    await expect(viewer.page.getByRole('heading', { name: 'Leads' })).toBeVisible();

    await page.getByRole('button', { name: `Take ${viewer.name} out` }).click();
    await expect.poll(async () => (await asked('/api/values')).status()).toBe(401);
    await viewer.page.goto(`${STUDIO}/today`);
    await viewer.page.waitForURL('**/sign-in');
    // Nobody takes the last owner away.
    const owners = await ask<{ id: number }>(
      `select member_id as id from membership join member on member.id = member_id where email = 'ines@tarnhollow.example'`,
    );
    const refused = await page.request.put(`${STUDIO}/api/members/${owners[0]?.id}`, {
      headers: { origin: STUDIO },
      data: { role: 'editor' },
    });
    expect(refused.status()).toBe(409);
  } finally {
    await gone(viewer.email);
    await viewer.page.context().close();
  }
});

test('a second step is set up, asked for, and got past with a spare code; sessions are seen and ended, with what they listen to', async ({
  page,
  browser,
}) => {
  await signIn(page);
  const editor = await invited(page, browser, 'editor');
  const theirs = editor.page;
  try {
    await openStudio(theirs, '/account');
    const step = theirs.getByRole('form', { name: 'Second step' });
    await step.getByLabel('Your password').fill('not mine at all');
    await step.getByRole('button', { name: 'Set it up' }).click();
    await expect(step.getByRole('alert')).toContainText('it is not yours');
    await step.getByLabel('Your password').fill(PASSWORD);
    await step.getByRole('button', { name: 'Set it up' }).click();
    const secret = await step.getByLabel('Key', { exact: true }).innerText();
    expect(await faultsOf(theirs)).toEqual([]);
    await step.getByLabel('Code').fill(new TOTP({ secret: Secret.fromBase32(secret) }).generate());
    await step.getByRole('button', { name: 'From now on ask for it' }).click();
    const codes = theirs.getByRole('list', { name: 'Spare codes' }).getByRole('listitem');
    await expect(codes).toHaveCount(10);
    const spare = await codes.allInnerTexts();

    const context = await browser.newContext();
    const elsewhere = await context.newPage();
    await elsewhere.goto(`${STUDIO}/sign-in`);
    await elsewhere.getByLabel('Email').fill(editor.email);
    await elsewhere.getByLabel('Password').fill(PASSWORD);
    await elsewhere.getByRole('button', { name: 'Sign in' }).click();
    await elsewhere.waitForURL('**/sign-in/code');
    expect((await elsewhere.request.get(`${STUDIO}/api/values`)).status()).toBe(401);
    await elsewhere.getByLabel('Code').fill('000000');
    await elsewhere.getByRole('button', { name: 'Sign in' }).click();
    await expect(elsewhere.getByRole('alert').filter({ hasText: 'That code is not right' })).toBeVisible();
    expect(await faultsOf(elsewhere)).toEqual([]);
    await elsewhere.getByLabel('Code').fill(spare[0] ?? '');
    await elsewhere.getByRole('button', { name: 'Sign in' }).click();
    await elsewhere.waitForURL('**/today');
    // A stream that is open there ends with its session.
    const ended = elsewhere.evaluate(
      () =>
        new Promise<string>((resolve) => {
          const stream = new EventSource('/api/live');
          stream.onopen = () => (document.body.dataset['heard'] = 'open');
          stream.onerror = () => resolve('ended');
        }),
    );
    await expect(elsewhere.locator('body')).toHaveAttribute('data-heard', 'open');
    await openStudio(theirs, '/account');
    await expect(theirs.getByText('9 spare codes are left')).toBeVisible();
    await theirs.getByRole('button', { name: 'End all but this one' }).click();
    expect(await ended).toBe('ended');
    expect((await elsewhere.request.get(`${STUDIO}/api/values`)).status()).toBe(401);
    await context.close();
    // Another password, and it is the one.
    const password = theirs.getByRole('form', { name: 'Password' });
    await password.getByLabel('The one you have').fill(PASSWORD);
    await password.getByLabel(/^The next one/).fill('granite and moss');
    await password.getByRole('button', { name: 'Change it' }).click();
    await expect(theirs.getByText('Kept: you are signed out everywhere else')).toBeVisible();
  } finally {
    await gone(editor.email);
    await theirs.context().close();
  }
});

test('an empty studio lets nobody in but whoever has the link from the terminal, and shows the one line to put on the site', async ({
  page,
}) => {
  const name = `first_${randomUUID().slice(0, 8)}`;
  await ask(`create database ${name}`);
  const url = databaseUrl().replace(/\/[^/?]*(?=$|\?)/, `/${name}`);
  const run = (...words: string[]): string =>
    execFileSync('node', words, { env: { ...process.env, CRINDLE_DATABASE_URL: url }, encoding: 'utf8' });
  run('scripts/migrate.mjs');
  const studio = await SecondProcess.start('studio', { CRINDLE_DATABASE_URL: url });
  try {
    await page.goto(studio.url);
    await page.waitForURL('**/begin');
    await expect(page.getByText('stands in the terminal where Crindle was started')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Make the site' })).toHaveCount(0);
    const ticket = new URL(run('dist/server/cli.mjs', 'link').trim()).search;
    await page.goto(`${studio.url}/begin${ticket}`);
    expect(await faultsOf(page)).toEqual([]);
    await page.getByLabel('Your name').fill('Mara Lind');
    await page.getByLabel('Email').fill('mara@larkfield.example');
    await page.getByLabel(/^Password/).fill(PASSWORD);
    await page.getByLabel('Name of the site').fill('Larkfield');
    await page.getByLabel(/^Its address/).fill('not an address');
    await page.getByRole('button', { name: 'Make the site' }).click();
    await expect(page.getByRole('alert').filter({ hasText: 'Address: met “not an address”' })).toBeVisible();
    await page.getByLabel(/^Its address/).fill('https://www.larkfield.example/');
    await page.getByLabel(/^Password/).fill(PASSWORD);
    await page.getByRole('button', { name: 'Make the site' }).click();
    await page.waitForURL('**/setup');
    await expect(page.getByText(/data-site=/).first()).toBeVisible();
    await expect(page.getByLabel(/One host a line/)).toHaveValue('www.larkfield.example\nlarkfield.example');
    await expect(page.getByText('Not seen yet.')).toBeVisible();
    // It was good once.
    await page.goto(`${studio.url}/begin${ticket}`);
    await expect(page).not.toHaveURL(/begin/);
  } finally {
    await studio.kill();
    await ask(`drop database ${name} with (force)`);
  }
});

test('who signs out leaves nothing in the tab: going back leads to signing in, and no answer of the studio is kept', async ({
  browser,
}) => {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto(`${STUDIO}/sign-in`);
  await page.getByLabel('Email').fill('ines@tarnhollow.example');
  await page.getByLabel('Password').fill('lantern-col');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/today');
  await openStudio(page, '/leads');
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  const answer = await page.request.get(`${STUDIO}/api/values`);
  expect([answer.status(), answer.headers()['cache-control']]).toEqual([200, 'no-store']);
  const refused = await page.request.get(`${STUDIO}/api/nowhere`);
  expect([refused.status(), refused.headers()['cache-control']]).toEqual([404, 'no-store']);
  await page.getByRole('button', { name: 'Ines Rauch' }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await page.waitForURL('**/sign-in');
  await page.goBack();
  await page.waitForURL('**/sign-in');
  await expect(page.getByLabel('Password')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Leads' })).toHaveCount(0);
  await context.close();
});
