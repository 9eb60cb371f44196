// What the analysis says over HTTP: frames, each with its length before it, of values as the structured clone algorithm writes them: bytes
// stay bytes.
import { deserialize, serialize } from 'node:v8';

/** A frame: what is known so far, the last word, why there is none, or nothing but a sign of life. */
export type Frame =
  | { readonly kind: 'part' | 'last'; readonly value: unknown }
  | { readonly kind: 'failed'; readonly message: string }
  | { readonly kind: 'alive' };

const HEAD_BYTES = 4;
/** No answer comes near this; a length beyond it is not a length. */
const MOST_BYTES = 1_000_000_000;

export function frameOf(frame: Frame): Buffer {
  const body = serialize(frame);
  const head = Buffer.alloc(HEAD_BYTES);
  head.writeUInt32LE(body.length);
  return Buffer.concat([head, body]);
}

/** The frames of a stream, however it was cut. @throws where it ends within a frame, or is none. */
export async function* framesIn(stream: AsyncIterable<Uint8Array>): AsyncGenerator<Frame> {
  let waiting: Uint8Array[] = [];
  let length = 0;
  const needed = (): number => {
    if (length < HEAD_BYTES) return HEAD_BYTES;
    waiting = [Buffer.concat(waiting)];
    const body = (waiting[0] as Buffer).readUInt32LE(0);
    if (body > MOST_BYTES) throw new Error(`A frame of ${body} bytes, expected at most ${MOST_BYTES}`);
    return HEAD_BYTES + body;
  };
  let wanted = HEAD_BYTES;
  for await (const bytes of stream) {
    waiting.push(bytes);
    length += bytes.length;
    while (length >= wanted) {
      wanted = needed();
      if (length < wanted) break;
      const all = Buffer.concat(waiting);
      yield deserialize(all.subarray(HEAD_BYTES, wanted)) as Frame;
      const rest = all.subarray(wanted);
      [waiting, length, wanted] = [[rest], rest.length, HEAD_BYTES];
    }
  }
  if (length > 0) throw new Error('The answer ended within a frame');
}
