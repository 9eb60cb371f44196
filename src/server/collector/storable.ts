/** Escapes of a zero character and of halves of a pair: legal in JSON, and no text for the database. */
const SUSPECT = /\\u(?:0000|d[89a-f])/i;

/** What was parsed out of a JSON text with everything taken out of its strings, and of its keys, that cannot be stored as text. */
export function storable(value: unknown, text: string): unknown {
  return SUSPECT.test(text) ? cleaned(value) : value;
}

function cleaned(value: unknown): unknown {
  if (typeof value === 'string') return cleanText(value);
  if (Array.isArray(value)) return value.map(cleaned);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([key, part]) => [cleanText(key), cleaned(part)]));
}

/** Half a pair becomes the sign for what cannot be read. */
const HALF = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
const cleanText = (text: string): string => text.replaceAll('\u0000', '').replace(HALF, '\ufffd');
