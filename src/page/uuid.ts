/** A UUIDv7 (RFC 9562): 48 bits of Unix ms, then random bits. */
export function uuid7(now: number): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  for (let index = 0, rest = now; index < 6; index++, rest = Math.floor(rest / 256)) bytes[5 - index] = rest % 256;
  bytes[6] = ((bytes[6] as number) & 0x0f) | 0x70;
  bytes[8] = ((bytes[8] as number) & 0x3f) | 0x80;
  const hex = Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('');
  return hex.replace(/(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-');
}
