import { looksGenerated } from '@/core/tryout/generated';

export interface Suggestion {
  readonly selector: string;
  /** By what it finds the element, in a few words. */
  readonly by: string;
  /** How many elements of this page it finds. */
  readonly matches: number;
  /** It may be another as soon as the site is built anew. */
  readonly isFleeting: boolean;
}

const MOST = 6;
const LONGEST_VALUE = 80;
/** What says what an element is for stays when its looks change; of a link its path does. */
const TELLING = ['name', 'aria-label', 'href', 'alt', 'for', 'role', 'type', 'title'] as const;
const LANDMARKS = ['main', 'header', 'footer', 'nav', 'aside', 'form', 'article', 'section'];
/** What libraries write for themselves. */
const THEIRS = /^data-(crindle|react|v-|n-|astro|svelte|radix|headlessui|state|testid-\d)/;

interface Found {
  readonly selector: string;
  readonly by: string;
  readonly isFleeting?: boolean;
}

const quoted = (value: string): string => `"${value.replace(/["\\]/g, '\\$&')}"`;

/** What finds an element by itself alone, the most robust first. */
function own(element: Element): Found[] {
  const tag = element.localName;
  const found: Found[] = [];
  const { id } = element;
  if (typeof id === 'string' && id && !looksGenerated(id)) found.push({ selector: `#${CSS.escape(id)}`, by: 'its own id' });
  for (const { name, value } of element.attributes) {
    if (!name.startsWith('data-') || THEIRS.test(name) || value.length > LONGEST_VALUE || looksGenerated(name)) continue;
    if (value === '') found.push({ selector: `[${name}]`, by: 'a mark of the site’s' });
    else if (!looksGenerated(value)) found.push({ selector: `[${name}=${quoted(value)}]`, by: 'a mark of the site’s' });
  }
  for (const name of TELLING) {
    const value = element.getAttribute(name);
    if (!value || value.length > LONGEST_VALUE || (name !== 'href' && name !== 'aria-label' && looksGenerated(value))) continue;
    found.push({ selector: `${tag}[${name}=${quoted(value)}]`, by: `what it is for (${name})` });
  }
  const classes = [...element.classList];
  const [lasting, fleeting] = [classes.filter((one) => !looksGenerated(one)), classes.filter(looksGenerated)];
  for (const one of lasting) found.push({ selector: `.${CSS.escape(one)}`, by: 'a class' });
  if (lasting.length > 0) found.push({ selector: `${tag}${lasting.map((one) => `.${CSS.escape(one)}`).join('')}`, by: 'all its classes' });
  if (id && looksGenerated(id)) found.push({ selector: `#${CSS.escape(id)}`, by: 'an id that looks generated', isFleeting: true });
  for (const one of fleeting.slice(0, 1))
    found.push({ selector: `.${CSS.escape(one)}`, by: 'a class that looks generated', isFleeting: true });
  return found;
}

/** One step of a way down: the tag, with its number among those of its kind where there are several. */
function step(element: Element): string {
  const tag = element.localName;
  const alike = [...(element.parentElement?.children ?? [])].filter(({ localName }) => localName === tag);
  return alike.length > 1 ? `${tag}:nth-of-type(${alike.indexOf(element) + 1})` : tag;
}

function wayDown(from: Element, to: Element): string {
  const steps: string[] = [];
  for (let one: Element | null = to; one && one !== from; one = one.parentElement) steps.unshift(step(one));
  return steps.join(' > ');
}

/** A few selectors for an element, from the most robust on; each is tried on the page as it is. */
export function suggestSelectors(element: Element): Suggestion[] {
  const count = (selector: string): number => {
    try {
      return document.querySelectorAll(selector).length;
    } catch {
      return 0;
    }
  };
  const found: Suggestion[] = [];
  const add = ({ selector, by, isFleeting = false }: Found): void => {
    if (found.some((one) => one.selector === selector)) return;
    const matches = count(selector);
    if (matches > 0) found.push({ selector, by, matches, isFleeting });
  };
  own(element).forEach(add);
  // Within something that is found by itself.
  for (let around = element.parentElement; around && around !== document.documentElement; around = around.parentElement) {
    const anchor = own(around).find(({ selector, isFleeting }) => !isFleeting && count(selector) === 1);
    const landmark = LANDMARKS.includes(around.localName) && count(around.localName) === 1 ? around.localName : undefined;
    const outer = anchor?.selector ?? landmark;
    if (outer === undefined) continue;
    const inner = [...own(element).filter(({ isFleeting }) => !isFleeting), { selector: element.localName, by: '' }].find(
      ({ selector }) => count(`${outer} ${selector}`) === 1,
    );
    if (inner) add({ selector: `${outer} ${inner.selector}`, by: `what it stands in (${outer})` });
    add({ selector: `${outer} > ${wayDown(around, element)}`, by: `its place in ${outer}` });
    break;
  }
  add({ selector: `body > ${wayDown(document.body, element)}`, by: 'its place in the page' });
  const rank = ({ matches, isFleeting }: Suggestion): number => (isFleeting ? 2 : matches === 1 ? 0 : 1);
  return found
    .map((one, index) => ({ one, index }))
    .sort((a, b) => rank(a.one) - rank(b.one) || a.index - b.index)
    .map(({ one }) => one)
    .slice(0, MOST);
}
