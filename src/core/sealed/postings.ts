import type { DayPostings } from '../counting/postings';
import type { ChunkInUse } from './people';
import { DAY_MS } from '../time/day';
import { startOfDay } from './slice';

const NOT_WANTED = -(2 ** 31);

/** The page views of a chunk as posting lists, by the day of each view: a visit may go on past midnight. */
export function postingsOfChunk({ chunk, without }: ChunkInUse, isOnRecord: (visitor: number) => boolean): DayPostings[] {
  const visitorOf = new Uint32Array(chunk.viewAt.length);
  /** In days since the chunk's. */
  const dayOf = new Int32Array(chunk.viewAt.length).fill(NOT_WANTED);
  const counts = new Map<number, number>();
  const start = startOfDay(chunk.dayStart);
  for (let row = 0; row < chunk.visitor.length; row++) {
    const visitor = chunk.visitor[row] as number;
    if (without?.has(visitor) || !isOnRecord(visitor)) continue;
    const [first, end] = [chunk.firstVisit[row] as number, chunk.firstVisit[row + 1] as number];
    for (let view = chunk.firstView[first] as number; view < (chunk.firstView[end] as number); view++) {
      visitorOf[view] = visitor;
      const day = Math.floor(((chunk.viewAt[view] as number) - start) / DAY_MS);
      dayOf[view] = day;
      counts.set(day, (counts.get(day) ?? 0) + 1);
    }
  }
  return [...counts]
    .sort(([a], [b]) => a - b)
    .map(([day, count]) => {
      const views = new Uint32Array(count);
      let nth = 0;
      for (let view = 0; view < dayOf.length; view++) if (dayOf[view] === day) views[nth++] = view;
      return byPage(start + day * DAY_MS, views, { chunk, visitorOf });
    });
}

function byPage(
  dayStart: number,
  views: Uint32Array,
  { chunk, visitorOf }: Pick<ChunkInUse, 'chunk'> & { visitorOf: Uint32Array },
): DayPostings {
  let most = 0;
  for (const view of views) if ((chunk.page[view] as number) > most) most = chunk.page[view] as number;
  const counts = new Uint32Array(most + 2);
  for (const view of views) {
    const after = (chunk.page[view] as number) + 1;
    counts[after] = (counts[after] as number) + 1;
  }
  const pages: number[] = [];
  const offsets: number[] = [];
  for (let page = 0; page <= most; page++) {
    if ((counts[page + 1] as number) > 0) {
      pages.push(page);
      offsets.push(counts[page] as number);
    }
    counts[page + 1] = (counts[page + 1] as number) + (counts[page] as number);
  }
  const out = {
    dayStart,
    pages: Uint32Array.from(pages),
    offsets: Uint32Array.from([...offsets, views.length]),
    visitors: new Uint32Array(views.length),
    instants: new Uint32Array(views.length),
    engaged: new Uint32Array(views.length),
    scrolls: new Uint8Array(views.length),
  };
  for (const view of views) {
    const page = chunk.page[view] as number;
    const row = counts[page] as number;
    counts[page] = row + 1;
    out.visitors[row] = visitorOf[view] as number;
    out.instants[row] = (chunk.viewAt[view] as number) - dayStart;
    out.engaged[row] = chunk.engaged[view] as number;
    out.scrolls[row] = chunk.scroll[view] as number;
  }
  return out;
}
