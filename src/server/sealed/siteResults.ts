import { unpackResults } from '@/core/sealed/pack';
import type { ResultsDay } from '@/core/sealed/resultsDay';
import { buildResultsDay, ResultNames } from '@/core/sealed/resultsDay';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import type { ReadSide } from '../db/readSide';
import type { RecordedDay } from './days';
import { isoDay, recordedDays } from './days';
import { loadResultRows } from './rawResults';
import { digestOf } from './seal';
import { bytesOf } from './siteChunks';

/** Days that are read from raw rows are at most this old; where reading them takes long, so many times as long as that. */
const FRESH_MS = 3000;
const TIMES_AS_LONG = 20;
const AT_ONCE = 16;

/** What results read of a site, by day: sealed days as they were sealed, the others as the raw rows are. */
export class SiteResults {
  readonly names = new ResultNames();
  readonly #reading: ReadSide;
  readonly #siteId: number;
  readonly #days = new Map<number, { readonly day: ResultsDay; readonly sealed: string | undefined }>();
  #freshUntil = -Infinity;
  #reads: Promise<void> | undefined;

  constructor(reading: ReadSide, siteId: number) {
    this.#reading = reading;
    this.#siteId = siteId;
  }

  get bytes(): number {
    return [...this.#days.values()].reduce((sum, { day }) => sum + bytesOf(day), 0);
  }

  /** All days, oldest first. */
  async days(): Promise<ResultsDay[]> {
    if (Date.now() > this.#freshUntil) {
      this.#reads ??= this.#reading.read((db) => this.#read(db)).finally(() => (this.#reads = undefined));
      await this.#reads;
    }
    return [...this.#days].sort(([a], [b]) => a - b).map(([, { day }]) => day);
  }

  async #read(db: Queryable): Promise<void> {
    const began = Date.now();
    const days = await recordedDays(db, this.#siteId);
    const wanted = days.filter(
      ({ dayStart, sealed, lateSince }) => sealed === undefined || lateSince !== undefined || this.#days.get(dayStart)?.sealed !== sealed,
    );
    const left = new Map(wanted.map((day) => [day.dayStart, day]));
    for (const dayStart of await this.#readSealed(db, wanted)) left.delete(dayStart);
    const started = performance.now();
    for (const dayStart of left.keys()) {
      const day = buildResultsDay(dayStart, await loadResultRows(db, this.#siteId, dayStart), this.names);
      this.#days.set(dayStart, { day, sealed: undefined });
    }
    const took = performance.now() - started;
    for (const dayStart of this.#days.keys()) if (!days.some((one) => one.dayStart === dayStart)) this.#days.delete(dayStart);
    this.#freshUntil = began + Math.max(FRESH_MS, TIMES_AS_LONG * took);
  }

  /** Gives which days could be read so; of a damaged one `SiteChunks` takes note, here it is read from its rows. */
  async #readSealed(db: Queryable, wanted: readonly RecordedDay[]): Promise<number[]> {
    const sealed = wanted.filter(({ sealed: is, lateSince }) => is !== undefined && lateSince === undefined);
    const done: number[] = [];
    for (let from = 0; from < sealed.length; from += AT_ONCE) {
      const rows = await many<{ day: string; bytes: string; digest: string; sealed: string }>(
        db,
        `select day::text as day, encode(results, 'base64') as bytes, encode(digests[3], 'base64') as digest, sealed_at::text as sealed
           from sealed_visits where site_id = $1 and day = any($2::date[]) and history is not null and results is not null`,
        [this.#siteId, sealed.slice(from, from + AT_ONCE).map(({ dayStart }) => isoDay(dayStart))],
      );
      await Promise.all(
        rows.map(async ({ day, bytes, digest, sealed: at }) => {
          const read = Buffer.from(bytes, 'base64');
          const dayStart = Date.parse(`${day}T00:00:00Z`);
          if (!digestOf(read).equals(Buffer.from(digest, 'base64'))) {
            console.error(`site ${this.#siteId}: what results read of ${day} is damaged; its rows are read instead`);
            return;
          }
          this.#days.set(dayStart, { day: await unpackResults(read, this.names), sealed: at });
          done.push(dayStart);
        }),
      );
    }
    return done;
  }
}
