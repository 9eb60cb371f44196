/**
 * JSON text of plain values. Not `JSON.stringify`: some pages give arrays or texts a `toJSON` of their own, which would
 * change what is sent. What is undefined is left out, as there; functions are for `cleanValues` to leave out.
 */
export function toJson(value: unknown): string {
  if (value === null || value === undefined) return 'null';
  if (typeof value === 'string') return quote(value);
  if (typeof value !== 'object') return Number.isFinite(value) || typeof value === 'boolean' ? `${value as number | boolean}` : 'null';
  let text = '';
  if (value instanceof Array) {
    for (let index = 0; index < value.length; index++) text += (index ? ',' : '') + toJson(value[index]);
    return `[${text}]`;
  }
  for (const key of Object.keys(value)) {
    const one = (value as Record<string, unknown>)[key];
    if (one !== undefined) text += `${text ? ',' : ''}${quote(key)}:${toJson(one)}`;
  }
  return `{${text}}`;
}

/** Halves of a pair that stand alone are no UTF-8; newer browsers can mend them, and older ones send them as they are. */
const quote = (text: string): string =>
  `"${((text as { toWellFormed?: () => string }).toWellFormed?.() ?? text).replace(/["\\\0-\x1f]/g, (met) => `\\u${met.charCodeAt(0).toString(16).padStart(4, '0')}`)}"`;
