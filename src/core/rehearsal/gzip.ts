// Plain platform streams, which Node and a worker of a browser both have.

export const gzip = (parts: readonly Uint8Array[]): Promise<Uint8Array> => through(new CompressionStream('gzip'), parts);

/** @throws where the bytes are not gzipped. */
export const gunzip = (packed: Uint8Array): Promise<Uint8Array> => through(new DecompressionStream('gzip'), [packed]);

async function through(stream: CompressionStream | DecompressionStream, parts: readonly Uint8Array[]): Promise<Uint8Array> {
  const writer = (stream.writable as WritableStream<Uint8Array>).getWriter();
  const read = new Response(stream.readable as ReadableStream).arrayBuffer();
  const write = async (): Promise<void> => {
    for (const part of parts) await writer.write(part);
    await writer.close();
  };
  const [bytes] = await Promise.all([read, write()]);
  return new Uint8Array(bytes);
}
