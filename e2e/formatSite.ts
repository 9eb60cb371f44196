// A site with a campaign for each message of formatMessages.ts, shown on pages with its name in the address.
import type { Page } from '@playwright/test';
import { single } from './formatMessages';
import { release } from './release';
import { ask } from './stack';

export const publishFormats = (key: string): Promise<void> =>
  release(
    key,
    Object.entries(single).map(([name, messages]) => ({
      id: `c-${name}`,
      rule: {
        pages: { on: [{ part: 'parameter', name: 'case', op: 'is', value: name }] },
        moment: { kind: 'delay', seconds: name.startsWith('slow') ? 2.5 : 0.6 },
        pacing: { again: 'always', stop: { converted: false } },
      },
      messages,
    })),
  );

export const box = (page: Page) => page.locator('[data-crindle] .box');

/** What has come of a campaign's showings to this browser, in order. */
export const outcomesOn = (key: string) => (page: Page, campaign: string) => async () => {
  const browser = await page.evaluate(
    (site) => (JSON.parse(localStorage.getItem(`crindle:${site}:state`) ?? '{}') as { browser: string }).browser,
    key,
  );
  return (
    await ask<{ kind: string }>(
      `select outcome.kind from outcome join showing on showing.site_id = outcome.site_id and showing.id = showing_id join visitor on visitor.site_id = showing.site_id and visitor.id = visitor_id
        where browser_id = $1 and campaign_id = $2 order by outcome.at`,
      [browser, campaign],
    )
  ).map(({ kind }) => kind);
};

/** What has moved by itself since the page was opened. */
export const layoutShift = (page: Page): Promise<number> =>
  page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        let sum = 0;
        new PerformanceObserver((list) => {
          for (const entry of list.getEntries() as (PerformanceEntry & { value: number; hadRecentInput: boolean })[])
            if (!entry.hadRecentInput) sum += entry.value;
        }).observe({ type: 'layout-shift', buffered: true });
        // What was kept is told before the second frame is drawn.
        requestAnimationFrame(() => requestAnimationFrame(() => resolve(sum)));
      }),
  );
