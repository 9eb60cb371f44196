import type { Page } from '@playwright/test';
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { ask, openStudio, signIn, STUDIO } from './stack';

const saved = (page: Page) => expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();

/** A campaign with nothing but what every new one has. */
async function newCampaign(page: Page, document: object = {}): Promise<string> {
  const answer = await page.request.post(`${STUDIO}/api/campaigns`, {
    headers: { origin: STUDIO },
    data: {
      name: `Board ${randomUUID().slice(0, 8)}`,
      goal: { kind: 'form' },
      rule: { moment: { kind: 'exit' } },
      flow: {
        start: 'ask',
        messages: [
          { id: 'ask', format: 'popup', closes: { button: true, dim: true, escape: true }, blocks: [{ kind: 'heading', text: 'First' }] },
        ],
      },
      ...document,
    },
  });
  expect(answer.ok()).toBe(true);
  const { id } = (await answer.json()) as { id: string };
  await openStudio(page, `/campaigns/${id}`);
  await page.getByRole('tab', { name: 'Messages' }).click();
  await expect(page.getByRole('group', { name: 'Storyboard' })).toBeVisible();
  return id;
}

const flowOf = async (id: string) =>
  (await ask<{ flow: { start: string; messages: Record<string, unknown>[] } }>(`select flow from campaign where id = $1`, [id]))[0]?.flow;
const message = (page: Page, id: string) => page.getByRole('region', { name: `Message ${id}`, exact: true });
const drawn = (page: Page, id: string) => page.locator(`[data-drawn="${id}"]`);

async function putIn(page: Page, id: string, where: string, what: string): Promise<void> {
  await message(page, id).getByRole('button', { name: where }).click();
  await page.getByRole('menuitem', { name: what, exact: true }).click();
}

test('yes or no, a form, and a second thought that leads back to it, made from an empty campaign', async ({ page }) => {
  await signIn(page);
  const id = await newCampaign(page);
  await page.getByLabel('Heading of ask').fill('Would half-price bunks change your plans?');
  await putIn(page, 'ask', 'Put something in at the end', 'Question');
  await page.getByLabel('Question of ask').fill('Well?');
  await page.getByLabel('Answer 1 of ask').fill('Yes, tell me');
  await page.getByLabel('Answer 2 of ask').fill('No, not this year');
  // From each answer to a message of its own.
  for (const [answer, name] of [
    ['Yes, tell me', 'leave-email'],
    ['No, not this year', 'second-thought'],
  ] as const) {
    await message(page, 'ask')
      .getByRole('button', { name: `What “${answer}” does` })
      .click();
    await page.getByRole('button', { name: 'Open a new pop-up' }).click();
    const named = page.getByLabel('Name of the message popup');
    await named.fill(name);
    await named.press('Enter');
    await expect(message(page, name)).toBeVisible();
  }
  await page.getByLabel('Heading of leave-email').fill('Then it pays from the third night');
  await putIn(page, 'leave-email', 'Put something in at the end', 'Form');
  await page.getByLabel('Field 1 of leave-email').fill('Where shall we write to?');
  await page.getByLabel('Heading of second-thought').fill('One thing before you go');
  await putIn(page, 'second-thought', 'Put something in at the end', 'Buttons');
  await page.getByLabel('Button 1 of second-thought').fill('Then perhaps');
  await message(page, 'second-thought').getByRole('button', { name: 'What “Then perhaps” does' }).click();
  await page.getByLabel('Action 1').selectOption('message');
  await page.getByLabel('Message to open').selectOption('leave-email');
  await page.keyboard.press('Escape');
  await expect(drawn(page, 'ask').getByRole('button', { name: 'No, not this year', includeHidden: true })).toHaveText('No, not this year');
  await expect(page.getByRole('region', { name: 'What could go wrong' })).toBeHidden();
  await saved(page);
  const flow = await flowOf(id);
  expect(flow).toMatchObject({
    start: 'ask',
    messages: [
      {
        blocks: [
          { text: 'Would half-price bunks change your plans?' },
          {
            answers: [
              { label: 'Yes, tell me', does: [{ kind: 'message', id: 'leave-email' }] },
              { label: 'No, not this year', does: [{ kind: 'message', id: 'second-thought' }] },
            ],
          },
        ],
      },
      { id: 'leave-email', blocks: [{}, {}, { kind: 'form', fields: [{ label: 'Where shall we write to?' }] }] },
      { id: 'second-thought', blocks: [{}, {}, { buttons: [{ label: 'Then perhaps', does: [{ kind: 'message', id: 'leave-email' }] }] }] },
    ],
  });
  const { violations } = await new AxeBuilder({ page }).include('main').analyze();
  expect(violations.map(({ id: rule, nodes }) => `${rule}: ${nodes.map(({ target }) => target.join(' ')).join(', ')}`)).toEqual([]);
});
