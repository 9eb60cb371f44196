import type { PlainPattern } from '../pages/pattern';

export interface Named {
  readonly id: string;
  readonly name: string;
}
export interface Counted {
  readonly value: string;
  readonly times: number;
}

/** What the site has recorded in thirty days, most frequent first, and what it has names for. */
export interface Vocabulary {
  readonly pages: readonly { readonly path: string; readonly views: number }[];
  readonly segments: readonly Named[];
  readonly sets: readonly (Named & { readonly patterns?: readonly PlainPattern[] })[];
  readonly places: readonly Named[];
  readonly campaigns: readonly Named[];
  readonly events: readonly Counted[];
  readonly traits: readonly Counted[];
  readonly tags: readonly Counted[];
  readonly countries: readonly Counted[];
  readonly cities: readonly Counted[];
  readonly sources: readonly Counted[];
  readonly utmCampaigns: readonly Counted[];
  readonly languages: readonly Counted[];
  /** Selectors that rules of this site name, or that clicks were recorded on. */
  readonly selectors?: readonly Counted[];
}

export const NO_VOCABULARY: Vocabulary = {
  pages: [],
  segments: [],
  sets: [],
  places: [],
  campaigns: [],
  events: [],
  traits: [],
  tags: [],
  countries: [],
  cities: [],
  sources: [],
  utmCampaigns: [],
  languages: [],
};
