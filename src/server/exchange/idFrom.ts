import { createHash } from 'node:crypto';

/** An id that is the same for the same thing, so that importing twice is importing once. */
export function idFrom(siteId: number, kind: string, key: string | number): string {
  const hex = createHash('sha256').update(`${siteId} ${kind} ${key}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}
