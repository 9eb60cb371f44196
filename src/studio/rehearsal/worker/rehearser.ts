import { sharedPromise } from '@/core/sharedPromise';
import type { Budget } from '@/core/pacing/pacing';
import type { PageSets } from '@/core/pages/pattern';
import type { PeopleCondition } from '@/core/people/condition';
import type { ConditionAnswers } from '@/core/rehearsal/answers';
import { judgeByAnswers, unpackAnswers } from '@/core/rehearsal/answers';
import type { Columns } from '@/core/rehearsal/columns';
import { decodeColumns } from '@/core/rehearsal/encode';
import { gunzip } from '@/core/rehearsal/gzip';
import type { CampaignToRehearse } from '@/core/rehearsal/rehearse';
import type { Rehearsed, RehearsalQuestion, RehearsedDays } from '@/core/rehearsal/rehearsed';
import { rehearsedOf } from '@/core/rehearsal/rehearsed';
import { reportInStages } from '@/core/rehearsal/report';
import { leavesOf } from '@/core/logic/expr';

/** The recorded visits of some days. */
export interface Visits {
  readonly snapshot: string;
  readonly columns: Columns;
  readonly visitId: (visit: number) => string;
  /** UTC ms. */
  readonly asOf: number;
}

/** What the server tells of them; `answers` in the order asked, null where only the server can say. */
export interface Told {
  readonly isHere: boolean;
  readonly known: string;
  readonly sets: PageSets;
  readonly budget: Budget;
  readonly answers: readonly (string | null)[];
  readonly campaigns: readonly (CampaignToRehearse & { readonly isLive: boolean })[];
}

export interface Server {
  /** Bytes as the API gives them: the length of the columns, the columns, the ids. Undefined where there are too many. */
  readonly visits: (days: RehearsedDays) => Promise<{ snapshot: string; bytes: Uint8Array<ArrayBuffer> } | undefined>;
  readonly answers: (
    question: { days: RehearsedDays; snapshot: string; conditions: readonly PeopleCondition[] },
    signal: AbortSignal,
  ) => Promise<Told>;
}

/** Only the server, which has the histories, can rehearse this. */
export class Beyond extends Error {}

/** What the server told is taken for true for this long without asking again. */
const FRESH_MS = 10_000;
const ID_BYTES = 16;
/** How often something may change under one question before it is given up. */
const MOST_TRIES = 3;

/** Rehearses over recorded visits that it keeps; asks the server only for what it does not know yet. */
export class Rehearser {
  readonly #server: Server;
  readonly #visits = new Map<RehearsedDays, Promise<Visits>>();
  /** The snapshots that are here. */
  readonly #loaded = new Map<RehearsedDays, string>();
  /** Of each snapshot, by the condition's JSON. */
  readonly #answers = new Map<string, Map<string, ConditionAnswers>>();
  #told: Told | undefined;
  #toldAt = -Infinity;

  constructor(server: Server) {
    this.#server = server;
  }

  /** Would a question have to wait for the server? */
  lacks(question: RehearsalQuestion): boolean {
    const snapshot = this.#loaded.get(question.days);
    return snapshot === undefined || !this.#told || this.#missing(question, snapshot).length > 0;
  }

  /** Fetches what a question needs and is not there yet. @throws Beyond */
  async prepare(question: RehearsalQuestion, signal: AbortSignal): Promise<{ visits: Visits; told: Told }> {
    const { days, withOthers } = question;
    const visits = await this.#visitsOf(days);
    if (withOthers && performance.now() - this.#toldAt > FRESH_MS) await this.#ask(visits, days, [], signal);
    for (let tries = 0; ; tries++) {
      const missing = this.#missing(question, visits.snapshot);
      if (missing.length === 0 && this.#told) return { visits, told: this.#told };
      if (tries === MOST_TRIES) throw new Error('What is rehearsed changes faster than it can be read; try again');
      if (!(await this.#ask(visits, days, missing, signal))) return this.prepare(question, signal);
    }
  }

  /** The report as it grows; undefined is a pause, in which a newer question may be looked for. @throws Beyond */
  async *rehearse(question: RehearsalQuestion, signal: AbortSignal): AsyncGenerator<Rehearsed | undefined> {
    const { campaign, place, rule, withOthers } = question;
    const { visits, told } = await this.prepare(question, signal);
    const { sets, budget } = told;
    const started = performance.now();
    const stages = reportInStages(
      { id: campaign, place, rule },
      {
        columns: visits.columns,
        judge: judgeByAnswers(this.#answers.get(visits.snapshot) ?? new Map()),
        sets,
        live: this.#live(question),
        ...(withOthers ? { budget } : {}),
      },
    );
    for (const report of stages)
      yield report && rehearsedOf(report, { visitId: visits.visitId, asOf: visits.asOf, ms: Math.round(performance.now() - started) });
  }

  /** Asks whether what answers are worked out of has changed: segments, page sets, places, or the visits themselves. */
  async hasChanged(): Promise<boolean> {
    const before = this.#told?.known;
    const [newest] = [...this.#visits].slice(-1);
    if (before === undefined || !newest || performance.now() - this.#toldAt < FRESH_MS) return false;
    const [days, visits] = newest;
    const isHere = await this.#ask(await visits, days, [], new AbortController().signal);
    return !isHere || this.#told?.known !== before;
  }

  /** Conditions whose answers are not there yet. */
  #missing(question: RehearsalQuestion, snapshot: string): PeopleCondition[] {
    const known = this.#answers.get(snapshot);
    return [question.rule, ...this.#live(question).map(({ rule }) => rule)].flatMap(({ people }) =>
      leavesOf(people).flatMap(({ leaf }) => (known?.has(JSON.stringify(leaf)) ? [] : [leaf])),
    );
  }

  #live({ campaign, withOthers }: RehearsalQuestion): readonly CampaignToRehearse[] {
    return withOthers ? (this.#told?.campaigns ?? []).filter(({ isLive, id }) => isLive || id === campaign) : [];
  }

  #visitsOf(days: RehearsedDays): Promise<Visits> {
    return sharedPromise(this.#visits, days, () => this.#load(days));
  }

  async #load(days: RehearsedDays): Promise<Visits> {
    const answer = await this.#server.visits(days);
    if (!answer) throw new Beyond('more visits than a browser had better hold');
    const { snapshot, bytes } = answer;
    const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0);
    const columns = await decodeColumns(bytes.subarray(4, 4 + length));
    const ids = await gunzip(bytes.subarray(4 + length));
    this.#answers.set(snapshot, new Map());
    this.#loaded.set(days, snapshot);
    return {
      snapshot,
      columns,
      visitId: (visit) => uuid(ids.subarray(visit * ID_BYTES, (visit + 1) * ID_BYTES)),
      asOf: Number(snapshot.split('-')[1]),
    };
  }

  /** False where the visits are no longer those of the server: they are forgotten, and the question has to begin anew. */
  async #ask(visits: Visits, days: RehearsedDays, conditions: readonly PeopleCondition[], signal: AbortSignal): Promise<boolean> {
    const told = await this.#server.answers({ days, snapshot: visits.snapshot, conditions }, signal);
    if (told.known !== this.#told?.known) for (const answers of this.#answers.values()) answers.clear();
    this.#told = told;
    this.#toldAt = performance.now();
    if (!told.isHere) {
      this.#visits.delete(days);
      this.#loaded.delete(days);
      this.#answers.delete(visits.snapshot);
      return false;
    }
    const answers = this.#answers.get(visits.snapshot);
    for (const [nth, condition] of conditions.entries()) {
      const packed = told.answers[nth];
      if (!packed) throw new Beyond('a condition whose answer changes at instants that nobody can foretell');
      answers?.set(JSON.stringify(condition), await unpackAnswers(Uint8Array.from(atob(packed), (char) => char.charCodeAt(0))));
    }
    return true;
  }
}

function uuid(bytes: Uint8Array): string {
  const hex = Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
}
