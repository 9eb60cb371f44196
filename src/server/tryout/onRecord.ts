import { patternHolds } from '@/core/pages/pattern';
import type { OnRecord, Pointed } from '@/core/tryout/asked';
import type { Queryable } from '../db/queryable';
import { loadRecorded } from '../db/recorded';
import { selectorsOnRecord } from '../lint/context';

/** How often what could be pointed at is on record: pages by their views in thirty days, elements by the views in which they were seen or clicked on. */
export async function countOnRecord(
  db: Queryable,
  siteId: number,
  { could, now }: { could: readonly Pointed[]; now: number },
): Promise<OnRecord[]> {
  const pages = could.some(({ kind }) => kind === 'page') ? (await loadRecorded(db, siteId)).pages : [];
  const selectors = could.some(({ kind }) => kind === 'element') ? await selectorsOnRecord(db, siteId, now) : new Map<string, number>();
  return could.map((one) => {
    if (one.kind === 'element') return { views: selectors.get(one.selector) };
    const met = pages.filter(({ path }) => patternHolds(one, { url: `https://site.example${path}` }, {}) === true);
    return { pages: met.length, views: met.reduce((sum, { views }) => sum + views, 0) };
  });
}
