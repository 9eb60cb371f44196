import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import type { DayPostings } from '@/core/counting/postings';
import type { Chunk } from '@/core/sealed/chunk';
import { buildChunk, Dictionaries } from '@/core/sealed/chunk';
import { unpackHistory, unpackTimelines } from '@/core/sealed/pack';
import type { ChunkInUse } from '@/core/sealed/people';
import { People } from '@/core/sealed/people';
import { postingsOfChunk } from '@/core/sealed/postings';
import type { Slice } from '@/core/sealed/slice';
import { DAY_MS } from '@/core/time/day';
import type { Queryable } from '../db/queryable';
import { many, maybeOne, one } from '../db/queryable';
import type { ReadSide } from '../db/readSide';
import { MOST_BEHIND_MS } from '../db/readSide';
import { AttributesOfVisitors } from './attributes';
import type { RecordedDay } from './days';
import { isoDay, recordedDays } from './days';
import { loadSlices } from './rawSlices';
import { digestOf } from './seal';

const unzip = promisify<Uint8Array, { chunkSize: number }, Buffer>(gunzip);
/** In few large pieces instead of thousands of small ones. */
const inflate = (packed: Uint8Array): Promise<Uint8Array> => unzip(packed, { chunkSize: 2 ** 21 });

/** A transaction that began before we looked may have ended after: look that much further back. */
const OVERLAP_MS = 15_000;
/** A replica may show later what the primary, which was looked at before, showed already; and its clock is another. */
const REPLICA_OVERLAP_MS = OVERLAP_MS + MOST_BEHIND_MS + 15_000;
/** Sealed days read at a time. */
const AT_ONCE = 8;
/** An open day of which more visitors than this have come anew is read whole. */
const MOST_NEWER = 2000;

interface Day {
  readonly chunk: Chunk;
  /** As `RecordedDay.sealed`; undefined where it was read from raw rows. */
  readonly sealed: string | undefined;
  /** What came of visitors since the chunk was made. */
  readonly newer: Map<number, Slice>;
  /** The same as a chunk. */
  newerChunk?: Chunk | undefined;
}

interface PackedRow {
  [column: string]: unknown;
  readonly day: string;
  readonly bytes: string;
  readonly digest: string;
  readonly sealed: string;
}

/** What one look for news found: whose histories may have changed, or everybody's. */
export interface News {
  readonly visitors: ReadonlySet<number> | 'all';
}

/** What somebody worked something out of: when the database was looked at (its clock, UTC ms) and the days as they were sealed. */
export interface StateOfDays {
  readonly lookedAt: number;
  /** Day (UTC ms of its beginning) and when it was sealed; null: some of it was read from raw rows. Oldest first. */
  readonly days: readonly (readonly [dayStart: number, sealed: string | null])[];
  /** On how many days something was on record of each visitor, as `People.daysOf`. */
  readonly daysOf: Uint16Array;
}

/**
 * The days of a site as chunks: sealed ones as they were sealed, the others read from the raw rows and brought up to date by
 * `visitor.touched_at`, which the collector sets.
 */
export class SiteChunks {
  readonly #reading: ReadSide;
  readonly #siteId: number;
  readonly #known = new Dictionaries();
  readonly #days = new Map<number, Day>();
  readonly #attributes: AttributesOfVisitors;
  readonly #postings = new WeakMap<Chunk, { readonly erased: number; readonly lists: DayPostings[] }>();
  #lookedAt = 0;
  /** How many looks are under way. */
  #looks = 0;
  /** How often somebody was found to be erased, and how often visitors had been taken away as of the last look. */
  #erased = 0;
  #gone: string | undefined;
  #people: People | undefined;
  #news = { everybody: false, isNew: false, changed: new Set<number>() };

  constructor(reading: ReadSide, siteId: number) {
    this.#reading = reading;
    this.#siteId = siteId;
    this.#attributes = new AttributesOfVisitors(siteId);
  }

  get known(): Dictionaries {
    return this.#known;
  }

  /** What the chunks take, in bytes; their dictionaries are small beside them. */
  get bytes(): number {
    return this.#used().reduce((sum, { chunk }) => sum + bytesOf(chunk) + bytesOf(chunk.timelines ?? {}), 0);
  }

  get isLoaded(): boolean {
    return this.#lookedAt > 0;
  }

  /** Everybody as of the last look; the same object as long as nothing is new. */
  get people(): People {
    return (this.#people ??= new People(this.#used(), this.#known, (visitor) => this.#attributes.get(visitor)));
  }

  /** Has everything that was found been told, and is no look under way? */
  get isSettled(): boolean {
    const { everybody, isNew, changed } = this.#news;
    return this.#looks === 0 && !everybody && !isNew && changed.size === 0;
  }

  /** As of the last look; only while `isSettled`. */
  state(): StateOfDays {
    const days = [...this.#days]
      .sort(([a], [b]) => a - b)
      .map(([dayStart, { sealed, newer }]) => [dayStart, newer.size > 0 ? null : (sealed ?? null)] as const);
    return { lookedAt: this.#lookedAt, days, daysOf: this.people.daysOf() };
  }

  /**
   * Of whom something has come on record, changed or gone since: who is told by `touched_at`, whose days were sealed anew or are read from raw
   * rows, and of whom there are more days or fewer. Of all others everything is as it was.
   */
  async changedSince({ lookedAt, days, daysOf }: StateOfDays): Promise<Set<number>> {
    const overlap = this.#reading.hasReplica ? REPLICA_OVERLAP_MS : OVERLAP_MS;
    const changed = new Set(await this.#reading.read((db) => this.#touchedSince(db, lookedAt - overlap)));
    const before = new Map(days);
    for (const [dayStart, { chunk, sealed, newer }] of this.#days) {
      for (const visitor of newer.keys()) changed.add(visitor);
      if (sealed === undefined || before.get(dayStart) !== sealed) for (const visitor of chunk.visitor) changed.add(visitor);
    }
    const now = this.people.daysOf();
    for (let visitor = 0; visitor < Math.max(now.length, daysOf.length); visitor++)
      if ((now[visitor] ?? 0) !== (daysOf[visitor] ?? 0)) changed.add(visitor);
    return changed;
  }

  /** All page views as of the last look, as posting lists. */
  postings(): DayPostings[] {
    return this.#used().flatMap((used) => {
      const kept = this.#postings.get(used.chunk);
      if (!used.without && kept?.erased === this.#erased) return kept.lists;
      const lists = postingsOfChunk(used, (visitor) => this.#attributes.get(visitor) !== undefined);
      if (!used.without) this.#postings.set(used.chunk, { erased: this.#erased, lists });
      return lists;
    });
  }

  #used(): ChunkInUse[] {
    return [...this.#days]
      .sort(([a], [b]) => a - b)
      .flatMap(([dayStart, day]): ChunkInUse[] => {
        if (day.newer.size === 0) return [{ chunk: day.chunk }];
        day.newerChunk ??= buildChunk(
          dayStart,
          [...day.newer.values()].sort((a, b) => a.visitor - b.visitor),
          this.#known,
        );
        return [{ chunk: day.chunk, without: new Set(day.newer.keys()) }, { chunk: day.newerChunk }];
      });
  }

  /** Looks for what has come, has been sealed or has gone since the last time; at first everything is new. Undefined where nothing is. */
  async refresh(): Promise<News | undefined> {
    // What is found stays noted until it is told: a look that fails halfway, and is begun again elsewhere, loses nothing of it.
    this.#looks++;
    await this.#reading.read((db) => this.#look(db)).finally(() => this.#looks--);
    const { everybody, isNew, changed } = this.#news;
    this.#news = { everybody: false, isNew: false, changed: new Set() };
    if (!everybody && !isNew && changed.size === 0) return undefined;
    this.#people = undefined;
    return { visitors: everybody ? 'all' : changed };
  }

  async #look(db: Queryable): Promise<void> {
    const began = await clockOf(db);
    const isFirst = this.#lookedAt === 0;
    if (isFirst) this.#news.everybody = true;
    const days = await recordedDays(db, this.#siteId);
    const overlap = this.#reading.hasReplica ? REPLICA_OVERLAP_MS : OVERLAP_MS;
    const touched = isFirst ? [] : await this.#touchedSince(db, this.#lookedAt - overlap);
    const { changed } = this.#news;
    // At first both take a while, and neither needs the other.
    const both = await Promise.allSettled([this.#loadAttributes(db, isFirst ? undefined : touched), this.#readSealed(db, days, changed)]);
    for (const one of both) if (one.status === 'rejected') throw one.reason;
    for (const { dayStart, sealed, lateSince } of days) {
      const day = this.#days.get(dayStart);
      if (day && sealed !== undefined && day.sealed === sealed && lateSince === undefined) continue;
      if (!day || day.newer.size + touched.length > MOST_NEWER) await this.#readWhole(db, dayStart, changed);
      else if (touched.length > 0) await this.#readNewer(db, dayStart, { day, touched, changed });
    }
    const gone = [...this.#days.keys()].filter((dayStart) => !days.some((one) => one.dayStart === dayStart));
    for (const dayStart of gone) this.#days.delete(dayStart);
    if (gone.length > 0) this.#news.everybody = true;
    this.#lookedAt = began;
  }

  async #touchedSince(db: Queryable, at: number): Promise<number[]> {
    const rows = await many<{ id: number }>(
      db,
      `select id from visitor where site_id = $1 and touched_at > at_ms($2)
       union select visitor_id from visit where site_id = $1 and started_at > at_ms($2) - interval '1 day' and last_at > at_ms($2) order by 1`,
      [this.#siteId, at],
    );
    return rows.map(({ id }) => id);
  }

  /** Notices, too, whether anybody was erased. */
  async #loadAttributes(db: Queryable, visitors: readonly number[] | undefined): Promise<void> {
    if (visitors && visitors.length > 0) await this.#attributes.load(db, visitors);
    // Asked before everybody is read: who goes meanwhile is noticed at the next look.
    const row = await maybeOne<{ times: string }>(db, `select times::text from visitors_gone where site_id = $1`, [this.#siteId]);
    const gone = row?.times ?? '0';
    const isErased = visitors !== undefined && gone !== this.#gone;
    if (!visitors || isErased) await this.#attributes.load(db);
    this.#gone = gone;
    if (!isErased) return;
    this.#erased++;
    this.#news.everybody = true;
  }

  async #readSealed(db: Queryable, days: readonly RecordedDay[], changed: Set<number>): Promise<void> {
    const wanted = days.filter(
      ({ dayStart, sealed, lateSince }) => sealed !== undefined && lateSince === undefined && this.#days.get(dayStart)?.sealed !== sealed,
    );
    if (wanted.length > 0) this.#news.isNew = true;
    await this.#eachPacked(
      db,
      'history',
      wanted.map(({ dayStart }) => dayStart),
      async (dayStart, sealed, bytes) => {
        const chunk = await unpackHistory(bytes, this.#known, inflate);
        this.#put(dayStart, { chunk, sealed, newer: new Map() }, changed);
      },
    );
  }

  /** Reads the timelines of the days since (UTC ms) that have not been read. Whoever has no further use of them says so by `dropTimelines`. */
  async readTimelines(since: number): Promise<void> {
    await this.#reading.read((db) => this.#readTimelines(db, since));
  }

  async #readTimelines(db: Queryable, since: number): Promise<void> {
    const wanted = [...this.#days]
      .filter(([dayStart, { chunk }]) => dayStart + DAY_MS > since && !chunk.timelines)
      .map(([dayStart]) => dayStart);
    await this.#eachPacked(db, 'timelines', wanted, async (dayStart, sealed, bytes) => {
      const day = this.#days.get(dayStart);
      if (day && day.sealed === sealed) day.chunk.timelines = await unpackTimelines(bytes, this.#known, inflate);
    });
    // A day that has been opened or was damaged meanwhile.
    for (const dayStart of wanted) {
      if (this.#days.get(dayStart)?.chunk.timelines) continue;
      await this.#readWhole(db, dayStart, this.#news.changed);
      this.#people = undefined;
    }
  }

  /** Forgets the timelines that can be read again. */
  dropTimelines(): void {
    for (const { chunk, sealed } of this.#days.values()) if (sealed !== undefined) chunk.timelines = undefined;
  }

  async #eachPacked(
    db: Queryable,
    part: 'history' | 'timelines',
    days: readonly number[],
    work: (dayStart: number, sealed: string, bytes: Uint8Array) => Promise<void>,
  ): Promise<void> {
    // The driver would send the bytes as twice as many hexadecimal digits; base64 is a third shorter and quicker to read.
    const read = (from: number): Promise<PackedRow[]> =>
      many<PackedRow>(
        db,
        `select day::text as day, encode(${part}, 'base64') as bytes, encode(digests[$3], 'base64') as digest, sealed_at::text as sealed
           from sealed_visits where site_id = $1 and day = any($2::date[]) and history is not null`,
        [this.#siteId, days.slice(from, from + AT_ONCE).map(isoDay), part === 'history' ? 1 : 2],
      );
    let next: Promise<PackedRow[]> | undefined = days.length > 0 ? read(0) : undefined;
    for (let from = 0; next; from += AT_ONCE) {
      const rows: PackedRow[] = await next;
      // The database reads the next ones while these are unpacked.
      next = from + AT_ONCE < days.length ? read(from + AT_ONCE) : undefined;
      // Whoever waits for it hears of its failure; meanwhile it is not unheard of.
      next?.catch(() => undefined);
      await Promise.all(
        rows.map(async ({ day, bytes, digest, sealed }) => {
          try {
            const read = Buffer.from(bytes, 'base64');
            if (!digestOf(read).equals(Buffer.from(digest, 'base64'))) throw new Error('its digest is another');
            await work(Date.parse(`${day}T00:00:00Z`), sealed, read);
          } catch (cause) {
            await this.#noteDamage(day, sealed, cause);
          }
        }),
      );
    }
  }

  /** The day is then read from the raw rows, and sealed again. */
  async #noteDamage(day: string, sealed: string, cause: unknown): Promise<void> {
    console.error(
      `site ${this.#siteId}: the sealed day ${day} is damaged and is made anew: ${cause instanceof Error ? cause.message : String(cause)}`,
    );
    await this.#reading.primary.query(
      `update sealed_visits set history = null, timelines = null, results = null, digests = null, sealed_at = null, attempt = attempt + 1
        where site_id = $1 and day = $2 and sealed_at::text = $3`,
      [this.#siteId, day, sealed],
    );
  }

  async #readWhole(db: Queryable, dayStart: number, changed: Set<number>): Promise<void> {
    const chunk = buildChunk(dayStart, await loadSlices(db, this.#siteId, dayStart), this.#known);
    this.#put(dayStart, { chunk, sealed: undefined, newer: new Map() }, changed);
  }

  #put(dayStart: number, day: Day, changed: Set<number>): void {
    // Where everybody is new nobody has to be named.
    if (!this.#news.everybody) {
      for (const visitor of this.#days.get(dayStart)?.chunk.visitor ?? []) changed.add(visitor);
      for (const visitor of day.chunk.visitor) changed.add(visitor);
    }
    this.#days.set(dayStart, day);
  }

  async #readNewer(
    db: Queryable,
    dayStart: number,
    { day, touched, changed }: { day: Day; touched: readonly number[]; changed: Set<number> },
  ): Promise<void> {
    const slices = new Map((await loadSlices(db, this.#siteId, dayStart, touched)).map((slice) => [slice.visitor, slice]));
    const had = new Set(day.chunk.visitor);
    for (const visitor of touched) {
      const slice = slices.get(visitor) ?? { visitor, visits: [], changes: [], responses: [] };
      if (!slices.has(visitor) && !had.has(visitor) && !day.newer.has(visitor)) continue;
      day.newer.set(visitor, slice);
      changed.add(visitor);
    }
    day.newerChunk = undefined;
  }
}

/** The database's own, by which visitors are touched. UTC ms. */
const clockOf = async (db: Queryable): Promise<number> =>
  (await one<{ now: number }>(db, `select ms(clock_timestamp())::float8 as now`)).now;

/** Of all arrays of numbers that something holds. */
export const bytesOf = (columns: object): number =>
  Object.values(columns).reduce((sum: number, column: unknown) => sum + (ArrayBuffer.isView(column) ? column.byteLength : 0), 0);
