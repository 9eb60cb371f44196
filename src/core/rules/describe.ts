import { momentWords } from '../moments/moment';
import { pacingWords } from '../pacing/words';
import type { PagePattern } from '../pages/pattern';
import { patternWords } from '../pages/pattern';
import { conditionWords } from '../people/condition';
import type { Expr, Path } from '../logic/expr';
import { asGroup } from '../logic/expr';
import type { Rule, SegmentDocument } from './schema';
import type { WordsFor } from '../pages/names';
import { idsAsNames } from '../pages/names';

export type Family = 'people' | 'pages' | 'moment' | 'pacing';

/** A piece of a sentence. Pieces of a family carry the path of their node in the rule; the others are glue. */
export interface Phrase {
  readonly text: string;
  readonly family?: Family;
  readonly path?: Path;
}

/** The rule as one plain English sentence, in pieces. Two rules that mean different things do not read the same. */
export function describeRule(rule: Rule, names: WordsFor = idsAsNames): Phrase[] {
  return [
    { text: 'Show it to ' },
    ...peoplePhrases(rule, names),
    { text: ', on ' },
    ...pagesPhrases(rule.pages?.on ?? [], { names, field: 'on', none: 'any page' }),
    ...(rule.pages?.except?.length ? [{ text: ' except ' }, ...pagesPhrases(rule.pages.except, { names, field: 'except', none: '' })] : []),
    { text: rule.moment === undefined ? ', ' : ', when they ' },
    ...(rule.moment === undefined
      ? [{ text: 'as soon as the page opens', family: 'moment' as const, path: ['moment'] }]
      : exprPhrases(rule.moment, { family: 'moment', path: ['moment'], words: momentWords })),
    { text: ', ' },
    ...separated(
      pacingWords(rule.pacing ?? {}).map((text) => [{ text, family: 'pacing' as const, path: ['pacing'] }]),
      ', ',
    ),
    { text: '.' },
  ];
}

/** Where a segment's lookback stands. */
export const LOOKBACK: Path = ['lookback'];

export function describeSegment(segment: SegmentDocument, names: WordsFor = idsAsNames): Phrase[] {
  return [
    { text: 'People who ' },
    ...exprPhrases(segment.people, { family: 'people', path: ['people'], words: (condition) => conditionWords(condition, names) }),
    { text: ', ' },
    { text: `looking back ${segment.lookback} ${segment.lookback === 1 ? 'day' : 'days'}`, family: 'people', path: LOOKBACK },
    { text: '.' },
  ];
}

export const sentenceOf = (phrases: readonly Phrase[]): string => phrases.map(({ text }) => text).join('');

/** A short name from the first conditions, at most 60 characters: "Viewed /huts/**, never did “booking”". */
export function proposedName(segment: SegmentDocument, names: WordsFor = idsAsNames): string {
  const phrases = describeSegment(segment, names).slice(1, -3);
  const text = sentenceOf(phrases).replaceAll(' and ', ', ').replaceAll(' in the last ', ', last ');
  const short = text.length > 60 ? `${text.slice(0, 59).trimEnd()}…` : text;
  return short.charAt(0).toUpperCase() + short.slice(1);
}

function peoplePhrases(rule: Rule, names: WordsFor): Phrase[] {
  if (rule.people === undefined) return [{ text: 'everyone', family: 'people', path: ['people'] }];
  return [
    { text: 'people who ' },
    ...exprPhrases(rule.people, { family: 'people', path: ['people'], words: (condition) => conditionWords(condition, names) }),
  ];
}

function pagesPhrases(
  patterns: readonly PagePattern[],
  { names, field, none }: { names: WordsFor; field: 'on' | 'except'; none: string },
): Phrase[] {
  if (patterns.length === 0) return [{ text: none, family: 'pages', path: ['pages', field] }];
  return separated(
    patterns.map((pattern, index) => [{ text: patternWords(pattern, names.set), family: 'pages' as const, path: ['pages', field, index] }]),
    ' or ',
  );
}

interface Print<T> {
  readonly family: Family;
  readonly path: Path;
  readonly words: (leaf: T) => string;
}

function exprPhrases<T extends object>(expr: Expr<T>, print: Print<T>, isInside = false): Phrase[] {
  const { family, path, words } = print;
  const group = asGroup(expr);
  if (!group) return [{ text: words(expr as T), family, path }];
  if (group.parts.length === 0) return [{ text: group.join === 'any' ? 'can never match' : 'match anyhow', family, path }];
  const parts = group.parts.map((part, index) =>
    exprPhrases(part, { ...print, path: [...path, group.join, index] }, group.parts.length > 1 || isInside),
  );
  if (group.join === 'none') return negated(family, parts);
  const joined = separated(parts, group.join === 'all' ? ' and ' : ' or ');
  return group.parts.length > 1 && (isInside || group.join === 'any') ? [{ text: '(' }, ...joined, { text: ')' }] : joined;
}

/** An expression as one text: "use phone", "are not among those who use phone". */
export const exprWords = <T extends object>(expr: Expr<T>, family: Family, words: (leaf: T) => string): string =>
  sentenceOf(exprPhrases(expr, { family, path: [], words }));

function negated(family: Family, parts: readonly Phrase[][]): Phrase[] {
  const opening = family === 'people' ? 'are not among those who ' : 'do not ';
  const joined = separated(parts, ' or ');
  return parts.length === 1 ? [{ text: opening }, ...joined] : [{ text: `${opening}(` }, ...joined, { text: ')' }];
}

function separated(parts: readonly Phrase[][], separator: string): Phrase[] {
  return parts.flatMap((part, index) => (index === 0 ? part : [{ text: separator }, ...part]));
}
