import type { Browser } from '@playwright/test';
import { chromium } from '@playwright/test';
import { campaignOf, CLOSES, emptyRelease, openShop, SHOP } from '../e2e/alone/shop';
import { median } from './median';
import { sized } from './sized';

const ELEMENTS = sized(200_000, 3000);
const TIMES = sized(5, 1);
const STEPS = sized(60, 5);
const STEP_MS = 100;

/** What a page view costs on a very large page: six seconds of scrolling with something that changes all the while, with the page script and without. */
export async function benchPage(): Promise<void> {
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell', args: ['--no-sandbox'] });
  try {
    const [without, script]: [Cost[], Cost[]] = [[], []];
    for (let time = 0; time < TIMES; time++) {
      without.push(await costOf(browser, '/bare'));
      script.push(await costOf(browser, '/with'));
    }
    const of = (costs: readonly Cost[], key: keyof Cost): number => median(costs.map((cost) => cost[key]));
    console.log(
      `A page view in Chromium, ${ELEMENTS.toLocaleString('en')} elements, ${((STEPS * STEP_MS) / 1000).toFixed(1)} s of scrolling, ms of its thread`,
    );
    for (const [what, key] of [
      ['script', 'scriptMs'],
      ['everything', 'taskMs'],
    ] as const) {
      const [bare, added] = [of(without, key), of(script, key)];
      console.log(
        `  ${what.padEnd(11)} ${bare.toFixed(0)} without, ${added.toFixed(0)} with the page script: ${(added - bare).toFixed(0)} more`,
      );
    }
  } finally {
    await browser.close();
  }
}

interface Cost {
  readonly scriptMs: number;
  readonly taskMs: number;
}

const body = `<main>${'<section><p>Text <b>of</b></p></section>'.repeat(Math.ceil(ELEMENTS / 3))}</main><p id="ticks" style="position:fixed;top:0">0</p>`;
const head = Array.from({ length: 30 }, (_, nth) => `<meta property="made:up${nth}" content="x">`).join('');

async function costOf(browser: Browser, path: string): Promise<Cost> {
  const page = { body, head };
  const shop = await openShop(browser, { '/bare': { ...page, script: null }, '/with': page });
  const popup = { id: 'ask', format: 'popup' as const, closes: CLOSES, blocks: [{ kind: 'heading' as const, text: 'Hello' }] };
  // Asks for an element that comes late, for depth, and for what the page says of itself.
  shop.release = {
    ...emptyRelease,
    watch: ['main', '.signup'],
    campaigns: [
      {
        ...campaignOf('ask', popup, 3600),
        moment: {
          all: [
            { kind: 'reach', selector: '.signup' },
            { kind: 'scroll', atLeast: 99 },
          ],
        },
      },
    ],
  };
  try {
    await shop.page.goto(SHOP + path);
    if (path === '/with') while (!shop.items.some(({ kind }) => kind === 'open')) await shop.page.waitForTimeout(50);
    const cdp = await shop.context.newCDPSession(shop.page);
    await cdp.send('Performance.enable');
    const read = async (): Promise<ReadonlyMap<string, number>> =>
      new Map((await cdp.send('Performance.getMetrics')).metrics.map(({ name, value }) => [name, value]));
    const before = await read();
    for (let step = 0; step < STEPS; step++) {
      await shop.page.evaluate((at) => {
        scrollBy(0, 300);
        const ticks = document.querySelector('#ticks');
        if (ticks) [ticks.textContent, ticks.className] = [String(at), `tick-${at}`];
      }, step);
      await shop.page.waitForTimeout(STEP_MS);
    }
    const after = await read();
    const ms = (name: string): number => ((after.get(name) ?? 0) - (before.get(name) ?? 0)) * 1000;
    return { scriptMs: ms('ScriptDuration'), taskMs: ms('TaskDuration') };
  } finally {
    await shop.context.close();
  }
}
