import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type pg from 'pg';
import { loadPageSets, loadPlaces } from '@/server/db/vocabulary';
import { isoDay, recordedDays } from '@/server/sealed/days';
import { sealVisits } from '@/server/sealed/seal';
import { segmentBodies } from '@/server/segments/bodies';
import { CAMPAIGNS } from '../world/campaigns';
import { TRUTHS } from '../world/truth';
import { createCampaignPlay } from './campaigns';
import { simulate } from './simulate';
import type { Stored } from './store';
import { storeLives } from './store';
import { ReadSide } from '@/server/db/readSide';

/** A part of the work of loading a demo, as it is given to a thread. */
export type Share =
  | {
      readonly work: 'simulate';
      readonly siteId: number;
      readonly seed: string;
      readonly visits: number;
      readonly days: number;
      readonly until: number;
      readonly origin: string;
    }
  /** The `part`th of so many parts of the days that are over. */
  | { readonly work: 'seal'; readonly siteId: number; readonly now: number; readonly part: number; readonly parts: number };

/** What a thread says on its way: visits stored so far, and at its end. */
export type FromShare = { readonly visits: number } | { readonly done: Stored };

export async function doShare(pool: pg.Pool, share: Share, onProgress: (visits: number) => void = () => undefined): Promise<Stored> {
  const { siteId } = share;
  if (share.work === 'seal') {
    const { now, part, parts } = share;
    const own = (await recordedDays(pool, siteId)).filter((_day, nth) => nth % parts === part).map(({ dayStart }) => isoDay(dayStart));
    await sealVisits(new ReadSide(pool), siteId, { now, only: own });
    return { visits: 0, showings: 0 };
  }
  const campaigns = createCampaignPlay(
    CAMPAIGNS.flatMap(({ id, document }) => {
      const truth = TRUTHS.find(({ campaign }) => campaign === id);
      return truth ? [{ id, truth, ...document }] : [];
    }),
    { sets: await loadPageSets(pool, siteId), places: await loadPlaces(pool, siteId), segments: await segmentBodies(pool, siteId) },
    share.until,
  );
  return storeLives(pool, siteId, simulate({ ...share, campaigns }), { release: 1, onProgress });
}

/** Built by scripts/build.mjs. */
const entry = (): string => join(process.cwd(), 'dist', 'server', 'share.mjs');

/** Does the shares in so many threads at a time; `onProgress` hears of all of them together. */
export async function doShares(
  shares: readonly Share[],
  { threads, onProgress = () => undefined }: { threads: number; onProgress?: (visits: number) => void },
): Promise<Stored> {
  const progress = shares.map(() => 0);
  const total = { visits: 0, showings: 0 };
  const queue = shares.map((share, nth) => ({ share, nth }));
  const next = async (): Promise<void> => {
    for (let one = queue.shift(); one; one = queue.shift()) {
      const { share, nth } = one;
      const { visits, showings } = await inThread(share, (done) => {
        progress[nth] = done;
        onProgress(progress.reduce((sum, each) => sum + each, 0));
      });
      total.visits += visits;
      total.showings += showings;
    }
  };
  await Promise.all(Array.from({ length: threads }, next));
  return total;
}

function inThread(share: Share, onProgress: (visits: number) => void): Promise<Stored> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(entry(), { workerData: share });
    worker.on('message', (message: FromShare) => ('done' in message ? resolve(message.done) : onProgress(message.visits)));
    worker.on('error', reject);
    worker.on('exit', (code) => reject(new Error(`A thread of the simulator ended with ${code}`)));
  });
}
