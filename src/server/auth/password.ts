import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';

// OWASP's recommended scrypt cost (2023): N = 2^17, r = 8, p = 1.
const COST = { N: 2 ** 17, r: 8, p: 1 };
const LENGTH = 32;
/** Each takes 128 MB and a third of a second. */
const MOST_AT_ONCE = 2;
const MOST_WAITING = 30;

/** So many are signing in at once that this one had better come again. */
export class TooManyAtOnce extends Error {}

let hashing = 0;
const waiting: (() => void)[] = [];

async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (hashing >= MOST_AT_ONCE) {
    if (waiting.length >= MOST_WAITING) throw new TooManyAtOnce('Too many sign in at once');
    await new Promise<void>((resolve) => waiting.push(resolve));
  } else hashing++;
  try {
    return await work();
  } finally {
    const next = waiting.shift();
    if (next) next();
    else hashing--;
  }
}

/** @throws TooManyAtOnce */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const hash = await derive(password, { salt, ...COST });
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), hash.toString('base64url')].join(':');
}

/** Takes as long for a person that does not exist (`stored` undefined) as for a wrong password. @throws TooManyAtOnce */
export async function isPassword(password: string, stored: string | undefined): Promise<boolean> {
  const [scheme, N, r, p, salt, hash] = (stored ?? '').split(':');
  if (scheme !== 'scrypt' || !salt || !hash) {
    await derive(password, { salt: randomBytes(16), ...COST });
    return false;
  }
  const expected = Buffer.from(hash, 'base64url');
  const met = await derive(password, { salt: Buffer.from(salt, 'base64url'), N: Number(N), r: Number(r), p: Number(p) });
  return met.length === expected.length && timingSafeEqual(met, expected);
}

const derive = (password: string, { salt, N, r, p }: { salt: Buffer; N: number; r: number; p: number }): Promise<Buffer> =>
  inTurn(
    () =>
      new Promise((resolve, reject) => {
        scrypt(password.normalize('NFKC'), salt, LENGTH, { N, r, p, maxmem: 256 * N * r }, (cause, key) =>
          cause ? reject(cause) : resolve(key),
        );
      }),
  );

export const SHORTEST_PASSWORD = 10;
const LONGEST_PASSWORD = 1000;
/** Of 0 to 4: more than 10^6 guesses. */
const WEAKEST = 2;
let strength: ZxcvbnFactory | undefined;

/** What is wrong with a password that somebody chooses, in words; undefined where nothing is. `about`: what others know of them. */
export function weakness(password: string, about: readonly string[]): string | undefined {
  if (password.length < SHORTEST_PASSWORD) return `met ${password.length} characters, expected at least ${SHORTEST_PASSWORD}`;
  if (password.length > LONGEST_PASSWORD) return `met ${password.length} characters, expected at most ${LONGEST_PASSWORD}`;
  strength ??= new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs });
  const { score } = strength.check(password.slice(0, 100), [
    'crindle',
    ...about.flatMap((word) => [word, ...word.split(/[^\p{L}\p{N}]+/u)]),
  ]);
  return score < WEAKEST ? 'met one that is among the first to be tried, expected some words that do not belong together' : undefined;
}
