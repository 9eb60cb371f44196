import type { Truth } from '../logic/truth';
import type { Page } from './address';
import { anyPatternHolds } from './pages';
import type { PagePattern, PageSets } from './pattern';

export type PageMatcher = (patterns: readonly PagePattern[], page: Page) => Truth;

/** Lists of patterns that are remembered: an editor makes a new one with every letter. */
const MOST_LISTS = 300;

/** `anyPatternHolds` that asks each page once: a page object is known again, and so is another of the same address, title and labels. */
export function rememberMatches(sets: PageSets): PageMatcher {
  const numbers = new Map<string, number>();
  const numberOf = new WeakMap<Page, number>();
  const answers = new Map<string, (Truth | undefined)[]>();
  const met = new WeakMap<readonly PagePattern[], (Truth | undefined)[]>();

  function pageNumber(page: Page): number {
    let number = numberOf.get(page);
    if (number === undefined) {
      const key = JSON.stringify([page.url, page.title, page.labels]);
      number = numbers.get(key) ?? numbers.size;
      numbers.set(key, number);
      numberOf.set(page, number);
    }
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
