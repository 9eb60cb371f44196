import { normalisePath } from './address';

export interface RecordedPage {
  readonly path: string;
  readonly views: number;
}

/** Paths as they were asked for, put together to pages: those that no pattern could tell apart are one, called as most asked for it. Most viewed first. */
export function recordedPages(paths: readonly RecordedPage[], most: number): RecordedPage[] {
  const pages = new Map<string, { path: string; views: number; largest: number }>();
  for (const { path, views } of paths) {
    const key = normalisePath(path || '/');
    const page = pages.get(key);
    if (!page) pages.set(key, { path: path || '/', views, largest: views });
    else {
      page.views += views;
      if (views > page.largest) [page.path, page.largest] = [path, views];
    }
  }
  return [...pages.values()]
    .map(({ path, views }) => ({ path, views }))
    .sort((a, b) => b.views - a.views || (a.path < b.path ? -1 : 1))
    .slice(0, most);
}
