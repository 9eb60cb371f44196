import type { VisitorRecord } from '../history/record';
import { signalsOf } from '../rehearsal/columns';
import type { RecordedTimeline, RecordedVisitor } from '../rehearsal/recorded';
import type { Chunk, Dictionaries } from './chunk';
import { timelinesOf, visitIdOf } from './chunk';

/** A visitor whose ids and timelines are read out of the chunks when somebody wants them. */
export class RecordedInChunks implements RecordedVisitor {
  readonly viewIds = [];
  readonly #visits: () => (readonly [Chunk, number])[];
  readonly #known: Dictionaries;
  #timelines: RecordedTimeline[][] | undefined;

  constructor(
    readonly id: number,
    readonly record: VisitorRecord,
    visits: () => (readonly [Chunk, number])[],
    known: Dictionaries,
  ) {
    this.#visits = visits;
    this.#known = known;
  }

  get visitIds(): string[] {
    return this.#visits().map(([chunk, visit]) => visitIdOf(chunk, visit));
  }

  get timelines(): RecordedTimeline[][] {
    return (this.#timelines ??= this.#visits().map(([chunk, visit]) => {
      const played: RecordedTimeline[] = [];
      for (let view = chunk.firstView[visit] as number; view < (chunk.firstView[visit + 1] as number); view++)
        played.push(new TimelineInChunk(chunk, view, this.#known));
      return played;
    }));
  }
}

class TimelineInChunk implements RecordedTimeline {
  readonly #chunk: Chunk;
  readonly #view: number;
  readonly #known: Dictionaries;

  constructor(chunk: Chunk, view: number, known: Dictionaries) {
    this.#chunk = chunk;
    this.#view = view;
    this.#known = known;
  }

  get leave(): number {
    return this.#chunk.leave[this.#view] as number;
  }
  get hidden(): boolean {
    return ((timelinesOf(this.#chunk).flags[this.#view] as number) & 1) !== 0;
  }
  get cannotScroll(): boolean {
    return ((timelinesOf(this.#chunk).flags[this.#view] as number) & 2) !== 0;
  }
  get watched(): readonly string[] | undefined {
    return this.#known.watched.list[timelinesOf(this.#chunk).watched[this.#view] as number];
  }
  get signals(): RecordedTimeline['signals'] {
    return signalsOf({ ...timelinesOf(this.#chunk), arguments: this.#known.arguments.list }, this.#view);
  }
}
