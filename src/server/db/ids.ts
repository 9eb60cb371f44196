import { randomBytes } from 'node:crypto';

const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';

/** "seg_k3m9…": a prefix that says what it is, and ten letters that cannot be mistaken for each other. */
export function newId(prefix: string): string {
  return `${prefix}_${Array.from(randomBytes(10), (byte) => LETTERS[byte % LETTERS.length]).join('')}`;
}
