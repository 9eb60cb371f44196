import type pg from 'pg';
import type { CountingInput } from '@/core/counting/countPeople';
import { segmentTrends } from '@/core/counting/sizes';
import { Standing } from '@/core/counting/standing';
import type { SegmentBody } from '@/core/people/subject';
import type { Past } from '../sealed/keptLines';
import { KeptLines, NO_PAST, pastOf } from '../sealed/keptLines';
import { keepStanding, takeUpStanding } from '../sealed/keptStanding';
import type { SiteChunks } from '../sealed/siteChunks';
import type { SiteKnown } from './known';
import type { TaskAnswers } from './task';

/** What is counted is at most this old. */
const COUNTED_MS = 3000;
/** What was worked out of so many visitors is kept over a start; of fewer it is soon worked out again. */
const KEPT_FROM = 20_000;
const KEEP_EVERY_MS = 3_600_000;

/** What was worked out of a site's chunks to count people by, kept up to date with what comes. */
export class SiteCounting {
  readonly #db: pg.Pool;
  readonly #siteId: number;
  readonly #chunks: SiteChunks;
  readonly #known: SiteKnown;
  readonly #keptFrom: number;
  #standing = new Standing();
  /** How often anything new was loaded. */
  #changes = 0;
  #refreshing: Promise<void> | undefined;
  #counted:
    { readonly changes: number; readonly known: string; readonly input: CountingInput & { readonly standing: Standing } } | undefined;
  #counting: { at: number; input: Promise<CountingInput> } | undefined;
  #keptAt = -Infinity;
  #keeping: Promise<void> | undefined;
  #past: { readonly people: CountingInput['histories']; readonly past: Past } | undefined;

  /** `keptFrom`: from how many visitors on what was counted is kept in the database. */
  constructor(
    db: pg.Pool,
    siteId: number,
    { chunks, known, keptFrom = KEPT_FROM }: { chunks: SiteChunks; known: SiteKnown; keptFrom?: number | undefined },
  ) {
    this.#db = db;
    this.#siteId = siteId;
    this.#chunks = chunks;
    this.#known = known;
    this.#keptFrom = keptFrom;
  }

  /** Everybody as they are now (a few seconds old at most); the same object as long as it stands, so that what is worked out of it is kept. */
  input(): Promise<CountingInput> {
    const now = Date.now();
    if (this.#counting && now - this.#counting.at < COUNTED_MS) return this.#counting.input;
    const input = this.#loadCounting(now);
    this.#counting = { at: now, input };
    input.catch(() => (this.#counting = undefined));
    return input;
  }

  /** Looks for news; at first everything is. */
  refresh(): Promise<void> {
    this.#refreshing ??= this.#load().finally(() => (this.#refreshing = undefined));
    return this.#refreshing;
  }

  async #load(): Promise<void> {
    const news = await this.#chunks.refresh();
    if (!news) return;
    this.#changes++;
    if (news.visitors === 'all') this.#standing = new Standing();
    else this.#standing.touch(news.visitors);
  }

  async #loadCounting(now: number): Promise<CountingInput> {
    await this.refresh();
    const [changes, fingerprint, before] = [this.#changes, await this.#known.fingerprint(), this.#counted];
    // On a quiet site only the clock has gone on.
    if (before?.changes === changes && before.known === fingerprint) return { ...before.input, now };
    if (before && before.known !== fingerprint) this.#standing = new Standing();
    const known = await this.#known.load();
    if (!before) await this.#takeUp(known);
    const input = this.#readCounting(now, known);
    this.#counted = { changes, known: fingerprint, input };
    return input;
  }

  /** After a start: goes on with what was kept. */
  async #takeUp(known: CountingInput['known']): Promise<void> {
    if (this.#chunks.people.most < this.#keptFrom) return;
    const changes = this.#changes;
    const kept = await takeUpStanding(this.#db, this.#siteId, { chunks: this.#chunks, known });
    // What came meanwhile was told to the one that there was.
    if (kept && this.#changes === changes) [this.#standing, this.#keptAt] = [kept.standing, kept.lookedAt];
  }

  /** Keeps what was counted, every hour at most, while others go on asking. */
  keep(): void {
    const counted = this.#counted;
    if (!counted || this.#keeping || Date.now() - this.#keptAt < KEEP_EVERY_MS) return;
    if (!this.#isOf(counted.input) || this.#chunks.people.most < this.#keptFrom) return;
    this.#keptAt = Date.now();
    const { known, standing } = counted.input;
    this.#keeping = keepStanding(this.#db, this.#siteId, { known, chunks: this.#chunks, standing })
      .catch((cause: unknown) => console.error(`site ${this.#siteId}: what was counted could not be kept: ${String(cause)}`))
      .finally(() => (this.#keeping = undefined));
  }

  /** Resolves once nothing is being kept any more. */
  async kept(): Promise<void> {
    await this.#keeping;
  }

  /** The lines of segments, as far as they are known; midnights that are over are counted once. */
  async *lines(segments: readonly SegmentBody[], days: number): AsyncGenerator<TaskAnswers['trends']> {
    const input = await this.input();
    const past = this.#isOf(input) ? this.#pastNow() : NO_PAST;
    const lines = await KeptLines.load(this.#db, this.#siteId, { segments, known: input.known, past });
    try {
      for (const soFar of segmentTrends(segments, input, days, (segment, at) => lines.people(segment, at))) {
        // What was counted while more came is not of the records that were there at first.
        if (this.#isOf(input)) lines.note(soFar);
        yield soFar;
      }
    } finally {
      await lines.keep(input.now);
    }
  }

  #pastNow(): Past {
    if (this.#past?.people !== this.#chunks.people)
      this.#past = { people: this.#chunks.people, past: pastOf(this.#chunks.state(), this.#chunks.people) };
    return this.#past.past;
  }

  /** Are the records still what an input was read of, with nothing under way? */
  #isOf({ histories }: CountingInput): boolean {
    return !this.#refreshing && this.#chunks.isSettled && histories === this.#chunks.people;
  }

  #readCounting(now: number, known: CountingInput['known']): CountingInput & { readonly standing: Standing } {
    const { people } = this.#chunks;
    return {
      days: this.#chunks.postings(),
      pages: this.#chunks.known.pages.list,
      visits: people.visits,
      histories: people,
      standing: this.#standing,
      now,
      known,
    };
  }
}
