import { createHash, timingSafeEqual } from 'node:crypto';
import type { IncomingHttpHeaders } from 'node:http';

/**
 * Is a request from somebody who knows the token; where there is none, from this machine? What a proxy passes on comes from this machine,
 * too: it says for whom.
 */
export function isBearer(
  { headers, socket }: { readonly headers: IncomingHttpHeaders; readonly socket: { readonly remoteAddress?: string | undefined } },
  token: string | undefined,
): boolean {
  if (token !== undefined) {
    const [met, expected] = [headers.authorization ?? '', `Bearer ${token}`].map((text) => createHash('sha256').update(text).digest());
    return timingSafeEqual(met as Buffer, expected as Buffer);
  }
  const isPassedOn = headers['x-forwarded-for'] !== undefined || headers['forwarded'] !== undefined;
  return !isPassedOn && /^(127\.|::1$|::ffff:127\.)/.test(socket.remoteAddress ?? '');
}
