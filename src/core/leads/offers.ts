import type { LeadTerm } from './filter';
import { leadTermWords } from './filter';

/** What leads can be filtered by: what the site and its leads have names for. */
export interface LeadVocabulary {
  readonly campaigns: readonly { readonly id: string; readonly name: string }[];
  /** The most viewed first. */
  readonly pages: readonly { readonly path: string }[];
  readonly tags: readonly string[];
  /** Names of answers. */
  readonly answers: readonly string[];
}

export interface LeadOffer {
  readonly term: LeadTerm;
  readonly words: string;
  readonly note: string;
}

const MOST = 9;
const NOTES: Readonly<Record<LeadTerm['kind'], string>> = {
  campaign: 'campaign',
  page: 'page',
  answer: 'answer',
  tag: 'tag',
  consent: 'consent',
  text: 'anywhere in it',
};

/** Terms that fit what is typed; without anything typed a few of each kind. */
export function leadOffers(typed: string, { campaigns, pages, tags, answers }: LeadVocabulary): LeadOffer[] {
  const text = typed.trim();
  const nameOf = (id: string): string => campaigns.find((one) => one.id === id)?.name ?? id;
  const offer = (term: LeadTerm): LeadOffer => ({ term, words: leadTermWords(term, nameOf), note: NOTES[term.kind] });
  const known: LeadTerm[] = [
    ...campaigns.map(({ id }): LeadTerm => ({ kind: 'campaign', value: id })),
    ...tags.map((value): LeadTerm => ({ kind: 'tag', value })),
    ...(['yes', 'no'] as const).map((value): LeadTerm => ({ kind: 'consent', value })),
    ...pages.map(({ path }): LeadTerm => ({ kind: 'page', value: path })),
  ];
  if (text === '')
    return (['campaign', 'tag', 'consent', 'page'] as const).flatMap((kind) =>
      known
        .filter((term) => term.kind === kind)
        .slice(0, 2)
        .map(offer),
    );
  const [name = '', said] = text.split(/[:=]\s*(.*)/s);
  const answer = answers.find((one) => one.toLowerCase() === name.trim().toLowerCase());
  const typedTerms: LeadTerm[] = [
    ...(text.startsWith('/') ? [{ kind: 'page', value: text } as const] : []),
    ...(answer !== undefined && said ? [{ kind: 'answer', value: `${answer}=${said}` } as const] : []),
  ];
  const found = known.filter((term) => leadTermWords(term, nameOf).toLowerCase().includes(text.toLowerCase()));
  return [...typedTerms, ...found.slice(0, MOST - 2 - typedTerms.length), { kind: 'text', value: text } as const].map(offer);
}
