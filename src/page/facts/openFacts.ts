import type { OpenFacts } from '@/core/facts/facts';
import { quickZone } from './zone';

/** What the page says of its browser as it opens: a reader a fact. Where there is no quick way to the zone, it comes later. */
export const readOpenFacts = () =>
  ({
    language: navigator.language,
    zone: quickZone(),
  }) satisfies { readonly [K in keyof OpenFacts]-?: OpenFacts[K] };
