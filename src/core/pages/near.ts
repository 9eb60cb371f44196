import { distance } from 'fastest-levenshtein';
import type { PagePattern, PlainPattern } from './pattern';
import { patternHolds } from './pattern';

export interface CountedPage {
  readonly path: string;
  readonly views: number;
}
export interface NearPage extends CountedPage {
  /** `below`: under a page that is named; `wider`: `**` in place of `*` would match; `spelled`: but for two letters. */
  readonly why: 'below' | 'wider' | 'spelled';
}

const MOST_LETTERS = 2;

/** Recorded pages that path patterns match, and those that they nearly match, most viewed first. */
export function matchPages(
  patterns: readonly PagePattern[],
  pages: readonly CountedPage[],
): { readonly matching: CountedPage[]; readonly near: NearPage[] } {
  const holds = (pattern: PagePattern, { path }: CountedPage): boolean =>
    patternHolds(pattern, { url: `https://site.example${path}` }, {}) === true;
  const byViews = <T extends CountedPage>(list: T[]): T[] => list.sort((a, b) => b.views - a.views || (a.path < b.path ? -1 : 1));
  const matching = pages.filter((page) => patterns.some((pattern) => holds(pattern, page)));
  const plain = patterns.filter((pattern): pattern is PlainPattern => !('set' in pattern) && (pattern.part ?? 'path') === 'path');
  const near = pages.flatMap((page): NearPage[] => {
    if (matching.includes(page)) return [];
    for (const pattern of plain) {
      const why = nearness(pattern, page, holds);
      if (why) return [{ ...page, why }];
    }
    return [];
  });
  return { matching: byViews(matching), near: byViews(near) };
}

function nearness(
  pattern: PlainPattern,
  page: CountedPage,
  holds: (pattern: PagePattern, page: CountedPage) => boolean,
): NearPage['why'] | undefined {
  const value = (pattern.value ?? '').replace(/\/+$/, '').toLowerCase();
  if (pattern.op === 'exists' || value === '' || value === '/**' || value === '*') return undefined;
  const path = page.path.replace(/\/+$/, '').toLowerCase();
  if (pattern.op === 'like' && value.includes('*')) {
    // Every single star as a double one: what is meant by "all huts" often stands a level deeper.
    const wider = value.replaceAll('**', '*').replaceAll('*', '**');
    return wider !== value && holds({ op: 'like', value: wider }, page) ? 'wider' : undefined;
  }
  if ((pattern.op === 'is' || pattern.op === 'like') && path.startsWith(`${value}/`)) return 'below';
  return (pattern.op === 'is' || pattern.op === 'like') && value.length > 4 && distance(path, value) <= MOST_LETTERS
    ? 'spelled'
    : undefined;
}
