import { judgeEveryone, prepare } from '@/core/counting/countPeople';
import { contributions, overlaps, segmentTrend } from '@/core/counting/sizes';
import { answerEverywhere, packAnswers } from '@/core/rehearsal/answers';
import type { Columns } from '@/core/rehearsal/columns';
import { encodeColumns } from '@/core/rehearsal/encode';
import { gzip } from '@/core/rehearsal/gzip';
import type { RecordsJudge } from '@/core/rehearsal/judge';
import type { Rehearsed } from '@/core/rehearsal/rehearsed';
import { expectedOf, rehearsedOf } from '@/core/rehearsal/rehearsed';
import { reportInStages } from '@/core/rehearsal/report';
import { rehearsePortfolio } from '@/core/rehearsal/portfolio';
import { foretell } from '@/core/results/foretold';
import { rowsBy } from '@/core/results/report';
import type { WholeReport } from '@/core/results/whole';
import { optionsFor, wholeReport } from '@/core/results/whole';
import { LRUCache } from 'lru-cache';
import type { SiteMemory } from './site';
import type { Stage } from './stages';
import type { Answered, AnswerTo, RecordedVisits, Size, Task } from './task';

const SAMPLE = 200;

/** Carries a task out, giving what is known so far again and again where it takes long, or undefined for a pause; whoever no longer asks stops asking for more. */
export async function* work(memory: SiteMemory, task: Task): AsyncGenerator<AnswerTo<Task> | undefined> {
  switch (task.kind) {
    case 'warm':
      await memory.warm();
      yield { ready: true };
      return;
    case 'size':
      yield sizeOf(judgeEveryone(task.segment, await memory.counting()));
      return;
    case 'sizes': {
      const input = await memory.counting();
      prepare(task.segments, input);
      const sizes: Size[] = [];
      for (const segment of task.segments) {
        sizes.push(sizeOf(judgeEveryone(segment, input)));
        yield [...sizes];
      }
      if (sizes.length === 0) yield [];
      memory.keep();
      return;
    }
    case 'trends':
      yield* memory.lines(task.segments, task.days);
      return;
    case 'contributions':
      yield contributions(task.segment, await memory.counting());
      return;
    case 'overlap':
      yield overlaps(task.segments, await memory.counting());
      return;
    case 'trend': {
      for (const line of segmentTrend(task.segment, await memory.counting(), task.days)) yield line;
      return;
    }
    case 'visits': {
      const found = await memory.findVisits(task);
      const ids = Array.from(found.visits.subarray(task.from, task.from + task.count), (visit) => found.people.visitId(visit));
      yield { visits: found.visits.length, visitors: found.visitors, ids };
      return;
    }
    case 'portfolio': {
      const { columns, judge, sets } = await memory.stage(task.days);
      yield* rehearsePortfolio(task.campaigns, { columns, judge, sets, budget: task.budget });
      return;
    }
    case 'recorded':
      yield await recordedVisits(await memory.stage(task.days));
      return;
    case 'answers':
      yield* answered(await memory.stage(task.days), task);
      return;
    case 'foretold': {
      const asked = await memory.foretold(task);
      yield asked ? yield* foretell(...asked) : [];
      return;
    }
    case 'reached':
      yield await memory.reached(task);
      return;
    case 'results':
      yield await resultsOf(memory, task);
      return;
    case 'rehearse':
      yield await expected(memory, task);
      yield* rehearsal(await memory.stage(task.days), task);
  }
}

function sizeOf(values: Uint8Array): Size {
  let [people, unknown] = [0, 0];
  const sample: number[] = [];
  for (let number = values.length - 1; number >= 0; number--) {
    if (values[number] === 2) unknown++;
    if (values[number] !== 1) continue;
    people++;
    if (sample.length < SAMPLE) sample.push(number);
  }
  return { people, unknown, of: values.length - 1, sample };
}

/** Beyond this a browser had better leave the rehearsal to the server. */
const MOST_VISITS_SENT = 150_000;
const packedVisits = new WeakMap<Columns, Promise<RecordedVisits>>();

/** The same snapshot is packed once. */
function recordedVisits({ id, asOf, columns, origin }: Stage): Promise<RecordedVisits> {
  const pack = async (): Promise<RecordedVisits> => {
    if (columns.visitAt.length > MOST_VISITS_SENT) return { snapshot: id, asOf, columns: undefined, ids: undefined };
    const ids = Array.from(
      origin.visit,
      (nth, visit) => origin.visitors.at(origin.visitor[visit] as number)?.visitIds[nth]?.replaceAll('-', '') ?? '',
    );
    return { snapshot: id, asOf, columns: await encodeColumns(columns), ids: await gzip([Buffer.from(ids.join(''), 'hex')]) };
  };
  const packed = packedVisits.get(columns) ?? pack();
  packedVisits.set(columns, packed);
  return packed;
}

const ANSWERS_KEPT = 60;
const packedAnswers = new WeakMap<RecordsJudge, LRUCache<string, { readonly bytes: Uint8Array | null }>>();

async function* answered(
  { id, columns, judge, known, sets, budget }: Stage,
  { snapshot, conditions }: Extract<Task, { kind: 'answers' }>,
): AsyncGenerator<Answered | undefined> {
  if (snapshot !== id) {
    yield { isHere: false, known, sets, budget, answers: [] };
    return;
  }
  const kept = packedAnswers.get(judge) ?? new LRUCache({ max: ANSWERS_KEPT });
  packedAnswers.set(judge, kept);
  const answers: (Uint8Array | null)[] = [];
  for (const condition of conditions) {
    const key = JSON.stringify(condition);
    let packed = kept.get(key);
    if (!packed) {
      const found = yield* answerEverywhere(condition, { columns, judge });
      packed = { bytes: found ? await packAnswers(found) : null };
      kept.set(key, packed);
    }
    answers.push(packed.bytes);
  }
  yield { isHere: true, known, sets, budget, answers };
}

async function resultsOf(memory: SiteMemory, task: Extract<Task, { kind: 'results' }>): Promise<WholeReport> {
  const { campaign, goal, splits, planned, looks, zone, from, to, now, tables, points } = task;
  const asked = { campaign, goal, from, to, now };
  const options = optionsFor(task, { splits: new Map(splits), planned, looks, now, zone });
  const segments = tables.filter((by): by is `segment:${string}` => by.startsWith('segment:'));
  const plain = tables.filter((by) => !by.startsWith('segment:'));
  const report = wholeReport(await memory.met(asked), options, { tables: plain, to, ...(points ? { points } : {}) });
  const bySegment: WholeReport['by'][number][] = [];
  for (const by of segments) {
    const met = await memory.met({ ...asked, segment: by.slice('segment:'.length) });
    bySegment.push({ by, rows: rowsBy(met, by, options) });
  }
  return { ...report, by: tables.flatMap((by) => [...report.by, ...bySegment].filter((one) => one.by === by)) };
}

/** What a sample lets one expect, where there are many visits. */
async function expected(memory: SiteMemory, task: Extract<Task, { kind: 'rehearse' }>): Promise<Rehearsed | undefined> {
  const sample = await memory.sample(task.days);
  if (!sample) return undefined;
  for await (const part of rehearsal(sample.stage, task)) if (part) return expectedOf(part, sample.whole);
  return undefined;
}

async function* rehearsal(stage: Stage, { campaign, live }: Extract<Task, { kind: 'rehearse' }>): AsyncGenerator<Rehearsed | undefined> {
  const { columns, origin, judge, sets, budget, asOf, names } = stage;
  const started = performance.now();
  const visitId = (visit: number): string =>
    origin.visitors.at(origin.visitor[visit] as number)?.visitIds[origin.visit[visit] as number] ?? '';
  const stages = reportInStages(campaign, { columns, judge, sets, names, live, ...(live.length ? { budget } : {}) });
  for (const report of stages) yield report && rehearsedOf(report, { visitId, asOf, ms: Math.round(performance.now() - started) });
}
