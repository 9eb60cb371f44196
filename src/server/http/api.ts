import type { Right } from '../auth/rights';
import { may, refusedWords } from '../auth/rights';
import type { Member } from '../db/members';
import { Refused } from './refused';

/** Calling an address in a private network, or on this machine, is an owner's to allow. `before`: that address was allowed already. @throws Refused */
export function ownerAllows({ role }: Pick<Member, 'role'>, settings: object, before: object = {}): void {
  const [now, then] = [settings, before] as readonly { readonly url?: string; readonly allowPrivate?: boolean }[];
  const wasAllowed = then?.allowPrivate === true && then.url === now?.url;
  if (!may(role, 'own') && now?.allowPrivate === true && !wasAllowed)
    throw new Refused(403, 'role', `As ${role} you cannot allow an address in your own network, or on this machine; ask an owner`);
}

/** For what depends on more than the request. @throws Refused */
export function demand({ role }: Pick<Member, 'role'>, right: Right): void {
  if (!may(role, right)) throw new Refused(403, 'role', refusedWords(role, right));
}

/** The request's body as it came, read no further than it may be long. */
export async function bytesOf(request: Request, most: number): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  let length = 0;
  for await (const part of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    length += part.length;
    if (length > most) throw new Refused(413, 'body.tooLarge', `The request is larger than ${most / 1024 / 1024} MB`);
    parts.push(part);
  }
  return Buffer.concat(parts);
}
