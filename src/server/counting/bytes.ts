/** Little-endian uint32 from base64 texts, one after the other. Copied, because a buffer need not begin on a multiple of four. */
export function numbers(...texts: readonly string[]): Uint32Array {
  const all =
    texts.length === 1 ? Buffer.from(texts[0] as string, 'base64') : Buffer.concat(texts.map((text) => Buffer.from(text, 'base64')));
  return new Uint32Array(new Uint8Array(all).buffer);
}

/** Where each page's views begin, and the end, from pairs of page number and number of views. */
export function offsetsOf(pairs: Uint32Array): Uint32Array {
  const offsets = new Uint32Array(pairs.length / 2 + 1);
  for (let nth = 0; nth < pairs.length / 2; nth++) offsets[nth + 1] = (offsets[nth] as number) + (pairs[nth * 2 + 1] as number);
  return offsets;
}
