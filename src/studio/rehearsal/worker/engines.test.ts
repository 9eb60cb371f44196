import fc from 'fast-check';
import type { Rehearsed, RehearsalQuestion } from '@/core/rehearsal/rehearsed';
import type { Engines, Happening, Todo } from './engines';
import { happen, NO_ENGINES } from './engines';

const question: RehearsalQuestion = { campaign: 'c', place: 'overlay', rule: {}, days: 30, withOthers: false };
const report = { sure: 1 } as Rehearsed;

/** Plays happenings one after the other; what was to be done for each. */
function play(happenings: readonly Happening[]): { engines: Engines; todos: Todo[][] } {
  let engines = NO_ENGINES;
  const todos = happenings.map((happening) => {
    const [after, todo] = happen(engines, happening);
    engines = after;
    return [...todo];
  });
  return { engines, todos };
}

const asked = (ask: number): Happening => ({ kind: 'asked', ask, question });
const isUp: Happening = { kind: 'workerSaid', message: { isUp: true } };

test('the first question starts the worker and goes to the server; the next goes to the worker', () => {
  const { todos } = play([asked(1), isUp, { kind: 'left', ask: 1 }, asked(2)]);
  expect(todos).toEqual([
    [{ do: 'startWorker' }, { do: 'tellWorker', message: { prepare: question } }, { do: 'askServer', ask: 1, question }],
    [],
    [{ do: 'leaveServer', ask: 1 }],
    [{ do: 'tellWorker', message: { ask: 2, question } }],
  ]);
});

test('what the worker cannot answer goes to the server, and what the worker still says of it is not heard', () => {
  const { todos } = play([
    asked(1),
    isUp,
    asked(2),
    { kind: 'workerSaid', message: { ask: 2, beyond: 'too many visits' } },
    { kind: 'workerSaid', message: { ask: 2, report, isLast: true } },
    { kind: 'serverReported', ask: 2, report },
    { kind: 'serverEnded', ask: 2 },
  ]);
  expect(todos.slice(3)).toEqual([
    [{ do: 'askServer', ask: 2, question }],
    [],
    [expect.objectContaining({ do: 'report', ask: 2, report })],
    [{ do: 'end', ask: 2 }],
  ]);
});

test('when the worker fails, its questions go to the server, and it is not started again', () => {
  const { engines, todos } = play([asked(1), isUp, asked(2), { kind: 'workerFailed' }, asked(3), { kind: 'returned' }]);
  expect(todos.slice(3)).toEqual([
    [{ do: 'endWorker' }, { do: 'askServer', ask: 2, question }],
    [{ do: 'askServer', ask: 3, question }],
    [],
  ]);
  expect(engines.worker).toBe('failed');
});

test('a change is told to whoever looks at a report, also after it has come to its end', () => {
  const { todos } = play([
    asked(1),
    isUp,
    { kind: 'serverEnded', ask: 1 },
    asked(2),
    { kind: 'workerSaid', message: { changed: true } },
    { kind: 'left', ask: 1 },
    { kind: 'workerSaid', message: { changed: true } },
  ]);
  expect(todos[4]).toEqual([
    { do: 'askAgain', ask: 1 },
    { do: 'askAgain', ask: 2 },
  ]);
  expect(todos[6]).toEqual([{ do: 'askAgain', ask: 2 }]);
});

test('whatever happens in whatever order: nobody is told of a question that was left, and each question is at one engine', () => {
  const ask = fc.integer({ min: 1, max: 4 });
  const happening: fc.Arbitrary<Happening> = fc.oneof(
    ask.map(asked),
    ask.map((one): Happening => ({ kind: 'left', ask: one })),
    fc.constantFrom<Happening>(isUp, { kind: 'returned' }, { kind: 'workerFailed' }, { kind: 'workerSaid', message: { changed: true } }),
    fc.record({ ask, isLast: fc.boolean() }).map((said): Happening => ({ kind: 'workerSaid', message: { ...said, report } })),
    ask.map((one): Happening => ({ kind: 'workerSaid', message: { ask: one, beyond: 'it' } })),
    ask.map((one): Happening => ({ kind: 'workerSaid', message: { ask: one, failed: 'it' } })),
    ask.map((one): Happening => ({ kind: 'serverReported', ask: one, report })),
    ask.map((one): Happening => ({ kind: 'serverEnded', ask: one })),
  );
  fc.assert(
    fc.property(fc.array(happening, { maxLength: 40 }), (happenings) => {
      let engines = NO_ENGINES;
      const atServer = new Set<number>();
      let hasWorker = false;
      for (const one of happenings) {
        // Numbers are given once.
        if (one.kind === 'asked' && engines.asked.has(one.ask)) continue;
        const [after, todos] = happen(engines, one);
        for (const todo of todos) {
          if (todo.do === 'startWorker') hasWorker = true;
          if (todo.do === 'endWorker') hasWorker = false;
          if (todo.do === 'tellWorker') expect(hasWorker).toBe(true);
          if (todo.do === 'askServer') atServer.add(todo.ask);
          if (todo.do === 'leaveServer') expect(atServer.delete(todo.ask)).toBe(true);
          if (todo.do === 'report' || todo.do === 'end' || todo.do === 'askAgain') expect(after.asked.has(todo.ask)).toBe(true);
        }
        for (const [number, { at }] of after.asked) expect(atServer.has(number)).toBe(at === 'server');
        engines = after;
      }
    }),
    { numRuns: 2000 },
  );
});
