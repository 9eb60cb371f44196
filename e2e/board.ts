// A campaign's storyboard, as the tests handle it.
import type { Locator, Page } from '@playwright/test';
import { expect } from '@playwright/test';
import { randomUUID } from 'node:crypto';
import { ask, openStudio, STUDIO } from './stack';

export const saved = (page: Page) => expect(page.getByText(/^saved \d\d:\d\d$/)).toBeVisible();

/** A campaign with nothing but what every new one has: its id. */
export async function madeCampaign(page: Page, document: object = {}): Promise<string> {
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
  expect(answer.ok(), await answer.text()).toBe(true);
  return ((await answer.json()) as { id: string }).id;
}

/** The same, with its storyboard open. */
export async function newCampaign(page: Page, document: object = {}): Promise<string> {
  const id = await madeCampaign(page, document);
  await openStudio(page, `/campaigns/${id}`);
  await page.getByRole('tab', { name: 'Messages' }).click();
  await expect(page.getByRole('group', { name: 'Storyboard' })).toBeVisible();
  return id;
}

export const flowOf = async (id: string) =>
  (await ask<{ flow: { start: string; messages: Record<string, unknown>[] } }>(`select flow from campaign where id = $1`, [id]))[0]?.flow;
export const message = (page: Page, id: string) => page.getByRole('region', { name: `Message ${id}`, exact: true });
export const drawn = (page: Page, id: string) => page.locator(`[data-drawn="${id}"]`);

export async function putIn(page: Page, id: string, where: string, what: string): Promise<void> {
  await message(page, id).getByRole('button', { name: where }).click();
  await page.getByRole('menuitem', { name: what, exact: true }).click();
}

/** Switches a campaign on or off, and publishes. */
export async function publish(page: Page, id: string, status: 'live' | 'draft'): Promise<void> {
  for (const [path, data] of [
    [`/api/campaigns/${id}`, { status }],
    ['/api/releases', { name: status, note: '' }],
  ] as const) {
    // A connection that was idle for long may be closed at the very moment in which it is used again.
    const answer = await page.request.post(STUDIO + path, { headers: { origin: STUDIO }, data, maxRetries: 2 });
    expect({ ok: answer.ok(), text: answer.ok() ? '' : await answer.text() }).toEqual({ ok: true, text: '' });
  }
}

/** Publishes with the panel that is open, what may not be meant so included: it is asked about once more. */
export async function publishAllTheSame(
  panel: Locator,
  press: (button: Locator) => Promise<void> = (button) => button.click(),
): Promise<void> {
  await press(panel.getByRole('button', { name: /^Publish release \d+$/ }));
  await expect(panel.getByText(/above may not be meant so/)).toBeVisible();
  await press(panel.getByRole('button', { name: 'Publish it all the same' }));
}
