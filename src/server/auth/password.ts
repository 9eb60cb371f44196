import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';

// OWASP's recommended scrypt cost (2023): N = 2^17, r = 8, p = 1.
const COST = { N: 2 ** 17, r: 8, p: 1 };
const LENGTH = 32;

export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const hash = await derive(password, { salt, ...COST });
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), hash.toString('base64url')].join(':');
}

/** Takes as long for a person that does not exist (`stored` undefined) as for a wrong password. */
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

function derive(password: string, { salt, N, r, p }: { salt: Buffer; N: number; r: number; p: number }): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    scrypt(password.normalize('NFKC'), salt, LENGTH, { N, r, p, maxmem: 256 * N * r }, (cause, key) =>
      cause ? reject(cause) : resolve(key),
    );
  });
}
