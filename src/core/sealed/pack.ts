// A chunk as bytes: each byte of a column's numbers stands together with the same byte of the others, rising numbers are told by how much
// they rise, and the whole is gzipped. Timelines are bytes of their own, because most questions do without. The dictionaries' entries that are
// referred to go with them, so that each can be read alone.
import { gunzip, gzip } from '../rehearsal/gzip';
import type { Interner } from '../interner';
import { SIGNAL_KINDS } from '../rehearsal/columns';
import type { Chunk, Dictionaries, DictionaryName, HistoryColumns, Timelines } from './chunk';
import { ARRAYS, HISTORY_COLUMNS, keyOf, pageEntry, TIMELINE_COLUMNS } from './chunk';
import type { ResultNameList, ResultNames, ResultsDay } from './resultsDay';
import { RESULT_COLUMNS } from './resultsDay';

const VERSION = 2;

type Numbers = Uint8Array | Uint16Array | Uint32Array | Float64Array;
type ByName = Readonly<Record<string, Numbers>>;

/** How some columns are written: their kinds, in this order, and which of them refer to a dictionary. */
interface Layout {
  readonly columns: Readonly<Record<string, readonly [keyof typeof ARRAYS, 'rising' | 'any']>>;
  readonly refers: readonly (readonly [DictionaryName | ResultNameList, string])[];
}

const HISTORY: Layout = {
  columns: HISTORY_COLUMNS,
  refers: [
    ['pages', 'page'],
    ['sources', 'source'],
    ['places', 'place'],
    ['weathers', 'weather'],
    ['events', 'event'],
    ['changes', 'change'],
    ['responses', 'response'],
  ],
};
const TIMELINES: Layout = {
  columns: TIMELINE_COLUMNS,
  refers: [
    ['watched', 'watched'],
    ['arguments', 'argument'],
  ],
};

const RESULTS: Layout = {
  columns: RESULT_COLUMNS,
  refers: [
    ['met', 'met'],
    ['arrivals', 'arrival'],
    ['paths', 'path'],
    ['came', 'came'],
  ],
};

/** What a layout refers to. */
type Known = Dictionaries | ResultNames;
const listOf = (known: Known, name: DictionaryName | ResultNameList): Interner<unknown> =>
  (known as unknown as Readonly<Record<string, Interner<unknown>>>)[name] as Interner<unknown>;

interface Head {
  readonly version: number;
  readonly dayStart: number;
  readonly lengths: readonly number[];
  /** By the layout's order; `null` stands for an entry that is not available. */
  readonly entries: readonly (readonly unknown[])[];
}

/** Takes gzip off; where many are read a platform may have something quicker than the streams that all have. */
export type Inflate = (packed: Uint8Array) => Promise<Uint8Array>;

export interface PackedChunk {
  readonly history: Uint8Array;
  readonly timelines: Uint8Array;
}

/** @throws where the chunk has no timelines */
export async function packChunk(chunk: Chunk, known: Dictionaries): Promise<PackedChunk> {
  const { dayStart, timelines, ...history } = chunk;
  if (!timelines) throw new Error('timelines: expected, to be packed with the chunk');
  return {
    history: await packColumns(HISTORY, dayStart, history satisfies HistoryColumns, known),
    timelines: await packColumns(TIMELINES, dayStart, { ...timelines }, known),
  };
}

/** Without its timelines. @throws where the bytes are not what `packChunk` writes. */
export async function unpackHistory(packed: Uint8Array, known: Dictionaries, inflate: Inflate = gunzip): Promise<Chunk> {
  const { dayStart, columns } = await unpackColumns(HISTORY, packed, { known, inflate });
  return { ...(columns as unknown as HistoryColumns), dayStart, timelines: undefined };
}

/** @throws where the bytes are not what `packChunk` writes. */
export async function unpackTimelines(packed: Uint8Array, known: Dictionaries, inflate: Inflate = gunzip): Promise<Timelines> {
  return (await unpackColumns(TIMELINES, packed, { known, inflate })).columns as unknown as Timelines;
}

export const packResults = ({ dayStart, ...columns }: ResultsDay, names: ResultNames): Promise<Uint8Array> =>
  packColumns(RESULTS, dayStart, columns, names);

/** @throws where the bytes are not what `packResults` writes. */
export async function unpackResults(packed: Uint8Array, names: ResultNames): Promise<ResultsDay> {
  const { dayStart, columns } = await unpackColumns(RESULTS, packed, { known: names, inflate: gunzip });
  return { ...(columns as unknown as Omit<ResultsDay, 'dayStart'>), dayStart };
}

async function packColumns({ columns, refers }: Layout, dayStart: number, values: ByName, known: Known): Promise<Uint8Array> {
  const renumbered: Record<string, Numbers> = { ...values };
  const entries = refers.map(([name, column]) => {
    const local = new Map<number, number>();
    const list: unknown[] = [];
    renumbered[column] = mapped(column, values, (index) => {
      let place = local.get(index);
      if (place === undefined) {
        place = list.push(listOf(known, name).list[index] ?? null) - 1;
        local.set(index, place);
      }
      return place;
    });
    return list;
  });
  const names = Object.keys(columns);
  const head: Head = { version: VERSION, dayStart, lengths: names.map((name) => values[name]?.length ?? 0), entries };
  const bytes = new TextEncoder().encode(JSON.stringify(head));
  const size = new Uint8Array(4);
  new DataView(size.buffer).setUint32(0, bytes.length);
  return gzip([
    size,
    bytes,
    ...names.map((name) =>
      planes(columns[name]?.[1] === 'rising' ? rises(renumbered[name] as Uint32Array) : (renumbered[name] as Numbers)),
    ),
  ]);
}

async function unpackColumns(
  { columns, refers }: Layout,
  packed: Uint8Array,
  { known, inflate }: { known: Known; inflate: Inflate },
): Promise<{ dayStart: number; columns: Record<string, Numbers> }> {
  const bytes = await inflate(packed);
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0);
  const head = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + length))) as Head;
  if (head.version !== VERSION) throw new Error(`version: met ${head.version}, expected ${VERSION}`);
  let offset = 4 + length;
  const out: Record<string, Numbers> = {};
  Object.entries(columns).forEach(([name, [of, order]], index) => {
    const kind = ARRAYS[of];
    const wanted = (head.lengths[index] ?? 0) * kind.BYTES_PER_ELEMENT;
    if (offset + wanted > bytes.length) throw new Error(`${name}: met ${bytes.length - offset} bytes, expected ${wanted}`);
    const values = unplanes(bytes.subarray(offset, offset + wanted), of);
    out[name] = order === 'rising' ? risen(values as Uint32Array) : values;
    offset += wanted;
  });
  refers.forEach(([name, column], nth) => {
    const places = Uint32Array.from(head.entries[nth] ?? [], (value) => placeIn(known, name, value ?? undefined));
    out[column] = mapped(column, out, (index) => places[index] ?? 0);
  });
  return { dayStart: head.dayStart, columns: out };
}

function placeIn(known: Known, name: DictionaryName | ResultNameList, value: unknown): number {
  if (name === 'pages') return pageEntry(known as Dictionaries, value as Parameters<typeof pageEntry>[1]);
  return listOf(known, name).indexOf(keyOf(value), () => value);
}

const REFERRING = SIGNAL_KINDS.map((kind) => kind === 'click' || kind === 'seen' || kind === 'event');

/** Of signals only some kinds refer to an entry; the argument of the others is a number of its own. */
function mapped(column: string, columns: ByName, place: (index: number) => number): Uint32Array {
  const values = columns[column] as Uint32Array;
  const kinds = column === 'argument' ? (columns['kind'] as Uint8Array) : undefined;
  const out = new Uint32Array(values.length);
  for (let nth = 0; nth < values.length; nth++) {
    const value = values[nth] as number;
    out[nth] = kinds && !REFERRING[kinds[nth] as number] ? value : place(value);
  }
  return out;
}

/** Less than the one before goes round: the sum goes round, too. */
function rises(values: Uint32Array): Uint32Array {
  const out = new Uint32Array(values.length);
  let before = 0;
  for (let index = 0; index < values.length; index++) {
    out[index] = (values[index] as number) - before;
    before = values[index] as number;
  }
  return out;
}

function risen(values: Uint32Array): Uint32Array {
  for (let index = 1; index < values.length; index++) values[index] = (values[index] as number) + (values[index - 1] as number);
  return values;
}

function planes({ buffer, byteOffset, byteLength, BYTES_PER_ELEMENT: width }: Numbers): Uint8Array {
  const from = new Uint8Array(buffer, byteOffset, byteLength);
  const out = new Uint8Array(byteLength);
  const length = byteLength / width;
  for (let byte = 0; byte < width; byte++)
    for (let index = 0; index < length; index++) out[byte * length + index] = from[index * width + byte] as number;
  return out;
}

/** Whole numbers at a time where a number has four bytes, as most have: a million of them are read with each day. */
function unplanes(from: Uint8Array, of: keyof typeof ARRAYS): Numbers {
  const kind = ARRAYS[of];
  const width = kind.BYTES_PER_ELEMENT;
  const length = from.length / width;
  if (width === 4 || width === 8) {
    const out = new kind(length);
    const words = new Uint32Array(out.buffer);
    const step = width / 4;
    for (let half = 0; half < step; half++) {
      const at = half * 4 * length;
      const [a, b, c, d] = [0, 1, 2, 3].map((plane) => from.subarray(at + plane * length, at + (plane + 1) * length)) as [
        Uint8Array,
        Uint8Array,
        Uint8Array,
        Uint8Array,
      ];
      for (let index = 0; index < length; index++)
        words[index * step + half] =
          (a[index] as number) | ((b[index] as number) << 8) | ((c[index] as number) << 16) | ((d[index] as number) << 24);
    }
    return out;
  }
  // Bytes of their own: a part of what was unpacked, as some platforms slice it, would keep all of that in memory.
  if (width === 1) return new Uint8Array(from);
  const out = new Uint8Array(from.length);
  for (let byte = 0; byte < width; byte++)
    for (let index = 0; index < length; index++) out[index * width + byte] = from[byte * length + index] as number;
  return new kind(out.buffer);
}
