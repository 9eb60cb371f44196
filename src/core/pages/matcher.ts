import type { Truth } from '../logic/truth';
import type { Page } from './address';
import { anyPatternHolds } from './pages';
import type { PagePattern, PageSets } from './pattern';

export type PageMatcher = (patterns: readonly PagePattern[], page: Page) => Truth;

/** Lists of patterns that are remembered: an editor makes a new one with every letter. */
const MOST_LISTS = 300;

/** `anyPatternHolds` that asks each page once: a page object is known again, and so is another of the same address, title and labels. */
export function rememberMatches(sets: PageSets): PageMatcher {
  const byUrl = new Map<string, Numbered[]>();
  let pages = 0;
  const numberOf = new WeakMap<Page, number>();
  const answers = new Map<string, (Truth | undefined)[]>();
  const met = new WeakMap<readonly PagePattern[], (Truth | undefined)[]>();

  function pageNumber(page: Page): number {
    let number = numberOf.get(page);
    if (number !== undefined) return number;
    const { url, title, labels } = page;
    const alike = byUrl.get(url) ?? [];
    number = alike.find((one) => one.title === title && areSame(one.labels, labels))?.number;
    if (number === undefined) {
      number = pages++;
      alike.push({ title, labels, number });
      byUrl.set(url, alike);
    }
    numberOf.set(page, number);
    return number;
  }

  function answersOf(patterns: readonly PagePattern[]): (Truth | undefined)[] {
    let found = met.get(patterns);
    if (!found) {
      const key = JSON.stringify(patterns);
      found = answers.get(key) ?? [];
      if (answers.size >= MOST_LISTS) answers.clear();
      answers.set(key, found);
      met.set(patterns, found);
    }
    return found;
  }

  return (patterns, page) => {
    const [known, number] = [answersOf(patterns), pageNumber(page)];
    let answer = known[number];
    if (answer === undefined) {
      answer = anyPatternHolds(patterns, page, sets);
      known[number] = answer;
    }
    return answer;
  };
}

interface Numbered extends Pick<Page, 'title' | 'labels'> {
  readonly number: number;
}

/** Mostly they are one list. */
const areSame = (a: Page['labels'], b: Page['labels']): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);
