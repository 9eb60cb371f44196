/** A UUIDv7 (RFC 9562): 48 bits of Unix ms, then random bits. */
export function uuid7(now: number): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  for (let index = 0, rest = now; index < 6; index++, rest = Math.floor(rest / 256)) bytes[5 - index] = rest % 256;
  bytes[6] = ((bytes[6] as number) & 0x0f) | 0x70;
  bytes[8] = ((bytes[8] as number) & 0x3f) | 0x80;
  // By a plain loop: pages replace built-ins, and some replacements of Array.from leave its second argument out.
  let text = '';
  for (let index = 0; index < 16; index++)
    text += (index > 3 && index < 11 && !(index & 1) ? '-' : '') + ((bytes[index] as number) + 256).toString(16).slice(1);
  return text;
}

export const isUuid = (id: unknown): boolean => /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(String(id));
