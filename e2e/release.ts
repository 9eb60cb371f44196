// A site of its own beside the demo's, at the same address, with a release made for a test.
import type { Browser, Page } from '@playwright/test';
import { expect } from '@playwright/test';
import { v7 } from 'uuid';
import type { BatchAnswer } from '../src/core/wire/items';
import type { CampaignToRelease } from '../src/core/release/release';
import { compileRelease } from '../src/core/release/release';
import type { Message } from '../src/core/messages/message';
import type { Budget } from '../src/core/pacing/pacing';
import type { Rule } from '../src/core/rules/schema';
import { hashOf } from '../src/server/db/releases';
import { ask, COLLECTOR, SITE } from './stack';
import { newVisitor, settled } from './visitor';

export interface TestCampaign {
  readonly id: string;
  readonly rule: Rule;
  readonly messages: readonly Message[];
  readonly holdout?: number;
  readonly variants?: CampaignToRelease['variants'];
}

/** Makes the site where it is not there, and publishes a release on it. */
export async function release(key: string, campaigns: readonly TestCampaign[], budget: Budget = {}): Promise<void> {
  await ask(`insert into site (key, name, addresses) values ($1, $1, $2) on conflict (key) do nothing`, [
    key,
    [new URL(SITE).host, 'shop.example'],
  ]);
  const [{ id, number } = { id: 0, number: 0 }] = await ask<{ id: number; number: number }>(
    `select site.id, coalesce(max(number), 0) + 1 as number from site left join release on release.site_id = site.id where key = $1 group by site.id`,
    [key],
  );
  const { release: document, facts } = compileRelease(
    campaigns.map(({ messages, ...campaign }) => ({
      ...campaign,
      goal: { kind: 'form' },
      flow: { start: messages[0]?.id ?? '', messages: [...messages] },
    })),
    { number, budget, segments: {}, sets: {} },
  );
  await ask(`insert into release (site_id, number, name, document, facts, hash) values ($1, $2, $3, $4, $5, $6)`, [
    id,
    number,
    `Release ${number}`,
    document,
    { conditions: facts, sets: {}, places: {} },
    hashOf(document),
  ]);
  // The collector remembers a site for a moment.
  await expect.poll(() => hashOfLive(key), { intervals: [50] }).toBe(hashOf(document));
}

/** What the collector says is live on a site. */
async function hashOfLive(key: string): Promise<string | null> {
  const response = await fetch(`${COLLECTOR}/c`, {
    method: 'POST',
    headers: {
      origin: SITE,
      'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36',
    },
    body: JSON.stringify({ key, browser: v7(), now: Date.now(), items: [] }),
  });
  return ((await response.json()) as BatchAnswer).release ?? null;
}

/** A visitor to the demo site's pages, with the snippet of another site in them. */
export async function visitorOf(
  browser: Browser,
  key: string,
  options: Parameters<Browser['newContext']>[0] = {},
): Promise<{ page: Page; close: () => Promise<void> }> {
  const { context, page } = await newVisitor(browser, options);
  await context.route(`${SITE}/**`, async (route) => {
    if (route.request().resourceType() !== 'document') return route.fallback();
    const response = await route.fetch();
    return route.fulfill({ response, body: (await response.text()).replace('data-site="tarnhollowdemo"', `data-site="${key}"`) });
  });
  return { page, close: () => context.close() };
}

/** Opens a page and waits until the script has decided with what the collector told it. */
export async function open(page: Page, path: string): Promise<void> {
  const told = page.waitForResponse((response) => response.url() === `${COLLECTOR}/c` && response.ok());
  await page.goto(SITE + path);
  await told;
  await settled(page);
}
