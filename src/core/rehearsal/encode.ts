// Columns on the wire: numbers that grow are sent as differences, each byte of a column's numbers stands together with the
// same byte of the others, and the whole is gzipped. Plain platform streams, so that it runs in Node and in a worker.
import type { Columns } from './columns';

type Numbers = Columns[NumericColumn];
type NumericColumn = Exclude<keyof Columns, 'pages' | 'watchLists' | 'arguments'>;

/** How each column is written: its bytes a number, and whether differences are sent, counted anew at the starts of a parent. */
const LAYOUT: readonly (readonly [NumericColumn, 1 | 2 | 4 | 8, 'plain' | 'difference' | 'time'])[] = [
  ['visitor', 4, 'difference'],
  ['firstVisit', 4, 'difference'],
  ['visitAt', 8, 'difference'],
  ['firstView', 4, 'difference'],
  ['viewAt', 8, 'difference'],
  ['page', 4, 'plain'],
  ['leave', 4, 'plain'],
  ['flags', 1, 'plain'],
  ['kinds', 1, 'plain'],
  ['depth', 1, 'plain'],
  ['engagedMs', 4, 'plain'],
  ['clicks', 2, 'plain'],
  ['watched', 2, 'plain'],
  ['firstSignal', 4, 'difference'],
  ['t', 4, 'time'],
  ['kind', 1, 'plain'],
  ['argument', 2, 'plain'],
];

export async function encodeColumns(columns: Columns): Promise<Uint8Array> {
  const parts = LAYOUT.map(([name, bytes, how]) => planes(how === 'plain' ? columns[name] : differences(columns[name]), bytes));
  const head = new TextEncoder().encode(
    JSON.stringify({
      lengths: LAYOUT.map(([name]) => columns[name].length),
      pages: columns.pages,
      watchLists: columns.watchLists.map((list) => list ?? null),
      arguments: columns.arguments,
    }),
  );
  const size = new Uint8Array(4);
  new DataView(size.buffer).setUint32(0, head.length);
  return through(new CompressionStream('gzip'), [size, head, ...parts]);
}

export async function decodeColumns(packed: Uint8Array): Promise<Columns> {
  const bytes = await through(new DecompressionStream('gzip'), [packed]);
  const headLength = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0);
  const head = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + headLength))) as {
    lengths: number[];
    pages: Columns['pages'];
    watchLists: (string[] | null)[];
    arguments: Columns['arguments'];
  };
  let offset = 4 + headLength;
  const columns: Record<string, unknown> = {
    pages: head.pages,
    watchLists: head.watchLists.map((list) => list ?? undefined),
    arguments: head.arguments,
  };
  LAYOUT.forEach(([name, width, how], index) => {
    const length = head.lengths[index] ?? 0;
    const values = unplanes(bytes.subarray(offset, offset + length * width), { length, width });
    columns[name] = typed(name, how === 'plain' ? values : sums(values));
    offset += length * width;
  });
  return columns as unknown as Columns;
}

function typed(name: NumericColumn, values: Float64Array): Numbers {
  if (name === 'visitAt' || name === 'viewAt') return values;
  if (name === 'flags' || name === 'kinds' || name === 'depth' || name === 'kind') return Uint8Array.from(values);
  return name === 'clicks' || name === 'watched' || name === 'argument' ? Uint16Array.from(values) : Uint32Array.from(values);
}

function differences(values: Numbers): Float64Array {
  const out = new Float64Array(values.length);
  for (let index = 0; index < values.length; index++)
    out[index] = zigzag((values[index] as number) - (index ? (values[index - 1] as number) : 0));
  return out;
}

function sums(values: Float64Array): Float64Array {
  let sum = 0;
  return values.map((value) => (sum += value % 2 ? -(value + 1) / 2 : value / 2));
}

/** Small numbers of either sign as small numbers without one. */
const zigzag = (value: number): number => (value < 0 ? -2 * value - 1 : 2 * value);

function planes(values: Numbers | Float64Array, width: number): Uint8Array {
  const out = new Uint8Array(values.length * width);
  for (let index = 0; index < values.length; index++) {
    let rest = values[index] as number;
    for (let byte = 0; byte < width; byte++) {
      out[byte * values.length + index] = rest % 256;
      rest = Math.floor(rest / 256);
    }
  }
  return out;
}

function unplanes(bytes: Uint8Array, { length, width }: { length: number; width: number }): Float64Array {
  const out = new Float64Array(length);
  for (let byte = width - 1; byte >= 0; byte--)
    for (let index = 0; index < length; index++) out[index] = (out[index] as number) * 256 + (bytes[byte * length + index] as number);
  return out;
}

async function through(stream: CompressionStream | DecompressionStream, parts: readonly Uint8Array[]): Promise<Uint8Array> {
  const writer = (stream.writable as WritableStream<Uint8Array>).getWriter();
  const read = new Response(stream.readable as ReadableStream).arrayBuffer();
  for (const part of parts) await writer.write(part);
  await writer.close();
  return new Uint8Array(await read);
}
