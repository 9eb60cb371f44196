import type { CountingInput } from '@/core/counting/countPeople';
import { judgeEveryone } from '@/core/counting/countPeople';
import type { VisitorRecord } from '@/core/history/record';
import type { Budget } from '@/core/pacing/pacing';
import type { PageSets } from '@/core/pages/pattern';
import type { Columns, Origin } from '@/core/rehearsal/columns';
import { buildColumns } from '@/core/rehearsal/columns';
import type { RecordsJudge } from '@/core/rehearsal/judge';
import { judgeByRecords } from '@/core/rehearsal/judge';
import type { RecordedVisitor } from '@/core/rehearsal/recorded';
import type { WordsFor } from '@/core/pages/names';
import type { VisitTerm } from '@/core/visits/filter';
import { compileTerms } from '@/core/visits/filter';
import { LRUCache } from 'lru-cache';
import type pg from 'pg';
import { loadDays, loadPages } from '../counting/lists';
import { many } from '../db/queryable';
import { loadNames } from '../db/recorded';
import { findSite } from '../db/sites';
import { loadVisitors, withTimelines } from '../db/visitors';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';
import type { RehearsedDays } from '@/core/rehearsal/rehearsed';
import { DAY_MS } from '@/core/time/day';
const LONGEST_DAYS = 90;
const CHUNK = 1000;
/** What is counted is at most this old. */
const COUNTED_MS = 3000;
/** What is rehearsed is at most this old when an editor is opened; under one's hands it stays the same. */
const REHEARSED_MS = 10 * 60_000;
/** What is warm stays so for this long. */
const WARM_MS = 60_000;
/** Segments, page sets and places are at most this old: every keystroke asks. */
const KNOWN_MS = 2000;
/** A transaction that began before we looked may have ended after: look that much further back. */
const OVERLAP_MS = 15_000;

/** Lists of visits that are kept while somebody scrolls through them. */
const FOUND_KEPT = 8;

interface Found {
  /** Ids, newest first. */
  readonly visits: readonly string[];
  readonly visitors: number;
}

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

/** What a thread keeps of one site: every visitor's history with the timelines of ninety days, brought up to date by what was touched. */
export class SiteMemory {
  readonly #db: pg.Pool;
  readonly #siteId: number;
  readonly #visitors = new Map<number, RecordedVisitor>();
  #touchedUpTo = 0;
  /** How often anything new was loaded. */
  #changes = 0;
  #refreshing: Promise<void> | undefined;
  #counted: { readonly changes: number; readonly known: string; readonly input: CountingInput } | undefined;
  #counting: { at: number; input: Promise<CountingInput> } | undefined;
  readonly #snapshots = new Map<RehearsedDays, Promise<Snapshot>>();
  readonly #stages = new Map<RehearsedDays, Promise<Stage>>();
  #stagedAt = 0;
  #warmedAt = 0;
  readonly #found = new LRUCache<string, Promise<Found>>({ max: FOUND_KEPT });
  #known = '';
  #knownAt = 0;

  constructor(db: pg.Pool, siteId: number) {
    this.#db = db;
    this.#siteId = siteId;
  }

  /** Everybody as they are now (a few seconds old at most); the same object as long as it stands, so that what is worked out of it is kept. */
  counting(): Promise<CountingInput> {
    const now = Date.now();
    if (this.#counting && now - this.#counting.at < COUNTED_MS) return this.#counting.input;
    const input = this.#loadCounting(now);
    this.#counting = { at: now, input };
    input.catch(() => (this.#counting = undefined));
    return input;
  }

  /** Visits begun by `asOf` that meet the terms; the same list for the same question, so that one can scroll through it. */
  findVisits({ terms, asOf }: { terms: readonly VisitTerm[]; asOf: number }): Promise<Found> {
    const key = JSON.stringify([terms, asOf]);
    let found = this.#found.get(key);
    if (!found) {
      found = this.#findVisits(terms, asOf);
      this.#found.set(key, found);
      found.catch(() => this.#found.delete(key));
    }
    return found;
  }

  async #findVisits(terms: readonly VisitTerm[], asOf: number): Promise<Found> {
    const input = await this.counting();
    const members = new Map<string, Uint8Array>();
    for (const { kind, value } of terms) {
      const body = kind === 'segment' ? input.known.segments[value] : undefined;
      if (body) members.set(value, judgeEveryone(body, input));
    }
    const meets = compileTerms(terms, (segment, visitor) => members.get(segment)?.[visitor] === 1, input.known);
    const found: { at: number; id: string }[] = [];
    let visitors = 0;
    for (const visitor of this.#visitors.values()) {
      const before = found.length;
      for (const [nth, { at }] of visitor.record.visits.entries())
        if (at <= asOf && meets(visitor, nth)) found.push({ at, id: visitor.visitIds[nth] as string });
      if (found.length > before) visitors++;
    }
    found.sort((a, b) => b.at - a.at || (a.id < b.id ? -1 : 1));
    return { visits: found.map(({ id }) => id), visitors };
  }

  /** The visits of the last days, as they were when an editor was last opened. */
  async stage(days: RehearsedDays): Promise<Stage> {
    if (Date.now() - this.#knownAt > KNOWN_MS) {
      const known = await this.#fingerprint();
      if (known !== this.#known) this.#stages.clear();
      this.#known = known;
      this.#knownAt = Date.now();
    }
    let stage = this.#stages.get(days);
    if (!stage) {
      stage = this.#buildStage(days);
      this.#stages.set(days, stage);
      stage.catch(() => this.#stages.delete(days));
    }
    return stage;
  }

  /** Called when somebody opens what will be counted or rehearsed. */
  async warm(): Promise<void> {
    // Every page of the studio asks, and so does each draft that saves itself.
    if (Date.now() - this.#warmedAt < WARM_MS) return;
    this.#warmedAt = Date.now();
    if (Date.now() - this.#stagedAt > REHEARSED_MS) {
      this.#snapshots.clear();
      this.#stages.clear();
    }
    await this.counting();
    await this.stage(30);
  }

  /** Changes with every segment, page set and place that is saved, made or deleted; far less to read than all of them. */
  async #fingerprint(): Promise<string> {
    const ids = (table: string): string => `(select string_agg(id || ' ' || revision, ',' order by id) from ${table} where site_id = $1)`;
    const rows = await many(this.#db, `select ${ids('segment')} as segments, ${ids('page_set')} as sets, ${ids('place')} as places`, [
      this.#siteId,
    ]);
    return JSON.stringify(rows);
  }

  async #vocabulary() {
    const [sets, places, segments] = await Promise.all([
      loadPageSets(this.#db, this.#siteId),
      loadPlaces(this.#db, this.#siteId),
      segmentBodies(this.#db, this.#siteId),
    ]);
    return { sets, places, segments };
  }

  /** Loads whoever was touched since the last time; at first everybody. */
  #refresh(): Promise<void> {
    this.#refreshing ??= this.#load().finally(() => (this.#refreshing = undefined));
    return this.#refreshing;
  }

  async #load(): Promise<void> {
    const began = Date.now();
    const ids = await many<{ id: number }>(
      this.#db,
      `select id from visitor where site_id = $1 and touched_at > at_ms($2)
       union select visitor_id from visit where site_id = $1 and started_at > at_ms($2) - interval '1 day' and last_at > at_ms($2) order by 1`,
      [this.#siteId, Math.max(0, this.#touchedUpTo - OVERLAP_MS)],
    );
    const since = began - LONGEST_DAYS * DAY_MS;
    if (ids.length) this.#changes++;
    for (let from = 0; from < ids.length; from += CHUNK) {
      const chunk = ids.slice(from, from + CHUNK).map(({ id }) => id);
      const stored = await loadVisitors(this.#db, this.#siteId, chunk);
      for (const visitor of await withTimelines(this.#db, this.#siteId, stored, since)) this.#visitors.set(visitor.id, visitor);
    }
    // Whoever was erased is forgotten here too.
    const { rows } = await this.#db.query<{ people: number }>(`select count(*)::int as people from visitor where site_id = $1`, [
      this.#siteId,
    ]);
    if ((rows[0]?.people ?? 0) < this.#visitors.size) await this.#forgetErased();
    this.#touchedUpTo = began;
  }

  async #forgetErased(): Promise<void> {
    const rows = await many<{ id: number }>(this.#db, `select id from visitor where site_id = $1`, [this.#siteId]);
    const left = new Set(rows.map(({ id }) => id));
    for (const id of this.#visitors.keys()) if (!left.has(id)) this.#visitors.delete(id);
    this.#changes++;
  }

  async #loadCounting(now: number): Promise<CountingInput> {
    await this.#refresh();
    const [changes, fingerprint, before] = [this.#changes, await this.#fingerprint(), this.#counted];
    // On a quiet site only the clock has gone on, and yesterday has become another day.
    if (before?.changes === changes && before.known === fingerprint && sameDay(before.input.now, now)) return { ...before.input, now };
    const input = await this.#readCounting(now);
    this.#counted = { changes, known: fingerprint, input };
    return input;
  }

  async #readCounting(now: number): Promise<CountingInput> {
    // Pages met for the first time get their number while the days are loaded.
    const days = await loadDays(this.#db, this.#siteId, now);
    const [pages, known] = await Promise.all([loadPages(this.#db, this.#siteId), this.#vocabulary()]);
    const records: (VisitorRecord | undefined)[] = [];
    const visits: { visitor: number; at: number }[] = [];
    for (const [id, { record }] of this.#visitors) {
      records[id] = withoutViews(record);
      for (const { at } of record.visits) visits.push({ visitor: id, at });
    }
    return {
      days,
      pages,
      visits: {
        visitors: Uint32Array.from(visits, ({ visitor }) => visitor),
        starts: Float64Array.from(visits, ({ at }) => at),
      },
      records: Array.from({ length: records.length }, (_, id) => records[id]),
      wholeRecords: () => Array.from({ length: records.length }, (_, id) => this.#visitors.get(id)?.record),
      now,
      known,
    };
  }

  #snapshot(days: RehearsedDays): Promise<Snapshot> {
    let snapshot = this.#snapshots.get(days);
    if (!snapshot) {
      snapshot = this.#takeSnapshot(days);
      this.#snapshots.set(days, snapshot);
      snapshot.catch(() => this.#snapshots.delete(days));
    }
    return snapshot;
  }

  async #takeSnapshot(days: RehearsedDays): Promise<Snapshot> {
    await this.#refresh();
    const asOf = Date.now();
    this.#stagedAt = asOf;
    const since = asOf - days * DAY_MS;
    const visitors = [...this.#visitors.values()]
      .map((visitor) => onlySince(visitor, since))
      .filter(({ timelines }) => timelines.some((played) => played !== undefined))
      .sort((a, b) => a.id - b.id);
    return { id: `${days}-${asOf}`, ...buildColumns(visitors), asOf };
  }

  async #buildStage(days: RehearsedDays): Promise<Stage> {
    const known = this.#known;
    const snapshot = await this.#snapshot(days);
    const { sets, places, segments } = await this.#vocabulary();
    const [site, names] = await Promise.all([findSite(this.#db, this.#siteId), loadNames(this.#db, this.#siteId)]);
    const judge = judgeByRecords(snapshot.origin, { sets, places, segments });
    return { ...snapshot, judge, sets, budget: site?.budget ?? {}, names, known };
  }
}

const sameDay = (one: number, other: number): boolean => Math.floor(one / DAY_MS) === Math.floor(other / DAY_MS);

const stripped = new WeakMap<VisitorRecord, VisitorRecord>();

/** The lists hold the views. */
function withoutViews(record: VisitorRecord): VisitorRecord {
  let found = stripped.get(record);
  if (!found) {
    found = { ...record, visits: record.visits.map((visit) => ({ ...visit, views: [] })) };
    stripped.set(record, found);
  }
  return found;
}

function onlySince(visitor: RecordedVisitor, since: number): RecordedVisitor {
  return {
    ...visitor,
    timelines: visitor.timelines.map((played, visit) => ((visitor.record.visits[visit]?.at ?? 0) >= since ? played : undefined)),
  };
}
