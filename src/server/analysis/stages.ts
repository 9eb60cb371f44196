import { sharedPromise } from '@/core/sharedPromise';
import type { Budget } from '@/core/pacing/pacing';
import type { WordsFor } from '@/core/pages/names';
import type { PageSets } from '@/core/pages/pattern';
import type { Columns, Origin } from '@/core/rehearsal/columns';
import type { RecordsJudge } from '@/core/rehearsal/judge';
import { judgeByRecords } from '@/core/rehearsal/judge';
import type { RehearsedDays } from '@/core/rehearsal/rehearsed';
import { isInSample } from '@/core/rehearsal/rehearsed';
import { DAY_MS } from '@/core/time/day';
import type { ReadSide } from '../db/readSide';
import { loadNames } from '../db/recorded';
import { findSite } from '../db/sites';
import type { SiteChunks } from '../sealed/siteChunks';
import { bytesOf } from '../sealed/siteChunks';
import type { SiteKnown } from './known';

/** What is rehearsed is at most this old when an editor is opened; under one's hands it stays the same. */
const REHEARSED_MS = 10 * 60_000;
/** Segments, page sets and places are at most this old: every keystroke asks. */
const KNOWN_MS = 2000;

/** Recorded visits as they were at an instant, for whoever rehearses over them. */
export interface Snapshot {
  readonly id: string;
  readonly columns: Columns;
  readonly origin: Origin;
  /** UTC ms. */
  readonly asOf: number;
}

/** A snapshot with what is judged by: segments, page sets and places as they are now. */
export interface Stage extends Snapshot {
  readonly judge: RecordsJudge;
  readonly sets: PageSets;
  readonly budget: Budget;
  readonly names: WordsFor;
  /** Changes with every segment, page set and place. */
  readonly known: string;
}

export interface Sampled {
  readonly stage: Stage;
  readonly whole: { readonly visitors: number; readonly visits: number; readonly views: number };
}

/** From so many visits on a rehearsal of everybody takes long enough for a sample to be wanted first. */
const SAMPLED_FROM = 150_000;

/** What a site's rules are rehearsed on: its visits of so many days as columns, with what is judged by. */
export class SiteStages {
  readonly #reading: ReadSide;
  readonly #siteId: number;
  readonly #chunks: SiteChunks;
  readonly #known: SiteKnown;
  readonly #refresh: () => Promise<void>;
  readonly #snapshots = new Map<RehearsedDays, Promise<Snapshot>>();
  readonly #stages = new Map<RehearsedDays, Promise<Stage>>();
  readonly #samples = new Map<RehearsedDays, Promise<Sampled | undefined>>();
  readonly #columnBytes = new Map<RehearsedDays, number>();
  #building: Promise<unknown> = Promise.resolve();
  #stagedAt = 0;
  #lastStaged: RehearsedDays | undefined;
  #fingerprint = '';
  #noticedAt = 0;

  /** `refresh` looks for news, before anything is built of the chunks. */
  constructor(
    reading: ReadSide,
    siteId: number,
    { chunks, known, refresh }: { chunks: SiteChunks; known: SiteKnown; refresh: () => Promise<void> },
  ) {
    this.#reading = reading;
    this.#siteId = siteId;
    this.#chunks = chunks;
    this.#known = known;
    this.#refresh = refresh;
  }

  get bytes(): number {
    return [...this.#columnBytes.values()].reduce((sum, bytes) => sum + bytes, 0);
  }

  /** Forgets what can be worked out again: the least used columns to rehearse over; undefined once there are none. */
  forgetLeastUsed(): number | undefined {
    const oldest = [...this.#snapshots.keys()].find((days) => days !== this.#lastStaged);
    if (oldest === undefined) return undefined;
    for (const kept of [this.#snapshots, this.#stages, this.#samples]) kept.delete(oldest);
    const bytes = this.#columnBytes.get(oldest) ?? 0;
    this.#columnBytes.delete(oldest);
    return bytes;
  }

  /** What was built too long ago for an editor that is opened now is built anew. */
  forgetOld(): void {
    if (Date.now() - this.#stagedAt <= REHEARSED_MS) return;
    for (const kept of [this.#snapshots, this.#stages, this.#samples, this.#columnBytes]) kept.clear();
  }

  /** The visits of the last days, as they were when an editor was last opened. */
  async stage(days: RehearsedDays): Promise<Stage> {
    this.#lastStaged = days;
    await this.#notice();
    return sharedPromise(this.#stages, days, () => this.#buildStage(days));
  }

  /** What was judged by other segments, page sets and places is forgotten. */
  async #notice(): Promise<void> {
    if (Date.now() - this.#noticedAt <= KNOWN_MS) return;
    const fingerprint = await this.#known.fingerprint();
    if (fingerprint !== this.#fingerprint) {
      this.#stages.clear();
      this.#samples.clear();
    }
    this.#fingerprint = fingerprint;
    this.#noticedAt = Date.now();
  }

  /** The same of a sample of the visitors, and how many there are of everybody; undefined where everybody is rehearsed soon enough. */
  async sample(days: RehearsedDays): Promise<Sampled | undefined> {
    await this.#notice();
    return sharedPromise(this.#samples, days, () => this.#buildSample(days));
  }

  async #buildSample(days: RehearsedDays): Promise<Sampled | undefined> {
    if (!this.#chunks.isLoaded) await this.#refresh();
    const { people } = this.#chunks;
    const asOf = Date.now();
    const since = asOf - days * DAY_MS;
    const whole = people.sizeSince(since);
    if (whole.visits < SAMPLED_FROM) return undefined;
    const stage = await this.#stageOf({ id: '', ...(await this.#columns(since, isInSample)), asOf });
    return { stage, whole };
  }

  #snapshot(days: RehearsedDays): Promise<Snapshot> {
    return sharedPromise(this.#snapshots, days, () => this.#takeSnapshot(days));
  }

  async #takeSnapshot(days: RehearsedDays): Promise<Snapshot> {
    await this.#refresh();
    const asOf = Date.now();
    this.#stagedAt = asOf;
    const built = await this.#columns(asOf - days * DAY_MS);
    this.#columnBytes.set(days, bytesOf(built.columns));
    return { id: `${days}-${asOf}`, ...built, asOf };
  }

  /** One after the other, so that the timelines, which are read for this alone, are read once. */
  #columns(since: number, of?: (visitor: number) => boolean): Promise<{ columns: Columns; origin: Origin }> {
    const build = async (): Promise<{ columns: Columns; origin: Origin }> => {
      await this.#chunks.readTimelines(since);
      const built = this.#chunks.people.columns({ since, ...(of ? { of } : {}) });
      // After a sample everybody follows.
      if (!of) this.#chunks.dropTimelines();
      return built;
    };
    const next = this.#building.then(build, build);
    this.#building = next;
    return next;
  }

  async #buildStage(days: RehearsedDays): Promise<Stage> {
    return this.#stageOf(await this.#snapshot(days));
  }

  async #stageOf(snapshot: Snapshot): Promise<Stage> {
    const known = this.#fingerprint;
    const { sets, places, segments } = await this.#known.load();
    const [site, names] = await Promise.all([
      findSite(this.#reading.primary, this.#siteId),
      this.#reading.read((db) => loadNames(db, this.#siteId)),
    ]);
    const judge = judgeByRecords(snapshot.origin, { sets, places, segments });
    return { ...snapshot, judge, sets, budget: site?.budget ?? {}, names, known };
  }
}
