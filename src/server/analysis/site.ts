import type { CountingInput } from '@/core/counting/countPeople';
import { judgeEveryone } from '@/core/counting/countPeople';
import { segmentTrends } from '@/core/counting/sizes';
import { Standing } from '@/core/counting/standing';
import type { Budget } from '@/core/pacing/pacing';
import type { PageSets } from '@/core/pages/pattern';
import type { Columns, Origin } from '@/core/rehearsal/columns';
import type { RecordsJudge } from '@/core/rehearsal/judge';
import { judgeByRecords } from '@/core/rehearsal/judge';
import type { WordsFor } from '@/core/pages/names';
import type { FoundVisits } from '@/core/sealed/findVisits';
import { findVisits } from '@/core/sealed/findVisits';
import type { AskedOfDays } from '@/core/sealed/metIn';
import { reachedSince } from '@/core/sealed/search';
import type { Task, TaskAnswers } from './task';
import { findCurrentRelease } from '../db/releases';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import type { CampaignToRehearse } from '@/core/rehearsal/rehearse';
import type { foretell, RecordedMeeting } from '@/core/results/foretold';
import { metIn } from '@/core/sealed/metIn';
import type { MetVisitor } from '@/core/results/report';
import { visitorAt } from '@/core/history/record';
import { peopleHold } from '@/core/people/condition';
import type { SegmentBody } from '@/core/people/subject';
import type { VisitTerm } from '@/core/visits/filter';
import { LRUCache } from 'lru-cache';
import type pg from 'pg';
import { many } from '../db/queryable';
import { loadNames } from '../db/recorded';
import type { ReadSide } from '../db/readSide';
import { findSite } from '../db/sites';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import type { Past } from '../sealed/keptLines';
import { KeptLines, NO_PAST, pastOf } from '../sealed/keptLines';
import { keepStanding, takeUpStanding } from '../sealed/keptStanding';
import { bytesOf, SiteChunks } from '../sealed/siteChunks';
import { SiteResults } from '../sealed/siteResults';
import { segmentBodies } from '../segments/bodies';
import type { RehearsedDays } from '@/core/rehearsal/rehearsed';
import { isInSample } from '@/core/rehearsal/rehearsed';
import { DAY_MS } from '@/core/time/day';
/** What is counted is at most this old. */
const COUNTED_MS = 3000;
/** What is rehearsed is at most this old when an editor is opened; under one's hands it stays the same. */
const REHEARSED_MS = 10 * 60_000;
/** What is warm stays so for this long. */
const WARM_MS = 60_000;
/** Segments, page sets and places are at most this old: every keystroke asks. */
const KNOWN_MS = 2000;

/** What was worked out of so many visitors is kept over a start; of fewer it is soon worked out again. */
const KEPT_FROM = 20_000;
const KEEP_EVERY_MS = 3_600_000;

/** Lists of visits that are kept while somebody scrolls through them. */
const FOUND_KEPT = 8;

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

/** What a thread keeps of one site: its days as chunks, and what was worked out of them. */
export class SiteMemory {
  readonly #db: pg.Pool;
  readonly #reading: ReadSide;
  readonly #siteId: number;
  readonly #chunks: SiteChunks;
  readonly #results: SiteResults;
  #standing = new Standing();
  /** How often anything new was loaded. */
  #changes = 0;
  #refreshing: Promise<void> | undefined;
  #counted:
    { readonly changes: number; readonly known: string; readonly input: CountingInput & { readonly standing: Standing } } | undefined;
  #counting: { at: number; input: Promise<CountingInput> } | undefined;
  readonly #snapshots = new Map<RehearsedDays, Promise<Snapshot>>();
  readonly #stages = new Map<RehearsedDays, Promise<Stage>>();
  readonly #samples = new Map<RehearsedDays, Promise<Sampled | undefined>>();
  #building: Promise<unknown> = Promise.resolve();
  #stagedAt = 0;
  #warmedAt = 0;
  readonly #found = new LRUCache<string, Promise<FoundVisits>>({ max: FOUND_KEPT });
  readonly #columnBytes = new Map<RehearsedDays, number>();
  #lastStaged: RehearsedDays | undefined;
  #known = '';
  #knownAt = 0;
  readonly #keptFrom: number;
  #keptAt = -Infinity;
  #keeping: Promise<void> | undefined;
  #past: { readonly people: CountingInput['histories']; readonly past: Past } | undefined;

  /** `keptFrom`: from how many visitors on what was counted is kept in the database. */
  constructor(reading: ReadSide, siteId: number, { keptFrom = KEPT_FROM }: { keptFrom?: number } = {}) {
    this.#keptFrom = keptFrom;
    // What is set is small, and wanted as it was saved a moment ago.
    this.#db = reading.primary;
    this.#reading = reading;
    this.#siteId = siteId;
    this.#chunks = new SiteChunks(reading, siteId);
    this.#results = new SiteResults(reading, siteId);
  }

  isOf(reading: ReadSide): boolean {
    return reading.primary === this.#reading.primary;
  }

  /** What it keeps, in bytes. */
  get bytes(): number {
    return this.#chunks.bytes + this.#results.bytes + [...this.#columnBytes.values()].reduce((sum, bytes) => sum + bytes, 0);
  }

  /** Forgets what can be worked out again: the least used columns to rehearse over; undefined once there are none. */
  forgetSome(): number | undefined {
    const oldest = [...this.#snapshots.keys()].find((days) => days !== this.#lastStaged);
    if (oldest === undefined) return undefined;
    for (const kept of [this.#snapshots, this.#stages, this.#samples]) kept.delete(oldest);
    const bytes = this.#columnBytes.get(oldest) ?? 0;
    this.#columnBytes.delete(oldest);
    return bytes;
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
  findVisits({ terms, asOf }: { terms: readonly VisitTerm[]; asOf: number }): Promise<FoundVisits> {
    const key = JSON.stringify([terms, asOf]);
    let found = this.#found.get(key);
    if (!found) {
      found = this.#findVisits(terms, asOf);
      this.#found.set(key, found);
      found.catch(() => this.#found.delete(key));
    }
    return found;
  }

  async #findVisits(terms: readonly VisitTerm[], asOf: number): Promise<FoundVisits> {
    const input = await this.counting();
    const members = new Map<string, Uint8Array>();
    for (const { kind, value } of terms) {
      const body = kind === 'segment' ? input.known.segments[value] : undefined;
      if (body) members.set(value, judgeEveryone(body, input));
    }
    return findVisits(this.#chunks.people, this.#chunks.known, {
      terms,
      asOf,
      isIn: (segment, visitor) => members.get(segment)?.[visitor] === 1,
      known: input.known,
    });
  }

  /** Visitors who first met a campaign in a period, and what came of it; where a segment is named, whether they were in it by then. */
  async met(asked: Omit<AskedOfDays, 'sets' | 'isIn'> & { readonly segment?: string | undefined }): Promise<MetVisitor[]> {
    const { known } = await this.counting();
    const { people } = this.#chunks;
    const days = await this.#results.days();
    const segment = asked.segment ? known.segments[asked.segment] : undefined;
    const isIn =
      segment &&
      ((visitor: number, at: number): boolean => {
        const record = people.record(visitor, { withViews: true });
        const given = { now: at, lookback: segment.lookback, ...known };
        return record !== undefined && peopleHold(segment.people, { visitor: visitorAt(record, at), ...given }) === true;
      });
    return metIn({ days, names: this.#results.names, people, known: this.#chunks.known }, { ...asked, sets: known.sets, isIn });
  }

  /** How often a goal was reached since. */
  async reached({ goal, since, now }: Extract<Task, { kind: 'reached' }>): Promise<TaskAnswers['reached']> {
    const { known } = await this.counting();
    return reachedSince({ people: this.#chunks.people, known: this.#chunks.known }, goal, { since, now, sets: known.sets });
  }

  /** What foretelling a campaign's last days needs; undefined where it is in no release, or that is not known any more. */
  async foretold({ campaign, days, zone }: Extract<Task, { kind: 'foretold' }>): Promise<Parameters<typeof foretell> | undefined> {
    const current = await findCurrentRelease(this.#db, this.#siteId);
    if (!current?.source?.campaigns.some(({ id }) => id === campaign)) return undefined;
    const { columns, judge, sets, asOf } = await this.stage(days);
    const { names } = this.#results;
    const results = await this.#results.days();
    const since = asOf - days * DAY_MS;
    const before = new Map<number, { at: number; campaign: string }[]>();
    const met: RecordedMeeting[] = [];
    for (const day of results)
      for (let row = 0; row < day.met.length; row++) {
        const { campaign: id, release } = names.met.list[day.met[row] as number] as (typeof names.met.list)[0];
        const [visitor, at] = [day.metVisitor[row] as number, day.metAt[row] as number];
        if (at < since) before.set(visitor, [...(before.get(visitor) ?? []), { at, campaign: id }]);
        else if (id === campaign && at < asOf) met.push({ visitor, at, release });
      }
    const { people } = this.#chunks;
    return [
      { columns, judge, sets, budget: current.source.budget, campaigns: current.source.campaigns.map(toRehearse) },
      {
        campaign,
        met,
        pastOf: (visitor) => ({
          met: before.get(visitor) ?? [],
          answered: people.record(visitor, { withViews: false, withVisits: false })?.responses ?? [],
        }),
        release: current.number,
        zone,
        from: since,
        to: asOf,
      },
    ];
  }

  /** The visits of the last days, as they were when an editor was last opened. */
  async stage(days: RehearsedDays): Promise<Stage> {
    this.#lastStaged = days;
    await this.#notice();
    let stage = this.#stages.get(days);
    if (!stage) {
      stage = this.#buildStage(days);
      this.#stages.set(days, stage);
      stage.catch(() => this.#stages.delete(days));
    }
    return stage;
  }

  /** What was judged by other segments, page sets and places is forgotten. */
  async #notice(): Promise<void> {
    if (Date.now() - this.#knownAt <= KNOWN_MS) return;
    const known = await this.#fingerprint();
    if (known !== this.#known) {
      this.#stages.clear();
      this.#samples.clear();
    }
    this.#known = known;
    this.#knownAt = Date.now();
  }

  /** The same of a sample of the visitors, and how many there are of everybody; undefined where everybody is rehearsed soon enough. */
  async sample(days: RehearsedDays): Promise<Sampled | undefined> {
    await this.#notice();
    let sample = this.#samples.get(days);
    if (!sample) {
      sample = this.#buildSample(days);
      this.#samples.set(days, sample);
      sample.catch(() => this.#samples.delete(days));
    }
    return sample;
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

  /** Called when somebody opens what will be counted or rehearsed. */
  async warm(): Promise<void> {
    // Every page of the studio asks, and so does each draft that saves itself.
    if (Date.now() - this.#warmedAt < WARM_MS) return;
    this.#warmedAt = Date.now();
    if (Date.now() - this.#stagedAt > REHEARSED_MS) {
      this.#snapshots.clear();
      this.#stages.clear();
      this.#samples.clear();
      this.#columnBytes.clear();
    }
    await this.counting();
    await this.sample(30);
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

  /** Looks for news; at first everything is. */
  #refresh(): Promise<void> {
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
    await this.#refresh();
    const [changes, fingerprint, before] = [this.#changes, await this.#fingerprint(), this.#counted];
    // On a quiet site only the clock has gone on.
    if (before?.changes === changes && before.known === fingerprint) return { ...before.input, now };
    if (before && before.known !== fingerprint) this.#standing = new Standing();
    const known = await this.#vocabulary();
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
    const input = await this.counting();
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
    const known = this.#known;
    const { sets, places, segments } = await this.#vocabulary();
    const [site, names] = await Promise.all([findSite(this.#db, this.#siteId), this.#reading.read((db) => loadNames(db, this.#siteId))]);
    const judge = judgeByRecords(snapshot.origin, { sets, places, segments });
    return { ...snapshot, judge, sets, budget: site?.budget ?? {}, names, known };
  }
}

const toRehearse = ({ id, rule, flow }: CampaignDocument & { readonly id: string }): CampaignToRehearse => ({
  id,
  rule,
  place: placeOf(startOf(flow)),
});
