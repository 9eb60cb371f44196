// Built-ins that the page script uses, taken away by the page one by one: no error of ours reaches the page, no malformed id stays
// behind, and on the visitor's next page all is well.
import { expect, test } from '@playwright/test';
import { openShop, SHOP } from './shop';

const BUILT_INS = [
  ...[
    'from',
    'isArray',
    'prototype.map',
    'prototype.flatMap',
    'prototype.filter',
    'prototype.find',
    'prototype.findIndex',
    'prototype.some',
  ],
  ...[
    'prototype.slice',
    'prototype.splice',
    'prototype.push',
    'prototype.join',
    'prototype.flat',
    'prototype.includes',
    'prototype.forEach',
  ],
].map((name) => `Array.${name}`);
const MORE = [
  ...['keys', 'values', 'entries', 'fromEntries', 'assign', 'hasOwn'].map((name) => `Object.${name}`),
  ...['slice', 'split', 'startsWith', 'replace', 'padStart', 'charCodeAt', 'trim', 'toWellFormed'].map(
    (name) => `String.prototype.${name}`,
  ),
  ...['floor', 'round', 'max', 'min'].map((name) => `Math.${name}`),
  ...['get', 'set', 'clear', 'forEach'].map((name) => `Map.prototype.${name}`),
  ...['add', 'has'].map((name) => `Set.prototype.${name}`),
  ...['Number.isFinite', 'Number.prototype.toString', 'RegExp.prototype.test', 'JSON.parse', 'Reflect.get', 'Reflect.set', 'Date.now'],
  ...['Promise.prototype.then', 'Promise.prototype.catch', 'Promise.all', 'Intl.DateTimeFormat', 'Temporal.Now.timeZoneId'],
  ...['crypto.getRandomValues', 'Storage.prototype.getItem', 'Storage.prototype.setItem', 'Storage.prototype.removeItem'],
  ...['EventTarget.prototype.addEventListener', 'Element.prototype.closest', 'Element.prototype.getAttribute', 'navigator.sendBeacon'],
  ...[
    'document.querySelectorAll',
    'matchMedia',
    'fetch',
    'setTimeout',
    'clearTimeout',
    'setInterval',
    'URL',
    'AbortController',
    'Map',
    'Set',
  ],
  ...['getComputedStyle', 'requestAnimationFrame', 'console.debug', 'Response.prototype.json', 'Headers.prototype.get'],
];

/** How pages replace what they think is missing: wrongly, or by nothing. */
const WAYS = { throws: 'function () { throw new Error("taken away") }', 'gives nothing': 'function () {}' };

for (const [way, instead] of Object.entries(WAYS))
  test(`a built-in that ${way} harms neither the page nor the visitor`, async ({ browser }) => {
    const all = [...BUILT_INS, ...MORE];
    const pages = all.map((name) => {
      const cut = name.lastIndexOf('.');
      const [owner, key] = cut < 0 ? ['window', name] : [name.slice(0, cut), name.slice(cut + 1)];
      const head = `<script>try { Object.defineProperty(${owner}, '${key}', { value: ${instead}, configurable: true, writable: true }) } catch {}</script>`;
      return [`/${name}`, { head, body: '<main style="height:3000px"></main>' }] as const;
    });
    const shop = await openShop(browser, Object.fromEntries(pages));
    const { page, errors } = shop;
    for (const name of all) {
      await page.goto(`${SHOP}/${name}`);
      await page.mouse.move(50, 60);
      await page.mouse.click(40, 80);
      await page.mouse.wheel(0, 400);
      expect({ name, errors }).toEqual({ name, errors: [] });
      const sent = page.waitForRequest((request) => request.url().endsWith('/c'));
      await page.goto(`${SHOP}/plain`);
      const { browser: id } = JSON.parse((await sent).postData() ?? '{}') as { browser: string };
      expect({ name, id }).toEqual({
        name,
        id: expect.stringMatching(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/),
      });
      expect({ name, errors }).toEqual({ name, errors: [] });
    }
    await shop.context.close();
  });
