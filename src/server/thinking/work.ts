import { judgeEveryone } from '@/core/counting/countPeople';
import { contributions, overlaps, segmentLine, segmentLines } from '@/core/counting/sizes';
import type { RehearsedShowing } from '@/core/rehearsal/rehearse';
import { reportInStages } from '@/core/rehearsal/report';
import { rehearseTogether } from '@/core/rehearsal/together';
import type { Path } from '@/core/rules/expr';
import type { SiteMemory, Stage } from './site';
import type { AnswerTo, Rehearsed, Size, Spot, Task } from './task';

const SAMPLE = 200;
/** Showings that go to the screen; all of them are counted. */
const MOST_SPOTS = 60;

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
      yield task.segments.map((segment) => sizeOf(judgeEveryone(segment, input)));
      return;
    }
    case 'lines':
      for (const lines of segmentLines(task.segments, await memory.counting(), task.days)) yield lines;
      return;
    case 'takes':
      yield contributions(task.segment, await memory.counting());
      return;
    case 'overlap':
      yield overlaps(task.segments, await memory.counting());
      return;
    case 'line': {
      for (const line of segmentLine(task.segment, await memory.counting(), task.days)) yield line;
      return;
    }
    case 'visits': {
      const found = await memory.findVisits(task);
      yield { visits: found.visits.length, visitors: found.visitors, ids: found.visits.slice(task.from, task.from + task.count) };
      return;
    }
    case 'together': {
      const { columns, judge, sets } = await memory.stage(task.days);
      yield* rehearseTogether(task.campaigns, { columns, judge, sets, budget: task.budget });
      return;
    }
    case 'rehearse':
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

async function* rehearsal(stage: Stage, { campaign, live }: Extract<Task, { kind: 'rehearse' }>): AsyncGenerator<Rehearsed | undefined> {
  const { columns, origin, judge, sets, budget, asOf, names } = stage;
  const started = performance.now();
  const spot = ({ visit, view, at }: Pick<RehearsedShowing, 'visit' | 'view' | 'at'>, path?: Path): Spot => {
    const visitor = origin.visitors[origin.visitor[visit] as number];
    const nth = origin.visit[visit] as number;
    return {
      visit: visitor?.visitIds[nth] ?? '',
      view: visitor?.viewIds[nth]?.[origin.view[view] as number] ?? '',
      visitor: visitor?.id ?? 0,
      at,
      ...(path ? { path } : {}),
    };
  };
  const stages = reportInStages(campaign, {
    columns,
    judge,
    sets,
    names,
    live,
    ...(live.length ? { budget } : {}),
  });
  for (const stage of stages) {
    if (!stage) {
      yield undefined;
      continue;
    }
    const { showings, nearMisses, ...report } = stage;
    yield {
      ...report,
      showings: showings.slice(-MOST_SPOTS).map((one) => spot(one)),
      nearMisses: nearMisses.slice(-MOST_SPOTS).map((one) => spot(one, one.path)),
      asOf,
      ms: Math.round(performance.now() - started),
    };
  }
}
