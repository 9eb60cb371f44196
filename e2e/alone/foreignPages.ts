// Pages as other people build them: patched built-ins, keys of their own, odd layouts, frameworks that take over what the server
// sent, dialogs, names that get in the way. Each is opened with and without the page script.
import type { Page } from '@playwright/test';
import type { ShopPage } from './shop';

export interface ForeignPage extends ShopPage {
  /** What must be done before a message may show: until then none does. */
  readonly before?: (page: Page) => Promise<void>;
  /** Taken away so much that nothing can show; the page must not notice, and the visitor's next page is like any other. */
  readonly cannotShow?: boolean;
  /** The element that scrolls, where it is not the page. */
  readonly scrolls?: string;
  /** Where nothing can be scrolled. */
  readonly isWhole?: boolean;
}

const TEXT = '<h1>Shop</h1><p>Boots, ropes, lamps.</p>';
const TALL = `<main style="height:3000px">${TEXT}</main>`;
const script = (code: string): string => `<script>${code}</script>`;
const patched = (code: string): ForeignPage => ({ head: script(code), body: TALL });
const styled = (css: string, body = TALL): ForeignPage => ({ head: `<style>${css}</style>`, body });

/** What a page's elements may be called: everything that the page script reads of a document. */
const NAMES = ['title', 'body', 'referrer', 'cookie', 'documentElement', 'visibilityState', 'readyState', 'hidden', 'scrollingElement'];
/** And of an element. */
const FIELDS = ['id', 'className', 'classList', 'closest', 'matches', 'localName', 'dataset'];

/** A framework that expects what it finds to be what the server sent, reports an error where it is not, and writes its own over it. */
const hydrates = (what: string, when: string): string =>
  script(`(() => {
    const take = () => {
      const root = document.querySelector('${what}');
      const found = [...root.children].map((one) => one.localName + '#' + one.id).join();
      if (found !== root.dataset.sent) {
        [...root.children].forEach((one) => one.id || one.remove());
        setTimeout(() => { throw new Error('Hydration: expected ' + root.dataset.sent + ', found ' + found); });
      }
      document.documentElement.dataset.taken = 'yes';
    };
    ${when};
  })()`);
const APP = (attributes: string): string =>
  `<div id="app" ${attributes}><header id="head">Shop</header><main id="main" style="height:3000px">${TEXT}</main></div>`;

export const FOREIGN_PAGES: Readonly<Record<string, ForeignPage>> = {
  'Array.from leaves its mapper out': patched('Array.from = (given) => [].slice.call(given)'),
  'arrays and texts have a toJSON': patched(
    'Array.prototype.toJSON = function () { return "array" }; String.prototype.toJSON = function () { return "text" }',
  ),
  'constructors are a library’s': patched(
    `for (const name of ['Document', 'Element', 'Node', 'Event', 'KeyboardEvent', 'HTMLElement', 'HTMLScriptElement', 'HTMLDialogElement', 'HTMLInputElement', 'Window'])
       Object.defineProperty(window, name, { value: Object.assign(function () {}, { prototype: {} }), configurable: true, writable: true });`,
  ),
  'every object has something more': patched('Object.prototype.extend = function () {}; Array.prototype.last = function () {}'),
  'promises are a library’s': patched(
    `const Native = Promise;
     window.Promise = class Later {
       constructor(run) { this.inner = new Native(run) }
       then(done, failed) { const next = new Later(() => {}); next.inner = this.inner.then(done, failed); return next }
       catch(failed) { return this.then(undefined, failed) }
       static resolve(value) { return new Later((done) => done(value)) }
       static reject(cause) { return new Later((_, failed) => failed(cause)) }
       static all(all) { const next = new Later(() => {}); next.inner = Native.all(all); return next }
     }`,
  ),
  'fetch is wrapped and slow': patched(
    'const before = fetch; window.fetch = async (...given) => { await new Promise((done) => setTimeout(done, 150)); return (await before(...given)).clone() }',
  ),
  'fetch always fails': { ...patched('window.fetch = () => { throw new TypeError("no network here") }'), cannotShow: true },
  'timers throw': { ...patched('window.setTimeout = () => { throw new Error("no timers here") }'), cannotShow: true },
  'sets take no list': patched(
    'const Before = Set; window.Set = function () { return new Before() }; window.Set.prototype = Before.prototype',
  ),
  'JSON is a library’s': patched(
    'const { parse, stringify } = JSON; JSON.stringify = (value) => stringify(value, null, 2); JSON.parse = (text) => parse(text)',
  ),
  'the console is gone': patched('window.console = undefined'),
  'built-ins are frozen': patched('[Object, Array, String, Function, Promise, Map, Set].forEach((one) => Object.freeze(one.prototype))'),
  'keys belong to the page': patched(
    `for (const type of ['keydown', 'keypress', 'keyup']) document.addEventListener(type, (event) => { if (event.key !== 'Escape') { event.preventDefault(); event.stopImmediatePropagation() } }, true)`,
  ),
  'clicks belong to the page': patched("document.addEventListener('click', (event) => event.preventDefault())"),
  'a header that stays at the top': styled(
    'body{margin:0;padding-top:64px}header{position:fixed;inset:0 0 auto;height:64px;background:#ddd;z-index:2147483647}',
    `<header>Always here</header>${TALL}`,
  ),
  'a header that sticks': styled(
    'header{position:sticky;top:0;height:64px;background:#ddd;z-index:99999}',
    `<header>Sticks</header>${TALL}`,
  ),
  'a body that is a flex row': styled('body{display:flex;margin:0}', `<aside>Menu</aside>${TALL}`),
  'a body that is a grid': styled('body{display:grid;grid-template-columns:1fr 3fr}', `<aside>Menu</aside>${TALL}`),
  'a body that is moved and filtered': styled('body{transform:translateY(0);filter:contrast(1)}'),
  'styles for everything': styled(
    'div{display:none!important}section,dialog,button,input{font-size:0!important;visibility:hidden!important}*{pointer-events:none!important}',
  ),
  'a body that scrolls in a page that does not': {
    ...styled('html{overflow:hidden;height:100%}body{height:100%;overflow:auto;margin:0}'),
    scrolls: 'body',
  },
  'an application with a scroller of its own': {
    ...styled('body{margin:0;overflow:hidden}#app{height:100vh;overflow:auto}', `<div id="app">${TALL}</div>`),
    scrolls: '#app',
  },
  'a scroller of a third of the window': {
    ...styled('body{margin:0;overflow:hidden}#app{margin:33vh 0;height:34vh;overflow:auto}', `<div id="app">${TALL}</div>`),
    scrolls: '#app',
  },
  'a page with nothing to scroll': { body: TEXT, isWhole: true },
  'a page that a framework takes over early': {
    head: hydrates('#app', "document.addEventListener('DOMContentLoaded', take)"),
    body: APP('data-sent="header#head,main#main"'),
  },
  'a page that a framework takes over late': {
    head: hydrates('#app', "addEventListener('load', () => setTimeout(take, 100))"),
    body: APP('data-sent="header#head,main#main"'),
  },
  'a page that is drawn two seconds late': {
    body: `<div id="app">Loading</div>${script(`setTimeout(() => (document.querySelector('#app').innerHTML = ${JSON.stringify(TALL)}), 2000)`)}`,
  },
  'a dialog of the page is open': {
    body: `<dialog id="own"><button id="done" onclick="own.close()">Done</button></dialog>${TALL}${script('own.showModal()')}`,
    before: (page) => page.click('#done'),
  },
  'a dialog made of divs is open': {
    body: `<main inert style="height:3000px">${TEXT}</main><section role="dialog" aria-modal="true" style="position:fixed;inset:20%;background:#fff"><button id="done" onclick="this.parentElement.remove(); document.querySelector('main').inert = false">Done</button></section>`,
    before: (page) => page.click('#done'),
  },
  'right to left from the body on': { head: '', body: `${script("document.body.dir = 'rtl'")}${TALL}` },
  'fields with every name': {
    body: `<form id="f" onclick="void 0">${FIELDS.map((name) => `<input name="${name}" size="4">`).join('')}<button type="button" id="in-form">Look</button></form>${TALL}`,
    before: (page) =>
      page.evaluate(() => {
        // Not by the form's own methods, which its fields have taken the names of.
        for (const target of ['#in-form', '#f']) HTMLElement.prototype.click.call(document.querySelector(target));
      }),
  },
  'images and forms with every name': {
    body: `${NAMES.map((name) => `<img name="${name}" alt="">`).join('')}<form name="crindle"><input name="q"><input name="running"></form>${TALL}`,
  },
  'a base elsewhere': { head: '<base href="https://elsewhere.example/deep/">', body: TALL },
  'a strict policy with trusted types': {
    body: TALL,
    headers: {
      'content-security-policy':
        "default-src 'none'; script-src https://collector.example 'strict-dynamic' 'nonce-x'; script-src-elem https://collector.example; connect-src https://collector.example; require-trusted-types-for 'script'; trusted-types 'none'",
    },
  },
  'what is not the page’s own is thrown out': patched(
    `addEventListener('load', () => new MutationObserver((all) => { for (const { addedNodes } of all) for (const one of addedNodes) if (one.localName === 'div' && !one.id && one.parentElement === document.body) one.remove() }).observe(document.documentElement, { childList: true, subtree: true }))`,
  ),
};
