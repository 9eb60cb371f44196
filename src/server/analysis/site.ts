import { sharedPromise } from '@/core/sharedPromise';
import type { CountingInput } from '@/core/counting/countPeople';
import { judgeEveryone } from '@/core/counting/countPeople';
import type { FoundVisits } from '@/core/sealed/findVisits';
import { findVisits } from '@/core/sealed/findVisits';
import type { AskedOfDays } from '@/core/sealed/exposures';
import { reachedSince } from '@/core/sealed/search';
import type { Task, TaskAnswers } from './task';
import { findCurrentRelease } from '../db/releases';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import type { CampaignToRehearse } from '@/core/rehearsal/rehearse';
import type { foretell, RecordedMeeting } from '@/core/results/foretold';
import { exposuresIn } from '@/core/sealed/exposures';
import type { Exposure } from '@/core/results/report';
import { visitorAt } from '@/core/history/record';
import { peopleHold } from '@/core/people/condition';
import type { SegmentBody } from '@/core/people/subject';
import type { VisitTerm } from '@/core/visits/filter';
import { LRUCache } from 'lru-cache';
import type pg from 'pg';
import type { ReadSide } from '../db/readSide';
import { SiteChunks } from '../sealed/siteChunks';
import { SiteResults } from '../sealed/siteResults';
import type { RehearsedDays } from '@/core/rehearsal/rehearsed';
import { DAY_MS } from '@/core/time/day';
import { SiteCounting } from './counting';
import { SiteKnown } from './known';
import type { Sampled, Stage } from './stages';
import { SiteStages } from './stages';

/** What is warm stays so for this long. */
const WARM_MS = 60_000;
/** Lists of visits that are kept while somebody scrolls through them. */
const FOUND_KEPT = 8;

/** What a thread keeps of one site: its days as chunks, and what was worked out of them. */
export class SiteMemory {
  readonly #db: pg.Pool;
  readonly #reading: ReadSide;
  readonly #siteId: number;
  readonly #chunks: SiteChunks;
  readonly #results: SiteResults;
  readonly #counting: SiteCounting;
  readonly #stages: SiteStages;
  readonly #found = new LRUCache<string, Promise<FoundVisits>>({ max: FOUND_KEPT });
  #warmedAt = 0;

  /** `keptFrom`: from how many visitors on what was counted is kept in the database. */
  constructor(reading: ReadSide, siteId: number, { keptFrom }: { keptFrom?: number } = {}) {
    // What is set is small, and wanted as it was saved a moment ago.
    this.#db = reading.primary;
    this.#reading = reading;
    this.#siteId = siteId;
    const [chunks, known] = [new SiteChunks(reading, siteId), new SiteKnown(reading.primary, siteId)];
    this.#chunks = chunks;
    this.#results = new SiteResults(reading, siteId);
    this.#counting = new SiteCounting(reading.primary, siteId, { chunks, known, keptFrom });
    this.#stages = new SiteStages(reading, siteId, { chunks, known, refresh: () => this.#counting.refresh() });
  }

  isOf(reading: ReadSide): boolean {
    return reading.primary === this.#reading.primary;
  }

  /** What it keeps, in bytes. */
  get bytes(): number {
    return this.#chunks.bytes + this.#results.bytes + this.#stages.bytes;
  }

  /** Forgets what can be worked out again: the least used columns to rehearse over; undefined once there are none. */
  forgetSome(): number | undefined {
    return this.#stages.forgetLeastUsed();
  }

  /** Everybody as they are now (a few seconds old at most); the same object as long as it stands, so that what is worked out of it is kept. */
  counting(): Promise<CountingInput> {
    return this.#counting.input();
  }

  /** Keeps what was counted, every hour at most, while others go on asking. */
  keep(): void {
    this.#counting.keep();
  }

  /** Resolves once nothing is being kept any more. */
  kept(): Promise<void> {
    return this.#counting.kept();
  }

  /** The lines of segments, as far as they are known; midnights that are over are counted once. */
  lines(segments: readonly SegmentBody[], days: number): AsyncGenerator<TaskAnswers['trends']> {
    return this.#counting.lines(segments, days);
  }

  /** The visits of the last days, as they were when an editor was last opened. */
  stage(days: RehearsedDays): Promise<Stage> {
    return this.#stages.stage(days);
  }

  /** The same of a sample of the visitors, and how many there are of everybody; undefined where everybody is rehearsed soon enough. */
  sample(days: RehearsedDays): Promise<Sampled | undefined> {
    return this.#stages.sample(days);
  }

  /** Called when somebody opens what will be counted or rehearsed. */
  async warm(): Promise<void> {
    // Every page of the studio asks, and so does each draft that saves itself.
    if (Date.now() - this.#warmedAt < WARM_MS) return;
    this.#warmedAt = Date.now();
    this.#stages.forgetOld();
    await this.counting();
    await this.sample(30);
    await this.stage(30);
  }

  /** Visits begun by `asOf` that meet the terms; the same list for the same question, so that one can scroll through it. */
  findVisits({ terms, asOf }: { terms: readonly VisitTerm[]; asOf: number }): Promise<FoundVisits> {
    return sharedPromise(this.#found, JSON.stringify([terms, asOf]), () => this.#findVisits(terms, asOf));
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
  async met(asked: Omit<AskedOfDays, 'sets' | 'isIn'> & { readonly segment?: string | undefined }): Promise<Exposure[]> {
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
    return exposuresIn({ days, names: this.#results.names, people, known: this.#chunks.known }, { ...asked, sets: known.sets, isIn });
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
}

const toRehearse = ({ id, rule, flow }: CampaignDocument & { readonly id: string }): CampaignToRehearse => ({
  id,
  rule,
  place: placeOf(startOf(flow)),
});
