import { createHmac, timingSafeEqual } from 'node:crypto';
import { signedText } from '@/core/wire/signature';

/** How a site's persons are believed. */
export interface Signing {
  readonly secret: string | null;
  /** Only those that the site has signed. */
  readonly isRequired: boolean;
}

type Said = { readonly customerId?: string | undefined; readonly email?: string | undefined; readonly signature?: string | undefined };

/** What is wrong with who a page says its visitor is; undefined if it is to be believed. What says neither id nor email needs no signature. */
export function objectionToPerson({ customerId, email, signature }: Said, { secret, isRequired }: Signing): string | undefined {
  if (signature === undefined) {
    if (isRequired && (customerId !== undefined || email !== undefined)) return 'signature: met none, expected one of the site’s server';
    return undefined;
  }
  if (secret === null) return 'signature: met one, but the site has no secret to compare it by';
  const expected = createHmac('sha256', secret)
    .update(signedText({ id: customerId, email }))
    .digest();
  const met = Buffer.from(signature, 'hex');
  if (met.length === expected.length && timingSafeEqual(met, expected)) return undefined;
  return 'signature: it is not of this id and email under the site’s secret';
}
