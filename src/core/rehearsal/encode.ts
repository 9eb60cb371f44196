// Columns on the wire: of each number only what the ones before it do not tell is sent, each byte of a column's numbers stands
// together with the same byte of the others, and the whole is gzipped. Plain platform streams, so that it runs in Node and in a worker.
import type { Columns, RecordedColumns } from './columns';
import { SIGNAL_KINDS, withSummaries } from './columns';
import { gunzip, gzip } from './gzip';

type Numbers = ArrayLike<number>;
type NumericColumn = {
  [K in keyof RecordedColumns]: RecordedColumns[K] extends Uint8Array | Uint16Array | Uint32Array | Float64Array ? K : never;
}[keyof RecordedColumns];
const LISTS = ['pages', 'watchLists', 'arguments', 'devices', 'channels', 'towns'] as const;

/** How each column is written, in this order, and the bytes a number; what a column is foretold from stands before it. */
const LAYOUT: readonly (readonly [NumericColumn, 1 | 2 | 4 | 8])[] = [
  ['visitor', 4],
  ['firstVisit', 4],
  ['firstView', 4],
  ['firstSignal', 4],
  ['kind', 1],
  ['t', 4],
  ['argument', 4],
  ['leave', 4],
  ['visitAt', 8],
  ['viewAt', 8],
  ['device', 1],
  ['channel', 1],
  ['town', 2],
  ['page', 4],
  ['flags', 1],
  ['watched', 4],
];

export async function encodeColumns(columns: Columns): Promise<Uint8Array> {
  const parts = LAYOUT.map(([name, bytes]) => planes(toWire(name, columns), bytes));
  const head = new TextEncoder().encode(
    JSON.stringify({
      lengths: LAYOUT.map(([name]) => columns[name].length),
      ...Object.fromEntries(LISTS.map((name) => [name, columns[name].map((one) => one ?? null)])),
    }),
  );
  const size = new Uint8Array(4);
  new DataView(size.buffer).setUint32(0, head.length);
  return gzip([size, head, ...parts]);
}

/** @throws where the bytes are not what `encodeColumns` writes. */
export async function decodeColumns(packed: Uint8Array): Promise<Columns> {
  const bytes = await gunzip(packed);
  const headLength = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0);
  const head = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + headLength))) as {
    lengths: number[];
    watchLists: (string[] | null)[];
  } & Pick<RecordedColumns, 'pages' | 'arguments' | 'devices' | 'channels' | 'towns'>;
  let offset = 4 + headLength;
  const { lengths, ...lists } = head;
  const columns: Record<string, unknown> = { ...lists, watchLists: lists.watchLists.map((list) => list ?? undefined) };
  LAYOUT.forEach(([name, width], index) => {
    const length = lengths[index] ?? 0;
    const values = unplanes(bytes.subarray(offset, offset + length * width), { length, width });
    columns[name] = fromWire(name, values, columns as unknown as RecordedColumns);
    offset += length * width;
  });
  return withSummaries(columns as unknown as RecordedColumns);
}

function toWire(name: NumericColumn, columns: Columns): Numbers {
  const values = columns[name];
  switch (name) {
    case 'visitor':
    case 'firstVisit':
    case 'firstView':
    case 'firstSignal':
    case 'visitAt':
      return Float64Array.from(values, (value, index) => zigzag(value - (index ? (values[index - 1] as number) : 0)));
    case 't':
    case 'argument':
      return bySequence(columns, (index, before) => zigzag((values[index] as number) - foretold(name, columns, index, before)));
    case 'leave':
      return Float64Array.from(values, (value, view) => value - lastSignalOf(columns, view));
    case 'viewAt':
      return eachView(columns, (view, first, visit) => zigzag((values[view] as number) - openingForetold(columns, view, first, visit)));
    case 'device':
    case 'channel':
    case 'town':
    case 'kind':
    case 'page':
    case 'flags':
    case 'watched':
      return values;
  }
}

function fromWire(name: NumericColumn, sent: Float64Array, columns: RecordedColumns): Numbers {
  switch (name) {
    case 'visitor':
    case 'firstVisit':
    case 'firstView':
    case 'firstSignal':
      return Uint32Array.from(sums(sent));
    case 'visitAt':
      return sums(sent);
    case 't':
    case 'argument': {
      const out = new Uint32Array(sent.length);
      const places = sequencePlaces(columns);
      const known = { ...columns, [name]: out };
      eachSignal(columns, (index, before) => {
        out[index] = unzigzag(sent[places[index] as number] as number) + foretold(name, known, index, before);
      });
      return out;
    }
    case 'leave':
      return Uint32Array.from(sent, (value, view) => value + lastSignalOf(columns, view));
    case 'viewAt': {
      const known = { ...columns, viewAt: sent };
      eachView(columns, (view, first, visit) => {
        sent[view] = unzigzag(sent[view] as number) + openingForetold(known, view, first, visit);
        return 0;
      });
      return sent;
    }
    case 'page':
    case 'watched':
      return Uint32Array.from(sent);
    case 'town':
      return Uint16Array.from(sent);
    case 'device':
    case 'channel':
    case 'kind':
    case 'flags':
      return Uint8Array.from(sent);
  }
}

const SCROLL = SIGNAL_KINDS.indexOf('scroll');
const NONE = -1;

/** What the signals before one say of it: its instant is at first that of the one before, a depth that of the scroll before. */
function foretold(name: 't' | 'argument', { t, argument, kind }: RecordedColumns, index: number, before: Before): number {
  if (name === 't') return before.signal === NONE ? 0 : (t[before.signal] as number);
  return kind[index] === SCROLL && before.scroll !== NONE ? (argument[before.scroll] as number) : 0;
}

/** Indices of the signals of the same view that stand before one, or `NONE`. */
interface Before {
  signal: number;
  scroll: number;
}

function eachSignal({ firstSignal, kind }: RecordedColumns, work: (index: number, before: Before) => void): void {
  const before: Before = { signal: NONE, scroll: NONE };
  for (let view = 0; view + 1 < firstSignal.length; view++) {
    before.signal = before.scroll = NONE;
    for (let index = firstSignal[view] as number; index < (firstSignal[view + 1] as number); index++) {
      work(index, before);
      before.signal = index;
      if (kind[index] === SCROLL) before.scroll = index;
    }
  }
}

/**
 * Where each signal stands on the wire: those of one kind after one of another are sent together, because the times between
 * them are alike (a hand moves and the page scrolls at once; a scroll follows a scroll a second later).
 */
function sequencePlaces(columns: RecordedColumns): Uint32Array {
  const { kind } = columns;
  const sequence = (index: number, { signal }: Before): number =>
    (kind[index] as number) * (SIGNAL_KINDS.length + 1) + (signal === NONE ? SIGNAL_KINDS.length : (kind[signal] as number));
  const next = new Uint32Array(SIGNAL_KINDS.length * (SIGNAL_KINDS.length + 1) + 1);
  const count = (of: number, more: number): number => {
    const now = next[of] as number;
    next[of] = now + more;
    return now;
  };
  eachSignal(columns, (index, before) => void count(sequence(index, before) + 1, 1));
  for (let of = 1; of < next.length; of++) count(of, next[of - 1] as number);
  const places = new Uint32Array(kind.length);
  eachSignal(columns, (index, before) => (places[index] = count(sequence(index, before), 1)));
  return places;
}

function bySequence(columns: RecordedColumns, value: (index: number, before: Before) => number): Float64Array {
  const places = sequencePlaces(columns);
  const out = new Float64Array(places.length);
  eachSignal(columns, (index, before) => (out[places[index] as number] = value(index, before)));
  return out;
}

const lastSignalOf = ({ firstSignal, t }: RecordedColumns, view: number): number =>
  (firstSignal[view] as number) < (firstSignal[view + 1] as number) ? (t[(firstSignal[view + 1] as number) - 1] as number) : 0;

/** A page opens when its visit starts, or about when the page before it is left. */
function openingForetold({ visitAt, viewAt, leave }: RecordedColumns, view: number, first: number, visit: number): number {
  return view === first ? (visitAt[visit] as number) : (viewAt[view - 1] as number) + (leave[view - 1] as number);
}

function eachView({ firstView }: RecordedColumns, value: (view: number, first: number, visit: number) => number): Float64Array {
  const out = new Float64Array(firstView.at(-1) ?? 0);
  for (let visit = 0; visit + 1 < firstView.length; visit++) {
    const first = firstView[visit] as number;
    for (let view = first; view < (firstView[visit + 1] as number); view++) out[view] = value(view, first, visit);
  }
  return out;
}

function sums(values: Float64Array): Float64Array {
  let sum = 0;
  return values.map((value) => (sum += unzigzag(value)));
}

/** Small numbers of either sign as small numbers without one. */
const zigzag = (value: number): number => (value < 0 ? -2 * value - 1 : 2 * value);
const unzigzag = (value: number): number => (value % 2 ? -(value + 1) / 2 : value / 2);

function planes(values: Numbers, width: number): Uint8Array {
  const out = new Uint8Array(values.length * width);
  for (let index = 0; index < values.length; index++) {
    let rest = values[index] as number;
    for (let byte = 0; byte < width && rest > 0; byte++) {
      out[byte * values.length + index] = rest % 256;
      rest = Math.floor(rest / 256);
    }
  }
  return out;
}

function unplanes(bytes: Uint8Array, { length, width }: { length: number; width: number }): Float64Array {
  const out = new Float64Array(length);
  for (let byte = 0, factor = 1; byte < width; byte++, factor *= 256) {
    const plane = bytes.subarray(byte * length, (byte + 1) * length);
    for (let index = 0; index < length; index++) if (plane[index]) out[index] = (out[index] as number) + (plane[index] as number) * factor;
  }
  return out;
}
