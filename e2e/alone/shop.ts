// Pages of a test's own making with the built page script in them, and a collector that answers from memory: for what needs
// headers, host pages and releases of every kind, and hundreds of them.
import { readFileSync } from 'node:fs';
import type { Browser, BrowserContext, Page } from '@playwright/test';
import type { BlockOf } from '../../src/core/messages/block';
import type { Release, ReleasedCampaign } from '../../src/core/release/release';
import type { BatchAnswer, Item, DecisionContext } from '../../src/core/wire/items';
import { unpackSignals } from '../../src/core/wire/pack';
import { newVisitor, settled } from '../visitor';

export const SHOP = 'https://shop.example';
const COLLECTOR = 'https://collector.example';

export interface Shop {
  readonly context: BrowserContext;
  readonly page: Page;
  /** Everything that the collector was sent, each item once however often it came. */
  readonly items: Item[];
  /** Errors that reached the page. */
  readonly errors: string[];
  release: Release;
  decides: Partial<DecisionContext>;
  /** While false the collector answers 503. */
  isUp: boolean;
  requests: number;
  /** While true the collector answers without what to decide in. */
  isSilent: boolean;
  /** While true the release is not told in the answer: the page fetches it. */
  isLong: boolean;
}

export const emptyRelease: Release = { version: 1, number: 1, budget: {}, campaigns: [], watch: [], values: [] };

/** A campaign of one message, for everybody on every page, some seconds after its opening and again whenever it fits. */
export const campaignOf = (id: string, message: ReleasedCampaign['flow']['messages'][number], seconds: number): ReleasedCampaign => ({
  id,
  place: message.format === 'banner' ? 'top' : 'overlay',
  pages: {},
  moment: { kind: 'delay', seconds },
  pacing: { again: 'always' },
  goal: { kind: 'form' },
  flow: { start: message.id, messages: [message] },
});

export const CLOSES = { button: true, dim: true, escape: true };

export const EMAIL_FORM: BlockOf<'form'> = {
  kind: 'form',
  fields: [{ kind: 'email', name: 'email', label: 'Email', required: true }],
  submit: 'Send',
  thanks: 'Thanks',
};

export interface ShopPage {
  readonly body?: string;
  readonly head?: string;
  readonly headers?: Record<string, string>;
  /** Attributes of the script tag; null for a page without the script. */
  readonly script?: string | null;
}

/** `pages` by path; a path that is not there gets a plain page. */
export async function openShop(
  browser: Browser,
  pages: Readonly<Record<string, ShopPage>> = {},
  options: Parameters<Browser['newContext']>[0] = {},
): Promise<Shop> {
  const { context, page } = await newVisitor(browser, options);
  const shop: Shop = {
    context,
    page,
    items: [],
    errors: [],
    release: emptyRelease,
    decides: {},
    isUp: true,
    requests: 0,
    isSilent: false,
    isLong: false,
  };
  const seen = new Set<string>();
  page.on('pageerror', (error) => shop.errors.push(error.message));
  await context.route(`${SHOP}/**`, (route) => {
    const { pathname } = new URL(route.request().url());
    const { body = '', head = '', headers = {}, script = '' } = pages[pathname] ?? {};
    return route.fulfill({
      contentType: 'text/html; charset=utf-8',
      headers,
      body: `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Shop</title>${head}${script === null ? '' : `<script async src="${COLLECTOR}/page.js" data-site="shop" ${script}></script>`}</head><body>${body}</body></html>`,
    });
  });
  await context.route(`${COLLECTOR}/**`, (route) => {
    const { pathname } = new URL(route.request().url());
    const headers = {
      'access-control-allow-origin': '*',
      'access-control-expose-headers': 'retry-after',
      'cross-origin-resource-policy': 'cross-origin',
    };
    if (pathname.endsWith('.js'))
      return route.fulfill({ contentType: 'text/javascript', headers, body: readFileSync(`dist/page/${pathname.split('/').at(-1)}`) });
    if (pathname.startsWith('/r/')) return route.fulfill({ contentType: 'application/json', headers, body: JSON.stringify(shop.release) });
    shop.requests++;
    if (!shop.isUp) return route.fulfill({ status: 503, headers: { ...headers, 'retry-after': '1' }, body: '{}' });
    const { items, has } = JSON.parse(route.request().postData() ?? '{}') as { items: Item[]; has?: string };
    if (!Array.isArray(items)) return route.fulfill({ status: 400, headers, body: '{}' });
    for (const given of items) {
      const item = given.kind === 'piece' ? { ...given, signals: unpackSignals(given.signals) as typeof given.signals } : given;
      const key = JSON.stringify([
        item.kind,
        'id' in item ? item.id : 'view' in item ? item.view : '',
        item.kind === 'piece' ? item.piece : 0,
        item.kind === 'outcome' ? item.outcome : '',
      ]);
      // Nothing tells one browser's tabs apart in what each says last.
      if (item.kind === 'denied' || !seen.has(key)) shop.items.push(item);
      seen.add(key);
    }
    const hash = `h${shop.release.number}`;
    const asks = items.length === 0 || items.some(({ kind }) => ['open', 'event', 'person', 'mark', 'form'].includes(kind));
    const context: DecisionContext = {
      release: { number: shop.release.number, hash },
      ...(has !== hash && !shop.isLong ? { document: shop.release } : {}),
      facts: [],
      pacing: { campaigns: {} },
      ...shop.decides,
    };
    const answer: BatchAnswer = {
      items: items.map(() => ({ ok: true })),
      now: Date.now(),
      release: hash,
      ...(asks && !shop.isSilent ? { context } : {}),
    };
    return route.fulfill({ contentType: 'application/json', headers, body: JSON.stringify(answer) });
  });
  return shop;
}

/** Opens a page of the shop and waits until the script has decided with what it was told. */
export async function enter({ page }: Shop, path = '/'): Promise<void> {
  const told = page.waitForResponse((response) => response.url() === `${COLLECTOR}/c` && response.ok());
  await page.goto(SHOP + path);
  await told;
  await settled(page);
}

export const showings = ({ items }: Shop) => items.filter((item) => item.kind === 'showing');
