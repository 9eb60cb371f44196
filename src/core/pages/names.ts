import type { PagePattern } from './pattern';
import { patternWords } from './pattern';

/** How a description calls the things a rule refers to by id. */
export interface WordsFor {
  readonly segment: (id: string) => string;
  readonly set: (id: string) => string;
  readonly campaign: (id: string) => string;
  readonly place: (id: string) => string;
}

export const idsAsNames: WordsFor = { segment: String, set: String, campaign: String, place: String };

export function pageList(patterns: readonly PagePattern[], names: WordsFor): string {
  return patterns.map((pattern) => patternWords(pattern, names.set)).join(' or ');
}
