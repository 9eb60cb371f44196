/** What a visitor gets of a campaign: nothing (holdout), or the flow from the first message of a variant. */
export interface Split {
  /** Share of the triggered visitors who get nothing, 0 to 0.9. */
  readonly holdout?: number | undefined;
  /** Versions of the first message, by weight. Without any, everyone gets the flow's own start. */
  readonly variants?: readonly { readonly name: string; readonly weight: number; readonly start: string }[] | undefined;
}

export type Assignment =
  | { readonly kind: 'holdout'; readonly start?: undefined; readonly variant?: undefined }
  | { readonly kind: 'shown'; readonly start?: string | undefined; readonly variant?: string | undefined };

/** By chance, but always the same for a browser and a campaign. */
export function assign({ holdout = 0, variants = [] }: Split, browser: string, campaign: string): Assignment {
  if (chance(`${browser} ${campaign} holdout`) < holdout) return { kind: 'holdout' };
  const total = variants.reduce((sum, { weight }) => sum + weight, 0);
  let point = chance(`${browser} ${campaign} variant`) * total;
  for (const { name, weight, start } of variants) if ((point -= weight) < 0) return { kind: 'shown', start, variant: name };
  return { kind: 'shown' };
}

/** A number from 0 up to 1 that a text decides: FNV-1a (Fowler, Noll, Vo), mixed once more as in MurmurHash3's finalizer. */
export function chance(text: string): number {
  let hash = 0x811c9dc5;
  for (let index = 0; index < text.length; index++) hash = Math.imul(hash ^ text.charCodeAt(index), 0x01000193);
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return ((hash ^ (hash >>> 16)) >>> 0) / 2 ** 32;
}
