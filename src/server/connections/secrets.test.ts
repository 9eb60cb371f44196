import { randomBytes } from 'node:crypto';
import { decrypt, encrypt, NoSecretKey } from './secrets';

const before = { ...process.env };
beforeEach(() => (process.env['CRINDLE_SECRET_KEY'] = randomBytes(32).toString('base64')));
afterAll(() => (process.env = before));

test('a secret comes back as it was, is another text each time, and is nobody else’s', () => {
  const one = encrypt('Schlüssel', 'site 1 conn_a');
  expect(decrypt(one, 'site 1 conn_a')).toBe('Schlüssel');
  expect(encrypt('Schlüssel', 'site 1 conn_a').equals(one)).toBe(false);
  expect(one.includes('Schl')).toBe(false);
  expect(() => decrypt(one, 'site 2 conn_a')).toThrow();
});

test('with another key, changed, or without a key nothing is read', () => {
  const one = encrypt('secret', 'x');
  const changed = Buffer.from(one);
  changed[changed.length - 1] = (changed[changed.length - 1] as number) ^ 1;
  expect(() => decrypt(changed, 'x')).toThrow();
  process.env['CRINDLE_SECRET_KEY'] = randomBytes(32).toString('base64');
  expect(() => decrypt(one, 'x')).toThrow();
  for (const key of ['', 'short', undefined]) {
    if (key === undefined) delete process.env['CRINDLE_SECRET_KEY'];
    else process.env['CRINDLE_SECRET_KEY'] = key;
    expect(() => encrypt('secret', 'x')).toThrow(NoSecretKey);
  }
});
