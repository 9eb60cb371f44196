import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';

/** Secrets of connections cannot be kept or read without the key. */
export class NoSecretKey extends Error {
  readonly code = 'secrets.noKey';
  constructor() {
    super(
      'CRINDLE_SECRET_KEY is not set, or is not 32 bytes in base64: secrets of connections cannot be kept or read. ./crindle makes one in its data folder.',
    );
  }
}

const [NONCE, TAG] = [12, 16];

function keyOf(text = process.env['CRINDLE_SECRET_KEY']): Buffer {
  const key = Buffer.from(text ?? '', 'base64');
  if (key.length !== 32) throw new NoSecretKey();
  return key;
}

/** AES-256-GCM: nonce, tag, and what was encrypted. `bound`: what it belongs to; it cannot be read as anybody else's. @throws NoSecretKey */
export function encrypt(secret: string, bound: string): Buffer {
  const nonce = randomBytes(NONCE);
  const cipher = createCipheriv('aes-256-gcm', keyOf(), nonce).setAAD(Buffer.from(bound));
  const text = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), text]);
}

/** @throws NoSecretKey, and where it was encrypted with another key, for somebody else, or changed */
export function decrypt(bytes: Buffer, bound: string): string {
  const decipher = createDecipheriv('aes-256-gcm', keyOf(), bytes.subarray(0, NONCE)).setAAD(Buffer.from(bound));
  decipher.setAuthTag(bytes.subarray(NONCE, NONCE + TAG));
  return Buffer.concat([decipher.update(bytes.subarray(NONCE + TAG)), decipher.final()]).toString('utf8');
}
