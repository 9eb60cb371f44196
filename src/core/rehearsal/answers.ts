// What a people condition says of every recorded view, as numbers that can be sent: with them a rule can be rehearsed where the
// histories are not.
import type { PeopleCondition } from '../people/condition';
import { evaluateExpr, leavesOf } from '../logic/expr';
import type { Truth } from '../logic/truth';
import type { Columns } from './columns';
import { gunzip, gzip } from './gzip';
import type { Judge, RecordsJudge } from './judge';

/** Truths as numbers: 0 false, 1 true, 2 unknown. */
const VALUES: readonly Truth[] = [false, true, null];
/** Added to a view's value where it may change in the course of the view. */
const CHANGES = 4;
const VIEWS_A_STEP = 4000;

/** One condition's answers. `change…` are the instants within views at which it changes or is asked anew, by view and time. */
export interface ConditionAnswers {
  /** By view: what it says as the page opens (0, 1, 2), and 4 more where it may change in the course of the view. */
  readonly values: Uint8Array;
  readonly changeView: Uint32Array;
  /** UTC ms. */
  readonly changeAt: Float64Array;
  readonly changeValue: Uint8Array;
  /** 1 where the page is told at once, 0 where the next signal finds it out. */
  readonly changeWakes: Uint8Array;
}

/**
 * Asks a condition of every view of the columns, with a pause now and then. Undefined where its answer can change at instants
 * that nobody can foretell.
 */
export function* answerEverywhere(
  condition: PeopleCondition,
  { columns, judge }: { columns: Columns; judge: RecordsJudge },
): Generator<undefined, ConditionAnswers | undefined> {
  const values = new Uint8Array(columns.viewAt.length);
  const changes: { view: number; at: number; value: number; wakes: boolean }[] = [];
  for (let visit = 0; visit < columns.visitAt.length; visit++) {
    for (let view = columns.firstView[visit] as number; view < (columns.firstView[visit + 1] as number); view++) {
      if (view % VIEWS_A_STEP === 0) yield undefined;
      const openedAt = columns.viewAt[view] as number;
      const end = openedAt + (columns.leave[view] as number);
      let now = openedAt;
      let { value, until } = judge.standing(condition, { visit, view, now });
      let wake = judge.wakesAt(condition, { visit, view, now });
      values[view] = VALUES.indexOf(value);
      for (let next = Math.min(until, wake); next <= end; next = Math.min(until, wake)) {
        if (until <= now) return undefined;
        now = next;
        const [before, wakes] = [value, next === wake];
        if (next === until) {
          values[view] = (values[view] as number) | CHANGES;
          ({ value, until } = judge.standing(condition, { visit, view, now }));
        }
        if (wakes) wake = judge.wakesAt(condition, { visit, view, now });
        if (wakes || value !== before) changes.push({ view, at: now, value: VALUES.indexOf(value), wakes });
      }
    }
  }
  return {
    values,
    changeView: Uint32Array.from(changes, ({ view }) => view),
    changeAt: Float64Array.from(changes, ({ at }) => at),
    changeValue: Uint8Array.from(changes, ({ value }) => value),
    changeWakes: Uint8Array.from(changes, ({ wakes }) => Number(wakes)),
  };
}

const HEAD_BYTES = 8;

/** Answers as bytes: the numbers of views and of changes, then each column. */
export function packAnswers({ values, changeView, changeAt, changeValue, changeWakes }: ConditionAnswers): Promise<Uint8Array> {
  const head = new Uint32Array([values.length, changeView.length]);
  const bytes = [head, values, changeView, changeAt, changeValue, changeWakes];
  return gzip(bytes.map(({ buffer, byteOffset, byteLength }) => new Uint8Array(buffer, byteOffset, byteLength)));
}

/** @throws where the bytes are not what `packAnswers` writes. */
export async function unpackAnswers(packed: Uint8Array): Promise<ConditionAnswers> {
  const bytes = await gunzip(packed);
  const [views = 0, changes = 0] = new Uint32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + HEAD_BYTES));
  let offset = bytes.byteOffset + HEAD_BYTES;
  // Sliced, because numbers of several bytes must begin at a multiple of them.
  const take = (length: number): ArrayBuffer => bytes.buffer.slice(offset, (offset += length)) as ArrayBuffer;
  return {
    values: new Uint8Array(take(views)),
    changeView: new Uint32Array(take(4 * changes)),
    changeAt: new Float64Array(take(8 * changes)),
    changeValue: new Uint8Array(take(changes)),
    changeWakes: new Uint8Array(take(changes)),
  };
}

/** Judges by what conditions are known to say, by their JSON. A condition that nobody was asked about is unknown. */
export function judgeByAnswers(answersTo: ReadonlyMap<string, ConditionAnswers>): Judge {
  const met = new WeakMap<PeopleCondition, ConditionAnswers | undefined>();
  const firstChanges = new Map<ConditionAnswers, Map<number, number>>();

  function answersOf(condition: PeopleCondition): ConditionAnswers | undefined {
    if (!met.has(condition)) met.set(condition, answersTo.get(JSON.stringify(condition)));
    return met.get(condition);
  }

  /** Index of the first change in a view. */
  function firstChangeIn(answers: ConditionAnswers, view: number): number | undefined {
    let known = firstChanges.get(answers);
    if (!known) {
      known = new Map();
      for (let index = answers.changeView.length - 1; index >= 0; index--) known.set(answers.changeView[index] as number, index);
      firstChanges.set(answers, known);
    }
    return known.get(view);
  }

  function valueAt(condition: PeopleCondition, view: number, now: number): Truth {
    const answers = answersOf(condition);
    if (!answers) return null;
    const opening = answers.values[view] as number;
    let value = opening & ~CHANGES;
    if (opening & CHANGES) {
      for (let index = firstChangeIn(answers, view) ?? Infinity; answers.changeView[index] === view; index++) {
        if ((answers.changeAt[index] as number) > now) break;
        value = answers.changeValue[index] as number;
      }
    }
    return VALUES[value] as Truth;
  }

  return {
    holds: (people, { view, now }) => (people === undefined ? true : evaluateExpr(people, (condition) => valueAt(condition, view, now))),
    steadily: (people, { view, now }) => {
      if (people === undefined) return true;
      let mayChange = false;
      const value = evaluateExpr(people, (condition) => {
        if (((answersOf(condition)?.values[view] ?? 0) & CHANGES) !== 0) mayChange = true;
        return valueAt(condition, view, now);
      });
      return mayChange ? undefined : value;
    },
    wakesAt: (people, { view, now }) => {
      let next = Infinity;
      for (const { leaf } of leavesOf(people)) {
        const answers = answersOf(leaf);
        const first = answers && firstChangeIn(answers, view);
        if (!answers || first === undefined) continue;
        for (let index = first; answers.changeView[index] === view; index++) {
          const at = answers.changeAt[index] as number;
          if (at > now && answers.changeWakes[index]) next = Math.min(next, at);
        }
      }
      return next;
    },
  };
}
