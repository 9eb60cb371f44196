import { Interner } from '../interner';
import type { Page } from '../pages/address';
import type { Argument, Columns } from '../rehearsal/columns';
import { MOST_TOWNS, SIGNAL_KINDS, townOf, UNKNOWN, withSumsBefore } from '../rehearsal/columns';
import type { Chunk, Dictionaries } from './chunk';
import { timelinesOf } from './chunk';
import type { Attributes } from './people';

/** Visits to rehearse, by visitor and time: in which chunk and row each stands, and whose which visit it is. */
export interface ChosenVisits {
  readonly chunk: Uint16Array;
  readonly row: Uint32Array;
  readonly nthVisitor: Uint32Array;
  readonly nthVisit: Uint32Array;
  readonly visitor: readonly number[];
  readonly firstVisit: readonly number[];
  readonly visits: number;
  readonly views: number;
  readonly signals: number;
}

/** Copies visits out of chunks into columns of their own; `view` says which of its visit's views each is. */
export function fillColumns(
  chosen: ChosenVisits,
  {
    chunks,
    known,
    attributesOf,
  }: { chunks: readonly Chunk[]; known: Dictionaries; attributesOf: (visitor: number) => Attributes | undefined },
): { columns: Columns; view: Uint32Array } {
  const { sources, places } = known;
  const [devices, channels, towns] = [new Interner<string>(), new Interner<string>(), new Interner<string>()];
  const word = (list: Interner<string>, text: string): number => list.indexOf(text, () => text);
  const used = { pages: new Used<Page>(), watched: new Used<readonly string[] | undefined>(), arguments: new Used<Argument>() };
  const { visits, views, signals } = chosen;
  const out = {
    visitor: Uint32Array.from(chosen.visitor),
    firstVisit: Uint32Array.from(chosen.firstVisit),
    visitAt: new Float64Array(visits),
    device: new Uint8Array(visits),
    channel: new Uint8Array(visits),
    town: new Uint16Array(visits),
    firstView: new Uint32Array(visits + 1),
    viewAt: new Float64Array(views),
    page: new Uint32Array(views),
    leave: new Uint32Array(views),
    flags: new Uint8Array(views),
    watched: new Uint32Array(views),
    kinds: new Uint16Array(views),
    depth: new Uint8Array(views),
    engagedMs: new Uint32Array(views),
    clicks: new Uint16Array(views),
    firstSignal: new Uint32Array(views + 1),
    t: new Uint32Array(signals),
    kind: new Uint8Array(signals),
    argument: new Uint32Array(signals),
  };
  const originView = new Uint32Array(views);
  let [view, signal] = [0, 0];
  for (let visit = 0; visit < visits; visit++) {
    const from = chunks[chosen.chunk[visit] as number] as Chunk;
    const played = timelinesOf(from);
    const row = chosen.row[visit] as number;
    const visitor = out.visitor[chosen.nthVisitor[visit] as number] as number;
    out.visitAt[visit] = from.visitAt[row] as number;
    out.device[visit] = word(devices, attributesOf(visitor)?.device?.category ?? UNKNOWN);
    out.channel[visit] = word(channels, sources.list[from.source[row] as number]?.channel ?? UNKNOWN);
    out.town[visit] = word(towns, towns.list.length < MOST_TOWNS ? townOf(places.list[from.place[row] as number]) : UNKNOWN);
    const [first, end] = [from.firstView[row] as number, from.firstView[row + 1] as number];
    for (let one = first; one < end; one++, view++) {
      originView[view] = one - first;
      out.page[view] = used.pages.place(from.page[one] as number);
      out.watched[view] = used.watched.place(played.watched[one] as number);
      const shift = signal - (played.firstSignal[one] as number);
      const upTo = played.firstSignal[one + 1] as number;
      for (let nth = played.firstSignal[one] as number; nth < upTo; nth++) {
        const kind = played.kind[nth] as number;
        const argument = played.argument[nth] as number;
        out.argument[nth + shift] = REFERS & (1 << kind) ? used.arguments.place(argument) : argument;
      }
      signal += upTo - (played.firstSignal[one] as number);
      out.firstSignal[view + 1] = signal;
    }
    const at = view - (end - first);
    out.viewAt.set(from.viewAt.subarray(first, end), at);
    out.leave.set(from.leave.subarray(first, end), at);
    for (const name of BY_VIEW) out[name].set(played[name].subarray(first, end), at);
    const signals = [played.firstSignal[first] as number, played.firstSignal[end] as number] as const;
    for (const name of BY_SIGNAL) out[name].set(played[name].subarray(...signals), signal - (signals[1] - signals[0]));
    out.firstView[visit + 1] = view;
  }
  const columns = withSumsBefore({
    ...out,
    pages: used.pages.of(known.pages.list),
    watchLists: used.watched.of(known.watched.list),
    arguments: used.arguments.of(known.arguments.list),
    devices: devices.list,
    channels: channels.list,
    towns: towns.list,
  });
  return { columns, view: originView };
}

const BY_VIEW = ['flags', 'kinds', 'depth', 'engagedMs', 'clicks'] as const;
const BY_SIGNAL = ['t', 'kind'] as const;
/** Kinds of signal that refer to the dictionary of arguments, as bits. */
const REFERS = (['click', 'seen', 'event'] as const).reduce((bits, kind) => bits | (1 << SIGNAL_KINDS.indexOf(kind)), 0);

/** Which entries of a dictionary are used, in the order in which they were met. */
class Used<T> {
  readonly #places = new Map<number, number>();

  place(index: number): number {
    let place = this.#places.get(index);
    if (place === undefined) this.#places.set(index, (place = this.#places.size));
    return place;
  }

  of(list: readonly T[]): T[] {
    return Array.from(this.#places.keys(), (index) => list[index] as T);
  }
}
