import type { Path } from '../logic/expr';
import type { Placement } from '../pacing/placement';
import type { Rule } from '../rules/schema';
import type { RehearsalReport, StagedReport } from './report';

export const REHEARSED_DAYS = [7, 30, 90] as const;
export type RehearsedDays = (typeof REHEARSED_DAYS)[number];

/** A rule to rehearse over the last days, alone or among the live campaigns under the site's budget. */
export interface RehearsalQuestion {
  readonly campaign: string;
  readonly place: Placement;
  readonly rule: Rule;
  readonly days: RehearsedDays;
  readonly withOthers: boolean;
}

/** Where a showing or a near miss stands. */
export interface Spot {
  /** Id of the visit. */
  readonly visit: string;
  /** UTC ms. */
  readonly at: number;
  /** What a near miss missed by. */
  readonly path?: Path;
  /** The same in words, where somebody has put it into words. */
  readonly why?: string;
}

/** A report with some of its instants, the newest, in ids of visits. */
export interface Rehearsed extends Omit<RehearsalReport, 'showings' | 'nearMisses' | 'steps'> {
  readonly showings: readonly Spot[];
  readonly nearMisses: readonly Spot[];
  readonly steps: readonly {
    readonly what: string;
    readonly path: Path;
    readonly left: number;
    readonly stay: readonly Spot[];
    readonly go: readonly Spot[];
  }[];
  /** When the visits were read, UTC ms. */
  readonly asOf: number;
  /** How many of the runs that the report needs are done. */
  readonly done: number;
  readonly runs: number;
  readonly ms: number;
  /** Counted among one visitor in `SAMPLE_OF`, and said of all: only its counts are worth looking at. */
  readonly isSample?: true;
}

/** A sample holds one visitor in so many. */
export const SAMPLE_OF = 16;

/** Is a visitor in the sample? By a hash of their number, so that it is the same everywhere and everyone's first visit is as likely in it. */
export const isInSample = (visitor: number): boolean => (Math.imul(visitor, 0x9e3779b1) >>> 16) % SAMPLE_OF === 0;

/** What a rehearsal of the sample lets one expect of everybody, who are so many. */
export function expectedOf(sample: Rehearsed, whole: Pick<Rehearsed, 'visitors' | 'visits' | 'views'>): Rehearsed {
  const { visitors, visits, views } = whole;
  const of = sample.visits > 0 ? visits / sample.visits : 0;
  return {
    ...sample,
    visitors,
    visits,
    views,
    sure: Math.round(sample.sure * of),
    possible: Math.round(sample.possible * of),
    isSample: true,
  };
}

/** Showings that go to the screen; all of them are counted. */
const MOST_SPOTS = 60;

/** What goes to the screen of a report; `visitId` names the visit of a column index. */
export function rehearsedOf(
  report: StagedReport,
  { visitId, asOf, ms }: { visitId: (visit: number) => string; asOf: number; ms: number },
): Rehearsed {
  const spots = (instants: readonly { visit: number; at: number; path?: Path }[]): Spot[] =>
    newest(instants, MOST_SPOTS).map(({ visit, at, path }) => ({ visit: visitId(visit), at, ...(path ? { path } : {}) }));
  const { showings, nearMisses, steps, ...rest } = report;
  return {
    ...rest,
    showings: spots(showings),
    nearMisses: spots(nearMisses),
    steps: steps.map(({ stay, go, ...step }) => ({ ...step, stay: spots(stay), go: spots(go) })),
    asOf,
    ms,
  };
}

/** The `count` latest of however many it is given, latest first; of one instant those that came first. */
export class Newest<T extends { readonly at: number }> {
  readonly #count: number;
  #some: T[] = [];
  /** Whatever is earlier is none of them. */
  #from = -Infinity;

  constructor(count: number) {
    this.#count = count;
  }

  take(one: T): void {
    if (one.at < this.#from) return;
    this.#some.push(one);
    if (this.#some.length < 8 * this.#count) return;
    this.#some = this.list();
    this.#from = this.#some.at(-1)?.at ?? -Infinity;
  }

  list(): T[] {
    return newest(this.#some, this.#count);
  }
}

/** The `count` latest, latest first. */
export function newest<T extends { readonly at: number }>(instants: readonly T[], count: number): T[] {
  const times = Float64Array.from(instants, ({ at }) => at).sort();
  const from = times[Math.max(0, times.length - count)] ?? -Infinity;
  return instants
    .filter(({ at }) => at >= from)
    .sort((a, b) => b.at - a.at)
    .slice(0, count);
}
