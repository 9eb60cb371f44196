import { expect, test } from '@playwright/test';
import { box, layoutShift, outcomesOn, publishFormats } from './formatSite';
import { ask } from './stack';
import { settled } from './visitor';
import { open, visitorOf } from './release';

const KEY = 'answersite';
const outcomes = outcomesOn(KEY);
test.beforeAll(() => publishFormats(KEY));

test('a form checks each field, says what is wrong beside it, keeps what was typed, and sends it once', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=form');
  const form = box(page).locator('form');
  await form.getByLabel('Name').fill('Runa');
  await form.getByLabel('Nights').fill('12');
  await form.getByRole('button', { name: 'Send' }).click();
  await expect(form.getByLabel('Email')).toBeFocused();
  for (const label of ['Email', 'Nights', 'Hut', 'You may write to me'])
    await expect(form.getByLabel(label)).toHaveAttribute('aria-invalid', 'true');
  await expect(form.getByLabel('Name')).toHaveValue('Runa');
  await form.getByLabel('Email').fill('runa@post.example');
  await form.getByLabel('Nights').fill('3');
  await form.getByLabel('Hut').selectOption('Windgate');
  await form.getByLabel('Supper').check();
  await form.getByLabel('Lunch').check();
  await form.getByLabel('First night').fill('2026-12-05');
  await form.getByLabel('You may write to me').check();
  await form.getByRole('button', { name: 'Send' }).click();
  await expect(box(page).getByRole('status')).toHaveText('Thank you, all of it');
  await expect
    .poll(() => ask(`select email, fields from lead join site on site.id = site_id where key = $1 and campaign_id = 'c-form'`, [KEY]))
    .toEqual([
      {
        email: 'runa@post.example',
        fields: {
          who: 'Runa',
          email: 'runa@post.example',
          nights: 3,
          hut: 'Windgate',
          extras: 'Supper, Lunch',
          night: '2026-12-05',
          ok: true,
        },
      },
    ]);
  await close();
});

test('whoever fills in what people do not see is thanked and not kept', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  const sent: string[] = [];
  page.on('request', (request) => (request.postData() ?? '').includes('"kind":"form"') && sent.push(request.url()));
  await open(page, '/contact?case=flow');
  await box(page).getByRole('button', { name: 'Yes' }).click();
  await box(page).getByLabel('Email').fill('robot@post.example');
  await box(page)
    .locator('input[name=website]')
    .evaluate((input) => ((input as HTMLInputElement).value = 'http://spam.example'));
  await box(page).getByRole('button', { name: 'Send' }).click();
  await expect(box(page).getByRole('status')).toHaveText('It is sent');
  await settled(page);
  expect(sent).toEqual([]);
  expect(await ask(`select email from lead where email = 'robot@post.example'`)).toEqual([]);
  await close();
});

test('yes leads to the form, no to a second thought and from there to the form, in the same place without a flash', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=flow');
  await box(page).evaluate((element) => element.setAttribute('data-same', ''));
  await box(page).getByRole('button', { name: 'No', exact: true }).click();
  await expect(page.getByRole('dialog', { name: 'Sure?' })).toBeVisible();
  await box(page).getByRole('button', { name: 'On second thought, yes' }).click();
  await expect(page.getByRole('dialog', { name: 'Where to?' })).toBeVisible();
  await expect(box(page)).toHaveAttribute('data-same', '');
  expect(await layoutShift(page)).toBe(0);
  await box(page).getByLabel('Email').fill('second@post.example');
  await box(page).getByRole('button', { name: 'Send' }).click();
  await expect(box(page).getByRole('status')).toHaveText('It is sent');
  await page.keyboard.press('Escape');
  await expect.poll(outcomes(page, 'c-flow')).toEqual(['clicked', 'converted']);
  await expect
    .poll(() => ask(`select key, value from visitor_change where kind = 'tag' and key = 'said-no'`))
    .toEqual([{ key: 'said-no', value: true }]);
  await close();
});

test('a conversation asks one thing at a time and branches by the answer', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await open(page, '/contact?case=chat');
  await page.getByRole('button', { name: 'Jorun May I ask something?' }).click();
  const chat = page.getByRole('dialog', { name: 'Jorun' });
  await chat.getByRole('button', { name: 'More' }).click();
  await expect(chat.getByText('Any children?')).toBeVisible();
  await chat.getByRole('button', { name: 'Yes' }).click();
  await chat.getByRole('textbox', { name: 'Where can I write?' }).fill('no email');
  await page.keyboard.press('Enter');
  await expect(chat.getByRole('alert')).not.toBeEmpty();
  await chat.getByRole('textbox', { name: 'Where can I write?' }).fill('family@post.example');
  await page.keyboard.press('Enter');
  await expect(chat.getByText('Thank you.')).toBeVisible();
  await expect
    .poll(() => ask(`select fields from lead where email = 'family@post.example'`))
    .toEqual([{ fields: { party: 'More', children: 'Yes', email: 'family@post.example' } }]);
  expect(
    await ask(
      `select count(*)::int as n from visitor_change where kind = 'tag' and key = 'family' and site_id = (select id from site where key = $1)`,
      [KEY],
    ),
  ).toEqual([{ n: 1 }]);
  await expect.poll(outcomes(page, 'c-chat')).toEqual(['clicked', 'replied', 'converted']);
  await close();
});

test('a quiet action shows nothing, tags, scores and tells the page', async ({ browser }) => {
  const { page, close } = await visitorOf(browser, KEY);
  await page.addInitScript(() => {
    addEventListener('DOMContentLoaded', () =>
      (window as unknown as { crindle: { on: (what: string, run: (detail: unknown) => void) => void } }).crindle.on('event', (detail) => {
        (window as unknown as { heard: unknown }).heard = detail;
      }),
    );
  });
  await open(page, '/contact?case=quiet');
  await expect.poll(() => page.evaluate(() => (window as unknown as { heard?: { name: string } }).heard?.name)).toBe('was_quiet');
  await expect(page.locator('[data-crindle]')).toHaveCount(0);
  await expect
    .poll(() =>
      ask(
        `select kind, key, value from visitor_change where (key = 'quiet-one' or kind = 'score') and site_id = (select id from site where key = $1) order by kind`,
        [KEY],
      ),
    )
    .toEqual([
      { kind: 'score', key: 'score', value: 3 },
      { kind: 'tag', key: 'quiet-one', value: true },
    ]);
  await close();
});
