import type { Page } from './address';
import type { Pages } from './pages';
import { pagesHold } from './pages';
import type { PagePattern, PageSets, PlainPattern } from './pattern';

/** Some host: which one it is says nothing of a path. */
const SITE = 'https://site.example';

/** A path of a site on which pages hold: the first of `recorded` that does, else one made of what the patterns name; undefined where neither fits. */
export function examplePage(pages: Pages | undefined, recorded: readonly string[], sets: PageSets): string | undefined {
  const fits = (path: string): boolean => pagesHold(pages, pageAt(path), sets) === true;
  return recorded.find(fits) ?? (pages?.on ?? []).flatMap((pattern) => membersOf(pattern, sets).flatMap(namedBy)).find(fits);
}

const pageAt = (path: string): Page => ({ url: SITE + path });
const membersOf = (pattern: PagePattern, sets: PageSets): readonly PlainPattern[] =>
  'set' in pattern ? (sets[pattern.set] ?? []) : [pattern];

/** Paths that a pattern names, with a word where it has a star. */
function namedBy({ part = 'path', op, value = '' }: PlainPattern): string[] {
  if (part !== 'path' || op === 'contains' || op === 'ends' || op === 'exists') return [];
  const path = value.startsWith('/') ? value : `/${value}`;
  return op === 'like' ? [path.replaceAll('**', 'page').replaceAll('*', 'page')] : [path];
}
